<script setup lang="ts">
import { computed } from 'vue'
import type { api, Answer } from '../api'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import { momentDay } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { sizeText } from './show'

export type PaperRow = Answer<typeof api.papers.list>['rows'][number]
const props = defineProps<{
  rows: readonly PaperRow[]
  showMatter?: boolean
  bin?: boolean
  acts?: (p: PaperRow) => Act[]
  loading?: boolean
  problem?: string
  name?: string
}>()
defineEmits<{ again: []; open: [id: number] }>()
const selected = defineModel<(number | string)[]>('selected')
const columns = computed((): Column<PaperRow>[] => [
  { key: 'name', text: 'Name', grow: 3, fixed: true, narrow: 'title', sort: true },
  ...(props.showMatter ? [{ key: 'matter', text: 'Matter', grow: 1, sort: true }] : []),
  { key: 'folder', text: 'Folder', size: 140, quiet: true, sort: true },
  { key: 'kind', text: 'Kind', size: 90, quiet: true, sort: true, hidden: true },
  { key: 'day', text: 'Date', kind: 'day', quiet: true, sort: true, hidden: true },
  { key: 'author', text: 'Author', size: 130, quiet: true, sort: true, hidden: true },
  { key: 'tags', text: 'Tags', size: 120, quiet: true, hidden: true, value: (p) => p.tags.join(', ') },
  { key: 'template', text: 'From template', quiet: true, hidden: true },
  { key: 'madeBy', text: 'By', size: 136, quiet: true, sort: true },
  props.bin
    ? { key: 'deletedAt', text: 'Thrown away', kind: 'when' as const, quiet: true, sort: true }
    : { key: 'changedAt', text: 'Changed', size: 108, quiet: true, sort: true, show: (p: PaperRow) => momentDay(p.changedAt) },
  { key: 'size', text: 'Size', kind: 'number', size: 74, quiet: true, sort: true, show: (p) => sizeText(p.size) },
])
/** What stands beside a name, so that it is seen at a glance. */
const marks = (p: PaperRow) =>
  [
    p.version > 1 ? { text: `v${p.version}`, title: `Version ${p.version}` } : null,
    p.out ? { text: `out: ${p.out.name}`, title: `Checked out${p.out.note ? `, ${p.out.note}` : ''}`, loud: true } : null,
    p.shared ? { text: 'shared', title: 'People outside see it by a link', loud: true } : null,
    p.review === 'asked' ? { text: 'being read', title: 'A colleague was asked to read it' } : null,
    p.review === 'approved' ? { text: 'approved', title: 'Approved by a colleague' } : null,
    p.review === 'sent back' ? { text: 'sent back', title: 'Sent back with remarks', loud: true } : null,
    p.words === 'none' ? { text: 'no text', title: 'Its words cannot be found: it has no text, such as a scan' } : null,
    p.words === 'failed' ? { text: 'text not read', title: 'Its words could not be read' } : null,
  ].filter((x) => x !== null)
</script>

<template>
  <DataTable
    v-model:selected="selected"
    label="Papers"
    :name="name ?? (showMatter ? 'papers' : 'papers-of-matter')"
    :rows="rows"
    :columns="columns"
    :row-id="(p) => p.id"
    v-bind="acts ? { acts } : {}"
    :open="(p) => $emit('open', p.id)"
    :loading="loading"
    :problem="problem"
    @again="$emit('again')"
  >
    <template #empty><slot name="empty" /></template>
    <template #cell-name="{ row: p }"
      ><span
        class="flex min-w-0 items-center gap-1.5"
        :draggable="Boolean(selected)"
        @dragstart="$event.dataTransfer?.setData('text/heron-papers', String(p.id))"
        ><button
          type="button"
          class="min-w-0 truncate text-left font-semibold hover:underline"
          :title="p.name"
          @click.stop="$emit('open', p.id)"
        >
          {{ p.name }}</button
        ><span
          v-for="m in marks(p)"
          :key="m.text"
          class="flex-none rounded-full px-1.5 text-[11px] leading-[17px]"
          :class="m.loud ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'"
          :title="m.title"
          >{{ m.text }}</span
        ></span
      ></template
    >
    <template #cell-matter="{ row: p }"
      ><RouterLink :to="`/matters/${p.matterId}/papers`" class="hover:underline">{{ p.matter }}</RouterLink></template
    >
    <template #cell-deletedAt="{ row: p }"
      >{{ p.deletedAt ? momentDay(p.deletedAt) : '' }}<template v-if="p.deletedBy"> by {{ p.deletedBy }}</template></template
    >
    <template #foot><slot name="foot" /></template>
  </DataTable>
</template>
