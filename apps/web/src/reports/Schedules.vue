<script setup lang="ts">
import { weekdayNames } from '@heron/core/calendar'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import PageHead from '../ui/PageHead.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'
import { useAct } from '../use'
import ReportTabs from './ReportTabs.vue'
import ScheduleSheet from './ScheduleSheet.vue'
import { whatNames } from './reports'

type Row = Answer<typeof api.oversight.schedules>[number]
const session = useSession()
const notes = useNotes()
const router = useRouter()
const { act } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.oversight.schedules.queryOptions())
const changing = ref<Row | null>(null)
const columns: Column<Row>[] = [
  { key: 'name', text: 'Name', grow: 1.4, fixed: true, narrow: 'title' },
  { key: 'what', text: 'Report', grow: 1, value: (r) => whatNames(r.what) },
  {
    key: 'when',
    text: 'Goes out',
    size: 190,
    value: (r) => (r.every === 'week' ? `every ${weekdayNames[r.onDay - 1]}` : `on day ${r.onDay} of the month`),
  },
  { key: 'format', text: 'With', size: 70, value: (r) => r.format.toUpperCase() },
  { key: 'names', text: 'To', grow: 1.4, wrap: true, value: (r) => r.names.join(', ') },
  { key: 'madeBy', text: 'Set up by', size: 150, quiet: true },
]
async function sendNow(r: Row) {
  if (!(await act(() => api.oversight.sendSchedule({ id: r.id })))) return
  notes.say(`“${r.name}” is on its way to ${r.names.join(', ')}`)
}
async function end(r: Row) {
  if (!(await sure('End the report', `“${r.name}” goes out no more.`, 'End it'))) return
  if (!(await act(() => api.oversight.removeSchedule({ id: r.id })))) return
  notes.say(`“${r.name}” goes out no more`)
  session.changed()
}
const acts = (r: Row): Act[] => [
  { text: 'Look at it', to: `/reports/${r.what}` },
  ...(r.mine
    ? [
        { text: 'Send it now', act: () => sendNow(r) },
        { text: 'Change …', act: () => (changing.value = r) },
        { text: 'End it', act: () => end(r) },
      ]
    : []),
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Reports sent by themselves" hint="Yours, and those that go to you" />
    <ReportTabs />
    <section class="sheet" aria-label="Reports sent by themselves">
      <DataTable
        label="Reports sent by themselves"
        name="oversight schedules"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(r) => r.id"
        :acts="acts"
        :open="(r) => (r.mine ? (changing = r) : router.push(`/reports/${r.what}`))"
        :loading="loading"
        :problem="problem"
        @again="reload()"
      >
        <template #empty>None yet. Open a report and choose “Send …”.</template>
      </DataTable>
    </section>
    <ScheduleSheet v-if="changing" :what="changing.what" :asked="changing.asked" :kept="changing" @close="changing = null" />
  </div>
</template>
