<script setup lang="ts">
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import { dayText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import { useAct, useLoad } from '../use'

/** What stood in the book before the first statement, and the bank had not seen by then. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const { state, act } = useAct()
const { data, problem, reload } = useLoad(() => api.bank.start({ id: props.id }))
type Row = Answer<typeof api.bank.start>['rows'][number]
const columns: Column<Row>[] = [
  { key: 'marked', text: 'In transit', size: 84, value: (e) => (e.marked ? 'yes' : '') },
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'text', text: 'For', grow: 1, narrow: 'title', value: (e) => [e.check && `check ${e.check}`, e.text].filter(Boolean).join(', ') },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
async function turn(e: Row) {
  if (!(await act(() => api.bank.wasOpen({ id: e.id, inTransit: !e.marked })))) return
  session.changed()
  await reload()
}
</script>

<template>
  <SideSheet title="In transit at the start" wide :message="problem || state.message" :waiting="!data" @close="emit('close')">
    <p v-if="data && !data.startedOn">The first statement says from which day on the account is reconciled.</p>
    <template v-else-if="data?.startedOn">
      <p>
        The account is reconciled from {{ dayText(data.startedOn) }} on. What stood in the book before counts as settled, but for what is
        marked here, and for checks that came in since by their numbers. Press a line to mark it.
      </p>
      <section class="sheet" aria-label="Before the start">
        <DataTable label="Before the start" name="bank-start" plain :rows="data.rows" :columns="columns" :row-id="(e) => e.id" :open="turn">
          <template #empty>Nothing stands in the year before.</template>
          <template #cell-marked="{ row: e }"
            ><input
              type="checkbox"
              class="accent-ink"
              :checked="e.marked"
              :aria-label="`In transit: ${e.text}`"
              @click.stop
              @change="turn(e)"
          /></template>
        </DataTable>
      </section>
    </template>
  </SideSheet>
</template>
