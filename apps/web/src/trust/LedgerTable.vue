<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { api, Answer } from '../api'
import DataTable from '../ui/DataTable.vue'
import { showMoney } from '../ui/show'
import { someMoney, type Column } from '../ui/table/columns'

type Row = Answer<typeof api.trust.ledgers>['rows'][number]
const props = defineProps<{ rows: readonly Row[]; total?: number; loading?: boolean; problem?: string }>()
defineEmits<{ again: [] }>()
const router = useRouter()
const columns = computed((): Column<Row>[] => [
  { key: 'client', text: 'Client', grow: 2, fixed: true, narrow: 'title', total: props.total === undefined ? '' : 'Together' },
  { key: 'matter', text: 'Matter', grow: 1.4, quiet: true, value: (l) => l.matter ?? (l.kind === 'client' ? 'the client as a whole' : '') },
  { key: 'bank', text: 'Account', quiet: true },
  { key: 'book', text: 'In the book', kind: 'money', total: props.total === undefined ? '' : showMoney(props.total) },
  { key: 'uncleared', text: 'Not cleared', kind: 'money', quiet: true, show: (l) => someMoney(l.uncleared) },
  { key: 'reserved', text: 'Reserved', kind: 'money', quiet: true, show: (l) => someMoney(l.reserved) },
  { key: 'available', text: 'Available', kind: 'money', strong: true },
])
</script>

<template>
  <DataTable
    label="Client ledgers"
    name="ledgers"
    :rows="rows"
    :columns="columns"
    :row-id="(l) => l.id"
    :loading="loading"
    :problem="problem"
    :open="(l) => router.push(`/trust/ledgers/${l.id}`)"
    @again="$emit('again')"
  >
    <template #empty><slot name="empty" /></template>
    <template #cell-client="{ row: l }"
      ><RouterLink :to="`/trust/ledgers/${l.id}`" class="font-semibold hover:underline">{{ l.client }}</RouterLink></template
    >
    <template #cell-available="{ row: l }"
      ><span data-figure="available">{{ showMoney(l.available) }}</span></template
    >
    <template #foot><slot name="foot" /></template>
  </DataTable>
</template>
