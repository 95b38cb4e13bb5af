<script setup lang="ts">
import { computed } from 'vue'
import type { api, Answer } from '../api'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type Row = Answer<typeof api.papers.list>['rows'][number]
/** `dates`: from a paper, such as an order, dates can be worked out. */
const props = defineProps<{ rows: readonly Row[]; showMatter?: boolean; dates?: boolean; loading?: boolean; problem?: string }>()
defineEmits<{ again: [] }>()
const sizeText = (n: number) => (n > 900_000 ? `${(n / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1000))} kB`)
const columns = computed((): Column<Row>[] => [
  { key: 'name', text: 'Name', grow: 3, fixed: true, narrow: 'title', sort: true },
  ...(props.showMatter ? [{ key: 'matter', text: 'Matter', grow: 2, sort: true }] : []),
  { key: 'folder', text: 'Folder', size: 130, quiet: true, sort: true },
  { key: 'template', text: 'From template', quiet: true, hidden: true },
  { key: 'madeBy', text: 'By', size: 130, quiet: true, sort: true },
  { key: 'madeAt', text: 'When', kind: 'when', quiet: true, sort: true },
  { key: 'size', text: 'Size', kind: 'number', quiet: true, sort: true, show: (p) => sizeText(p.size) },
])
const acts = (p: Row): Act[] => [
  { text: 'Open', to: `/api/papers/${p.id}/file`, out: true },
  ...(props.dates ? [{ text: 'Work out dates from it', to: `/matters/${p.matterId}/docket?work=1&paper=${p.id}` }] : []),
]
</script>

<template>
  <DataTable
    label="Papers"
    :name="showMatter ? 'papers' : 'papers-of-matter'"
    :rows="rows"
    :columns="columns"
    :row-id="(p) => p.id"
    :acts="acts"
    :loading="loading"
    :problem="problem"
    @again="$emit('again')"
  >
    <template #empty><slot name="empty" /></template>
    <template #cell-name="{ row: p }"
      ><a :href="`/api/papers/${p.id}/file`" target="_blank" rel="noopener" class="font-semibold hover:underline">{{ p.name }}</a
      ><span v-if="p.template" class="text-ink-2"> from {{ p.template }}</span></template
    >
    <template #cell-matter="{ row: p }"
      ><RouterLink :to="`/matters/${p.matterId}/papers`" class="hover:underline">{{ p.matter }}</RouterLink></template
    >
    <template #foot><slot name="foot" /></template>
  </DataTable>
</template>
