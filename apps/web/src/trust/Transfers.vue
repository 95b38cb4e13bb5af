<script setup lang="ts">
import { ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import DataTable from '../ui/DataTable.vue'
import Pager from '../ui/Pager.vue'
import type { Column } from '../ui/table/columns'

/** Transfer sheets: bills paid from trust together, in transit until both banks show it. */
const page = ref(1)
const { data, problem, loading, reload } = useShown(() => asks.trust.transfers.queryOptions({ input: { page: page.value, size: 20 } }))
type Row = Answer<typeof api.trust.transfers>['rows'][number]
const stands = (t: Row) =>
  t.fromShown && t.toShown
    ? 'shown by both banks'
    : t.fromShown
      ? 'in transit to operating'
      : t.toShown
        ? 'not yet out of trust at the bank'
        : 'in transit on both sides'
const columns: Column<Row>[] = [
  { key: 'number', text: 'Transfer', size: 130, narrow: 'title', value: (t) => `Sheet ${t.number}` },
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'from', text: 'Out of', grow: 1, quiet: true },
  { key: 'to', text: 'Into', grow: 1, quiet: true },
  { key: 'stands', text: 'At the banks', grow: 1.2, value: stands },
  { key: 'bills', text: 'Bills', kind: 'number' },
  { key: 'total', text: 'Amount', kind: 'money' },
]
</script>

<template>
  <section v-if="data?.total || problem" class="sheet mb-[18px]" aria-label="Transfers in payment of bills">
    <h2 class="px-4 pt-3 pb-1">Transfers in payment of bills</h2>
    <DataTable
      label="Transfers in payment of bills"
      name="transfers"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(t) => t.id"
      :loading="loading && !data"
      :problem="problem"
      @again="reload()"
    >
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="20" what="transfers" /></template>
    </DataTable>
  </section>
</template>
