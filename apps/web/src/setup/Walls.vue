<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.setUp.walls())
const { data: people } = useLoad(() => api.firm.people())
const raising = ref(false)
const form = reactive({ userId: 0, reason: '', matters: [] as Choice[] })
const taken = ref<Choice | null>(null)
watch(taken, (m) => {
  if (!m) return
  if (!form.matters.some((x) => x.id === m.id)) form.matters.push(m)
  taken.value = null
})
const others = computed(() => (people.value ?? []).filter((p) => p.active && p.id !== session.me?.id))
function begin() {
  Object.assign(form, { userId: 0, reason: '', matters: [] })
  raising.value = true
}
const { state, fault, send } = useForm(() =>
  api.setUp.raiseWalls({ userId: form.userId, matterIds: form.matters.map((m) => m.id), reason: form.reason }),
)

async function raise() {
  const done = await send()
  if (!done) return
  raising.value = false
  notes.say(`${plural(done.raised, 'wall')} raised; whoever keeps the matters is told`)
  session.changed()
  await reload()
}
const columns: Column<Answer<typeof api.setUp.walls>['rows'][number]>[] = [
  { key: 'name', text: 'Who', sort: true, narrow: 'title' },
  { key: 'matter', text: 'Shut out of', grow: 1.6, sort: true },
  { key: 'reason', text: 'Why', wrap: true, value: (w) => w.reason || '–' },
  { key: 'since', text: 'Since', kind: 'day', sort: true },
  { key: 'lead', text: 'Ask', size: 120, quiet: true, sort: true },
]
</script>

<template>
  <SetUpPage hint="Who is shut out of which matter, and why. Whoever keeps a matter takes its wall down.">
    <template #acts><Btn main @click="begin">Raise a wall</Btn></template>
    <section class="sheet" aria-label="Walls">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length && !data?.hidden" @again="reload()">
        <template #empty
          >No wall stands. Raise one when someone joins who worked for the other side, or must not know of a matter.</template
        >
        <DataTable label="Walls" name="walls" :rows="data?.rows ?? []" :columns="columns" :row-id="(w) => `${w.matterId} ${w.userId}`">
          <template #cell-name="{ row: w }">{{ w.name }}<span v-if="!w.active" class="text-ink-2">, has left</span></template>
          <template #cell-matter="{ row: w }"
            ><RouterLink :to="`/matters/${w.matterId}`" class="hover:underline">{{ w.matter }}</RouterLink>
            <span class="ml-1.5 text-ink-2">{{ w.number }}</span></template
          >
        </DataTable>
        <p v-if="data?.hidden" class="border-t border-line-2 px-3.5 py-2 text-sm text-ink-2">
          {{ plural(data.hidden, 'more wall') }} on matters that are not open to you.
        </p>
      </State>
    </section>
    <SideSheet
      v-if="raising"
      title="Raise a wall"
      save="Raise"
      :busy="state.busy"
      :message="state.said"
      :changed="form.userId > 0 || form.matters.length > 0 || form.reason !== ''"
      @save="raise"
      @close="raising = false"
    >
      <p class="text-ink-2">
        There will be no sign of these matters for that person: not in lists, searches, calendars, reports, logs or counts. What lay with
        them goes to the lead.
      </p>
      <ChoiceField
        v-model="form.userId"
        label="Who"
        autofocus
        :fault="fault('userId')"
        :options="[{ value: 0, text: 'Choose a person' }, ...others.map((p) => ({ value: p.id, text: p.name }))]"
      />
      <Picker v-model="taken" label="Matter" :search="searchMatters" :fault="fault('matterIds')" hint="Several, one after the other." />
      <ul v-if="form.matters.length" aria-label="Chosen matters">
        <li v-for="m in form.matters" :key="m.id" class="flex items-center gap-2 border-t border-line-2 py-1">
          {{ m.text }} <span class="text-ink-2">{{ m.hint }}</span>
          <Btn small class="ml-auto" :aria-label="`Take ${m.text} out`" @click="form.matters = form.matters.filter((x) => x.id !== m.id)"
            >Take out</Btn
          >
        </li>
      </ul>
      <TextField v-model="form.reason" label="Why" :fault="fault('reason')" hint="Such as: worked for the other side until 2025." />
    </SideSheet>
  </SetUpPage>
</template>
