<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { reactive, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { momentText, dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import MoreDates from './MoreDates.vue'
import type { useChange } from './useChange'

/** What happened in a matter, or is expected to: the events from which its dates are counted. */
const props = defineProps<{ matterId: number; change: ReturnType<typeof useChange>; mayChange: boolean; ruleSetKey: string | null }>()
const notes = useNotes()
const { data, loading } = useShown(() => asks.docket.triggers.queryOptions({ input: { id: props.matterId } }))
type Trigger = Answer<typeof api.docket.triggers>['triggers'][number]
const c = props.change
const editing = ref<Trigger | null>(null)
const more = ref<Trigger | null>(null)
const form = reactive({ day: null as Day | null, tentative: false, service: null as string | null, label: '' })

function edit(t: Trigger) {
  c.state.fields = []
  c.state.message = ''
  editing.value = t
  Object.assign(form, { day: t.day, tentative: t.tentative, service: t.service, label: t.label === t.title ? '' : t.label })
}
async function showChange() {
  const t = editing.value
  if (!t) return
  const found = await c.preview({
    kind: 'change',
    triggerId: t.id,
    day: form.day!,
    tentative: form.tentative,
    service: form.service,
    label: form.label,
  })
  if (found !== null) editing.value = null
}
const remove = (t: Trigger) => c.preview({ kind: 'remove', triggerId: t.id })
/** After rules or closed days have changed: every date of the matter, by what holds now. */
async function countAgain() {
  if ((await c.preview({ kind: 'recount' })) !== false) return
  c.leave()
  notes.say('Every date stands where the rules count it')
}
/** What would follow is shown first, and may be left: the box shows what holds. */
const hold = (event: Event, key: string) => {
  const box = event.target as HTMLInputElement
  const on = box.checked
  box.checked = !on
  const facts = (data.value?.facts ?? []).filter((f) => (f.key === key ? on : f.holds)).map((f) => f.key)
  return c.preview({ kind: 'facts', facts })
}
</script>

<template>
  <section v-if="data?.triggers.length" aria-label="What happened">
    <div class="flex items-center bg-page px-4 py-1.5">
      <h3>What happened</h3>
      <Btn v-if="mayChange" small class="ml-auto" :busy="c.state.busy" @click="countAgain">Count again</Btn>
    </div>
    <div v-for="t in data.triggers" :key="t.id" class="flex items-center gap-2.5 border-t border-line-2 px-4 py-[5px]">
      <b class="w-[118px] flex-none whitespace-nowrap">{{ dayText(t.day) }}</b>
      <span class="min-w-0 flex-1">
        <b class="font-semibold">{{ t.label }}</b>
        <span v-if="t.label !== t.title" class="text-ink-2">&#32;{{ t.title.toLowerCase() }}</span>
        <span v-if="t.party && t.party !== t.label" class="text-ink-2">, {{ t.party }}</span>
        <span v-if="t.tentative" class="tag ml-1 bg-bill-wash text-bill-ink">tentative</span>
        <span v-if="t.elsewhere" class="tag ml-1 bg-mist text-ink-2">other rules</span>
        <span class="text-ink-2"
          ><template v-if="t.service"> · {{ data.services.find((s) => s.key === t.service)?.title.toLowerCase() }}</template
          ><template v-if="t.answers"> · answers {{ t.answers }}</template
          ><template v-if="t.paper">
            · from
            <a :href="`/api/papers/${t.paper.id}/file`" target="_blank" rel="noopener" class="underline">{{ t.paper.name }}</a></template
          >
          · {{ plural(t.dates, 'date') }}</span
        >
      </span>
      <span v-if="mayChange && !t.elsewhere" class="flex gap-1.5">
        <Btn v-if="t.missing.length" small :aria-label="`Docket more dates of ${t.label}`" @click="more = t">{{
          plural(t.missing.length, 'more date')
        }}</Btn>
        <Btn v-if="t.tentative" small :aria-label="`Set by the court: ${t.label}`" @click="(edit(t), (form.tentative = false))"
          >Court sets it</Btn
        >
        <Btn small :aria-label="`Change ${t.label} of ${dayText(t.day)}`" @click="edit(t)">Change</Btn>
        <Btn small :aria-label="`Take away ${t.label} of ${dayText(t.day)}`" @click="remove(t)">Take away</Btn>
      </span>
    </div>
    <p v-if="data.facts.length" class="flex flex-wrap gap-4 border-t border-line-2 px-4 py-[7px]">
      <span class="text-ink-2">Facts of the matter</span>
      <label v-for="f in data.facts" :key="f.key" class="flex items-center gap-2"
        ><input type="checkbox" :checked="f.holds" :disabled="!mayChange" @change="hold($event, f.key)" /> {{ f.question }}</label
      >
    </p>
    <p v-if="data.last && mayChange" class="flex items-center gap-2 border-t border-line-2 px-4 py-[5px] text-ink-2">
      <span class="min-w-0 flex-1 truncate">Last change: {{ data.last.text }}, {{ data.last.by }}, {{ momentText(data.last.at) }}</span>
      <!-- While the list is read anew, its latest change may be another. -->
      <Btn small :busy="c.state.busy" :disabled="loading" @click="c.undo(data.last.id)">Undo</Btn>
    </p>
    <SideSheet
      v-if="editing"
      :title="editing.title"
      save="Show what follows"
      :busy="c.state.busy"
      :message="c.state.said"
      @save="showChange"
      @close="editing = null"
    >
      <DayField v-model="form.day" label="On" :rule-set-key="ruleSetKey" :from="editing.day" :fault="c.fault('day')" autofocus />
      <label class="flex items-center gap-2"><input v-model="form.tentative" type="checkbox" /> The date is tentative</label>
      <ChoiceField
        v-if="editing.asksService"
        v-model="form.service"
        label="Served by"
        :fault="c.fault('service')"
        :options="data.services.map((s) => ({ value: s.key as string | null, text: `${s.title}, ${s.adds}` }))"
      />
      <TextField v-model="form.label" label="Label" optional hint="In the titles of its dates" :fault="c.fault('label')" />
      <p class="text-ink-2">Nothing changes yet: the dates that would follow are shown first.</p>
    </SideSheet>
    <MoreDates v-if="more" :matter-id="matterId" :trigger="more" @close="more = null" />
  </section>
</template>
