<script setup lang="ts">
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

/** Each bank account with how far its statements were read, and its months closed. */
type Row = Answer<typeof api.bank.accounts>[number]
const router = useRouter()
const { data, problem, loading, reload } = useShown(() => asks.bank.accounts.queryOptions())
const kinds = { pooled: 'pooled trust', separate: 'separate trust', operating: 'operating' }
const columns: Column<Row>[] = [
  { key: 'name', text: 'Account', grow: 1.6, fixed: true, narrow: 'title', value: (b) => (b.ending ? `${b.name} ··${b.ending}` : b.name) },
  { key: 'kind', text: 'Kind', size: 130, quiet: true, value: (b) => kinds[b.kind] },
  { key: 'readTo', text: 'Statements to', kind: 'day', size: 124 },
  { key: 'closedTo', text: 'Closed to', kind: 'day', size: 124 },
  { key: 'open', text: 'Open lines', kind: 'number', size: 100 },
  { key: 'book', text: 'Book', kind: 'money', size: 140 },
]
</script>

<template>
  <section class="sheet max-w-[980px]" aria-label="Bank accounts">
    <DataTable
      label="Bank accounts"
      name="bank-accounts"
      :rows="data ?? []"
      :columns="columns"
      :row-id="(b) => b.id"
      :loading="loading && !data"
      :problem="problem"
      :open="(b) => router.push(`/books/bank/${b.id}`)"
      @again="reload()"
    >
      <template #cell-name="{ row: b }"
        ><RouterLink :to="`/books/bank/${b.id}`" class="hover:underline"
          >{{ b.name }} <span v-if="b.ending" class="text-ink-2">··{{ b.ending }}</span></RouterLink
        ></template
      >
    </DataTable>
  </section>
</template>
