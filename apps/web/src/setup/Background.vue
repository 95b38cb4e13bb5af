<script setup lang="ts">
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { momentText, plural } from '../ui/show'
import { useAct } from '../use'
import SetUpPage from './SetUpPage.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const notes = useNotes()
const { state, act } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.setUp.background.queryOptions())
async function settle(id: number, what: 'try again' | 'give up') {
  if (!(await act(() => api.setUp.settleJob({ id, what })))) return
  notes.say(what === 'try again' ? 'It is tried again now' : 'Given up')
  await reload()
}
const title = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
type Row = Answer<typeof api.setUp.background>[number]
const stateOf = (j: Row) =>
  j.state === 'failed' ? `failed after ${plural(j.attempts, 'try', 'tries')}` : `waits; tried next ${momentText(j.runAfter ?? j.createdAt)}`
const columns: Column<Row>[] = [
  { key: 'createdAt', text: 'Since', kind: 'when', quiet: true },
  { key: 'what', text: 'What', grow: 1.4, wrap: true, narrow: 'title' },
  { key: 'who', text: 'For', size: 130 },
  { key: 'state', text: 'State', grow: 1.6, wrap: true, value: stateOf },
]
const acts = (j: Row): Act[] => [
  { text: 'Try again', act: () => settle(j.id, 'try again'), disabled: state.busy },
  ...(j.state === 'failed' ? [{ text: 'Give up', act: () => settle(j.id, 'give up') }] : []),
]
</script>

<template>
  <SetUpPage hint="Letters and other work that failed, or that waits after a try. What goes well is not shown.">
    <template #acts><Btn @click="reload()">Look again</Btn></template>
    <p v-if="state.message" role="alert" class="mb-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="In the background">
      <DataTable
        label="In the background"
        name="background"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(j) => j.id"
        :loading="loading"
        :problem="problem"
        :acts="acts"
        @again="reload()"
      >
        <template #empty>Nothing has failed and nothing waits.</template>
        <template #cell-what="{ row: j }"
          >{{ title(j.what) }}<template v-if="j.to"> to {{ j.to }}</template>
          <span v-if="j.subject" class="block text-sm text-ink-2">{{ j.subject }}</span></template
        >
        <template #cell-state="{ row: j }"
          ><span :class="{ 'text-rust': j.state === 'failed' }">{{ stateOf(j) }}</span>
          <span class="block text-sm text-ink-2">{{ j.error }}</span></template
        >
      </DataTable>
    </section>
    <p class="mt-3 max-w-[760px] text-ink-2">
      A letter is tried again for three days, ever more rarely, and waits where no mail server is set. Whoever sets the firm up is told on
      Today when something fails or has waited for four hours.
    </p>
  </SetUpPage>
</template>
