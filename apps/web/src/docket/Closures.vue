<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'
import Differences from './Differences.vue'

/** Days on which a court is closed beyond its rules, entered with what they move before they do. */
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data, reload } = useLoad(() => api.docket.closures())
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const may = session.may('docket.rules')
const form = reactive({ day: null as Day | null, name: '', ruleSetKey: '', filingOnly: false })
const courts = computed(() => setting.value?.ruleSets ?? [])
/** The rule under which a storm or an outage puts off filing alone, where the chosen court has one. */
const unreachable = computed(() => courts.value.find((r) => r.unreachable && (!form.ruleSetKey || r.key === form.ruleSetKey)) ?? null)
// What was foreseen by nobody is no holiday: where the court’s rule knows the difference, filing alone is put off unless a person says
// that the court was closed. Fewer dates move so, and none too far.
let byHand = false
watch(unreachable, (rule) => {
  if (!byHand || !rule) form.filingOnly = rule !== null
})
const found = ref<Answer<typeof api.docket.previewClosure> | null>(null)
watch(form, () => (found.value = null), { deep: true })
const input = () => ({ day: form.day ?? '', name: form.name, ruleSetKey: form.ruleSetKey || null, filingOnly: form.filingOnly })

const { state, act, fault, send } = useForm(() => api.docket.previewClosure(input()))
async function save() {
  if (!found.value) {
    const asked = JSON.stringify(input())
    const got = await send()
    // What was entered meanwhile has not been seen.
    if (asked === JSON.stringify(input())) found.value = got
    return
  }
  const moves = found.value.moves
  const done = await act(() => api.docket.addClosure({ ...input(), moves }))
  if (!done) return
  notes.say(`${form.name} entered; ${plural(done.moved, 'date')} moved`)
  byHand = false
  Object.assign(form, { day: null, name: '', filingOnly: unreachable.value !== null })
  session.changed()
  await reload()
}
async function remove(id: number, name: string) {
  if (
    !(await sure(
      'Take the closed day back',
      `${name} is a day of court again. Dates that it moved stay until their matter is counted again.`,
      'Take it back',
    ))
  )
    return
  if (!(await act(() => api.docket.removeClosure({ id })))) return
  notes.say(`${name} is taken back; dates that it moved stay until their matter is counted again, on its Docket`)
  await reload()
}
const court = (key: string | null) => (key ? setting.value?.ruleSets.find((r) => r.key === key)?.title : 'every court')
</script>

<template>
  <SideSheet
    title="Days on which courts are closed"
    wide
    :save="may ? (found ? `Enter it and move ${plural(found.moves, 'date')}` : 'Show what it moves') : undefined"
    :busy="state.busy"
    :message="state.said"
    :changed="form.name !== ''"
    :waiting="!setting"
    @save="save"
    @close="emit('close')"
  >
    <p class="text-ink-2">Holidays stand in each court’s rules. Enter here what nobody foresaw: a storm, a day of mourning, an outage.</p>
    <template v-if="may">
      <div class="grid stacks grid-cols-2 gap-3">
        <DayField v-model="form.day" label="Closed on" :fault="fault('day')" autofocus />
        <TextField v-model="form.name" label="Why" :fault="fault('name')" />
        <ChoiceField
          v-model="form.ruleSetKey"
          label="Court"
          :fault="fault('ruleSetKey')"
          :options="[{ value: '', text: 'Every court' }, ...courts.map((r) => ({ value: r.key, text: r.title }))]"
        />
        <ChoiceField
          v-model="form.filingOnly"
          label="What it puts off"
          :options="[
            { value: true, text: 'Only filing: the clerk’s office cannot be reached' },
            { value: false, text: 'Everything: the court is closed as on a holiday' },
          ]"
          @update:model-value="byHand = true"
        />
      </div>
      <p v-if="form.filingOnly" class="text-ink-2">
        Last days for what must be filed go on to the first day on which the office can be reached again; days to serve, to answer by letter
        or to appear stay<template v-if="unreachable"> ({{ unreachable.title }}: {{ unreachable.unreachable }})</template>.
      </p>
      <p v-else class="text-ink-2">
        The day counts as a holiday does: every last day that falls on it goes on.
        <template v-if="unreachable"
          >In {{ unreachable.title }} that is so only of a holiday by law or by order; a storm or an outage puts off filing alone ({{
            unreachable.unreachable
          }}).</template
        >
      </p>
    </template>
    <section v-if="found" aria-label="What it moves">
      <h3>{{ found.moves ? `${plural(found.moves, 'docketed date')} would move` : 'No docketed date would move' }}</h3>
      <div v-for="m in found.matters" :key="m.matterId" class="-mx-5 mt-2">
        <p class="px-5 pb-1 font-semibold">{{ m.number }} {{ m.name }}</p>
        <Differences :model-value="m.differences.map((d) => d.entryId)" :list="m.differences" shown-only />
      </div>
    </section>
    <section v-if="data?.length" aria-label="Entered">
      <h3 class="mb-1">Entered</h3>
      <div v-for="c in data" :key="c.id" class="flex items-center gap-2 border-t border-line-2 py-1.5">
        <b class="w-[118px] whitespace-nowrap">{{ dayText(c.day) }}</b>
        <span class="min-w-0 flex-1"
          >{{ c.name }}
          <span class="text-ink-2">{{ court(c.ruleSetKey) }}<template v-if="c.filingOnly">, filing only</template> · {{ c.by }}</span></span
        >
        <Btn v-if="may" small :aria-label="`Take back ${c.name}`" @click="remove(c.id, c.name)">Take back</Btn>
      </div>
    </section>
    <p v-else class="text-ink-2">None entered.</p>
  </SideSheet>
</template>
