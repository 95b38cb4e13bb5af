<script setup lang="ts">
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import DataTable from '../ui/DataTable.vue'
import { momentDay } from '../ui/show'
import type { Column } from '../ui/table/columns'

/** Runs of pre-bills and of bills, the newest first, each to be looked at again. */
const router = useRouter()
const { data, problem, loading, reload } = useShown(() => asks.billing.runs.queryOptions())
type Row = Answer<typeof api.billing.runs>[number]
const columns: Column<Row>[] = [
  { key: 'beganAt', text: 'Begun', size: 150, narrow: 'title', show: (r) => momentDay(r.beganAt) },
  {
    key: 'what',
    text: 'What',
    grow: 1,
    value: (r) => (r.what === 'make' ? 'Pre-bills made' : r.send ? 'Bills issued and sent' : 'Bills issued'),
  },
  { key: 'day', text: 'Work up to, or dated', kind: 'day', size: 170, quiet: true },
  { key: 'by', text: 'By', grow: 1, quiet: true },
  { key: 'endedAt', text: 'State', size: 120, value: (r) => (r.endedAt ? 'done' : 'under way') },
]
</script>

<template>
  <DataTable
    label="Runs of bills"
    name="bill-runs"
    :rows="data ?? []"
    :columns="columns"
    :row-id="(r) => r.id"
    :loading="loading && !data"
    :problem="problem"
    :open="(r) => router.push(`/bills/runs/${r.id}`)"
    @again="reload()"
  >
    <template #empty>No run yet. Runs begin under Unbilled, and with approved pre-bills.</template>
    <template #cell-beganAt="{ row: r }"
      ><RouterLink :to="`/bills/runs/${r.id}`" class="hover:underline">{{ momentDay(r.beganAt) }}</RouterLink></template
    >
  </DataTable>
</template>
