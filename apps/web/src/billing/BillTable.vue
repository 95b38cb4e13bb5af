<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { api, Answer } from '../api'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import { tableDay, type Column } from '../ui/table/columns'
import { showMoney } from '../ui/show'

type Row = Answer<typeof api.billing.list>['rows'][number]
const props = defineProps<{
  rows: readonly Row[]
  showMatter?: boolean
  loading?: boolean
  problem?: string
  totalOpen?: number | undefined
}>()
defineEmits<{ again: [] }>()
const session = useSession()
const router = useRouter()
const columns = computed((): Column<Row>[] => [
  { key: 'number', text: 'Bill', size: 100, fixed: true, narrow: 'title', total: props.totalOpen === undefined ? '' : 'All open' },
  ...(props.showMatter ? [{ key: 'matter', text: 'Matter', grow: 2 }] : []),
  { key: 'payer', text: 'Goes to', grow: 2, quiet: true },
  { key: 'issuedOn', text: 'Issued', kind: 'day', quiet: true },
  { key: 'dueOn', text: 'Due', kind: 'day' },
  { key: 'total', text: 'Total', kind: 'money' },
  {
    key: 'open',
    text: 'Open',
    kind: 'money',
    strong: true,
    show: (b) => (b.void ? 'void' : b.open ? showMoney(b.open) : 'paid'),
    total: props.totalOpen === undefined ? '' : showMoney(props.totalOpen),
  },
])
</script>

<template>
  <DataTable
    label="Bills"
    :name="showMatter ? 'bills' : 'bills-of-matter'"
    :rows="rows"
    :columns="columns"
    :row-id="(b) => b.id"
    :loading="loading"
    :problem="problem"
    :open="(b) => router.push(`/bills/${b.id}`)"
    @again="$emit('again')"
  >
    <template #empty><slot name="empty" /></template>
    <template #cell-number="{ row: b }"
      ><RouterLink :to="`/bills/${b.id}`" class="font-semibold hover:underline">{{ b.number }}</RouterLink></template
    >
    <template #cell-matter="{ row: b }"
      ><RouterLink :to="`/matters/${b.matterId}/bills`" class="hover:underline">{{ b.matter }}</RouterLink></template
    >
    <template #cell-dueOn="{ row: b }"
      ><span :class="b.open && b.dueOn < session.today ? 'text-rust' : 'text-ink-2'">{{ tableDay(b.dueOn) }}</span></template
    >
    <template #foot><slot name="foot" /></template>
  </DataTable>
</template>
