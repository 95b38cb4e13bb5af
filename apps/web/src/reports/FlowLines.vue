<script setup lang="ts">
import type { FlowLinesIn } from '@heron/contract'
import { flowWords } from '@heron/core/oversight'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import DataTable from '../ui/DataTable.vue'
import SideSheet from '../ui/SideSheet.vue'
import { someMoney, type Column } from '../ui/table/columns'
import { useLoad } from '../use'

/** The entries behind one figure. Of a long span it is not added up again: the figure that was opened stands. */
const props = defineProps<{ asked: FlowLinesIn; figure: number | null }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
type Row = Answer<typeof api.oversight.flowLines>['rows'][number]
const { data, problem, loading, reload } = useLoad(() => api.oversight.flowLines(props.asked), [() => JSON.stringify(props.asked)])
const columns = computed((): Column<Row>[] => [
  { key: 'day', text: 'Date', kind: 'day', quiet: true, size: 104 },
  { key: 'text', text: 'What', grow: 1.5, narrow: 'title' },
  { key: 'who', text: 'Timekeeper', size: 130 },
  { key: 'matter', text: 'Matter', grow: 1, quiet: true },
  { key: 'bill', text: 'Bill', size: 76 },
  { key: 'amount', text: 'Amount', kind: 'money', total: someMoney(data.value?.total ?? props.figure ?? 0) },
])
const to = (r: Row) => (r.billId ? `/bills/${r.billId}` : `/matters/${r.matterId}/time`)
</script>

<template>
  <SideSheet :title="`${flowWords[asked.step]}${data ? `, ${data.name}` : ''}`" wide @close="emit('close')">
    <DataTable
      label="What stands behind the figure"
      name="flow lines"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(r) => r.key"
      :open="(r) => router.push(to(r))"
      :loading="loading"
      :problem="problem"
      plain
      @again="reload()"
    >
      <template #empty>Nothing stands behind it.</template>
    </DataTable>
    <p v-if="data?.more" class="text-ink-2">The last {{ data.rows.length }} are listed; what stands together is of all.</p>
  </SideSheet>
</template>
