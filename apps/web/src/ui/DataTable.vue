<script setup lang="ts" generic="R extends object">
import {
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  rowSelectionFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
} from '@tanstack/vue-table'
import { useWindowVirtualizer } from '@tanstack/vue-virtual'
import { ArrowDown, ArrowUp } from '@lucide/vue'
import { useElementSize, useLocalStorage, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, useSlots, watch } from 'vue'
import ActMenu, { type Act } from './ActMenu.vue'
import ColumnSheet from './table/ColumnSheet.vue'
import { growOf, isNumber, shown, sizeOf, together, totalsOf, valueOf, type Column, type Group } from './table/columns'
import State from './State.vue'
import NarrowRows from './table/NarrowRows.vue'
import ViewSheet from './table/ViewSheet.vue'
import { useFilters, type ViewState } from './views'

/**
 * The one table of lists: sorted here or by the server, columns chosen and their widths kept, groups with sums, rows chosen and opened by
 * keys, what is shown taken home as a file. On a narrow screen each row becomes a few lines with the same acts.
 */
const props = defineProps<{
  /** Says what the list is, to readers and as the name under which columns are kept. */
  label: string
  name: string
  rows: readonly R[]
  columns: readonly Column<R>[]
  rowId: (row: R) => number | string
  loading?: boolean | undefined
  problem?: string | undefined
  /** The heading under which a row stands; rows come in its order. */
  groupOf?: (row: R) => string | number
  group?: (key: string | number) => Group
  /** What can be done to a row. */
  acts?: (row: R) => Act[]
  /** The usual act on a row, at Enter or a press on it. */
  open?: (row: R) => unknown
  /** Where files of what is shown come from when not all rows are here. */
  exportTo?: { text: string; to: string }[]
  rowClass?: (row: R) => string
  /** Which columns are shown, where the page keeps that itself. */
  shownKeys?: readonly string[] | undefined
  plain?: boolean
  /** The page has views of its own, which hold more than this list. */
  noViews?: boolean
}>()
const emit = defineEmits<{ again: []; 'update:shownKeys': [keys: string[] | null] }>()
/** The server's sorting: the name of a column's sort. */
const sort = defineModel<string>('sort')
const selected = defineModel<(number | string)[]>('selected')
const slots = useSlots()

const kept = useLocalStorage<{ columns: string[] | null; widths: Record<string, number> }>(`table ${props.name}`, {
  columns: null,
  widths: {},
})
const usual = computed(() => props.columns.filter((c) => !c.hidden).map((c) => c.key))
const keys = computed(() => props.shownKeys ?? kept.value.columns ?? usual.value)
const visible = computed(() => props.columns.filter((c) => c.fixed || keys.value.includes(c.key)))
function chooseColumns(next: string[] | null) {
  const same = next && next.join() === usual.value.join() ? null : next
  if (props.shownKeys) emit('update:shownKeys', same)
  else kept.value = { ...kept.value, columns: same }
}

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  columnVisibilityFeature,
  columnSizingFeature,
  columnResizingFeature,
  rowSelectionFeature,
})
const compare = (a: unknown, b: unknown) =>
  typeof a === 'number' && typeof b === 'number' ? a - b : String(a ?? '').localeCompare(String(b ?? ''), 'en', { numeric: true })
const defs = computed(() =>
  visible.value.map((c): ColumnDef<typeof features, R> => ({
    id: c.key,
    accessorFn: (row) => valueOf(c, row),
    header: c.text,
    enableSorting: c.sort === true,
    sortDescFirst: isNumber(c),
    sortFn: (a, b, id) => compare(a.getValue(id), b.getValue(id)),
    size: sizeOf(c),
    minSize: 48,
  })),
)
const rows = computed(() => props.rows)
const table = useTable<typeof features, R>({
  features,
  columns: defs,
  data: rows,
  getRowId: (row) => String(props.rowId(row)),
  columnResizeMode: 'onChange',
  initialState: { columnSizing: kept.value.widths },
})
const widths = computed(() => table.atoms.columnSizing.get())
watch(widths, (w) => (kept.value = { ...kept.value, widths: w }))
const sorting = computed(() => table.atoms.sorting.get()[0])
const list = computed(() => {
  void sorting.value
  void rows.value
  void defs.value
  return table.getSortedRowModel().rows.map((r) => r.original)
})

function press(c: Column<R>) {
  if (typeof c.sort === 'string') sort.value = c.sort
  else table.getColumn(c.key)?.toggleSorting()
}
function arrow(c: Column<R>): 'ascending' | 'descending' | 'none' {
  if (typeof c.sort === 'string') return sort.value === c.sort ? (isNumber(c) || c.kind === 'day' ? 'descending' : 'ascending') : 'none'
  if (sorting.value?.id !== c.key) return 'none'
  return sorting.value.desc ? 'descending' : 'ascending'
}

// Widths: those set by hand and those of numbers stand; text shares what is left.
const frame = ref<HTMLElement | null>(null)
const { width: room } = useElementSize(frame)
const least = computed(
  () => together(visible.value.map((c) => widths.value[c.key] ?? sizeOf(c))) + (selected.value ? 36 : 0) + (hasActs.value ? 44 : 0),
)
const hasActs = computed(() => Boolean(props.acts) || !props.plain)
const scrolls = computed(() => room.value > 0 && least.value > room.value + 1)
const share = (c: Column<R>) => {
  const own = widths.value[c.key]
  if (own) return `${own}px`
  return growOf(c) && !scrolls.value ? 'auto' : `${sizeOf(c)}px`
}
const spare = computed(() => room.value - least.value)
const growing = computed(() => visible.value.filter((c) => growOf(c) && !widths.value[c.key]))
const style = (c: Column<R>) => {
  const g = growOf(c)
  if (widths.value[c.key] || !g || spare.value <= 0) return { width: share(c) }
  const all = growing.value.map(growOf)
  return { width: `${sizeOf(c) + (spare.value * g) / together(all)}px` }
}

const narrow = useMediaQuery('(max-width: 699px)')
const titleColumn = computed(() => visible.value.find((c) => c.narrow === 'title') ?? visible.value[0])

/** Rows and the headings between them, as they stand one under the other. */
type Line = { row: R; index: number } | { group: Group; key: string | number }
const lines = computed<Line[]>(() => {
  const out: Line[] = []
  let last: string | number | undefined
  list.value.forEach((row, index) => {
    // Sorted otherwise, headings would stand anywhere.
    if (props.groupOf && props.group && !sorting.value) {
      const key = props.groupOf(row)
      if (key !== last) out.push({ group: props.group(key), key })
      last = key
    }
    out.push({ row, index })
  })
  return out
})
const body = ref<HTMLElement | null>(null)
const long = computed(() => lines.value.length > 150)
const virtual = useWindowVirtualizer(
  computed(() => ({
    count: long.value ? lines.value.length : 0,
    estimateSize: () => 35,
    overscan: 20,
    scrollMargin: body.value ? body.value.getBoundingClientRect().top + window.scrollY : 0,
  })),
)
const windowed = computed(() => {
  if (!long.value) return { lines: lines.value, before: 0, after: 0 }
  const items = virtual.value.getVirtualItems()
  const margin = virtual.value.options.scrollMargin
  return {
    lines: items.map((i) => lines.value[i.index]!),
    before: items.length ? items[0]!.start - margin : 0,
    after: items.length ? virtual.value.getTotalSize() - (items[items.length - 1]!.end - margin) : 0,
  }
})

// Keys: one row is within the order of Tab, arrows go from row to row.
const active = ref(0)
watch(list, (l) => (active.value = Math.min(active.value, Math.max(0, l.length - 1))))
async function go(to: number) {
  active.value = Math.max(0, Math.min(list.value.length - 1, to))
  if (long.value) virtual.value.scrollToIndex(lines.value.findIndex((l) => 'row' in l && l.index === active.value))
  await nextTick()
  frame.value?.querySelector<HTMLElement>(`[data-row="${active.value}"]`)?.focus()
}
function keyed(event: KeyboardEvent, row: R, index: number) {
  if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return
  const moves: Record<string, number> = { ArrowDown: index + 1, ArrowUp: index - 1, Home: 0, End: list.value.length - 1 }
  if (event.key in moves) void go(moves[event.key]!)
  else if (event.key === 'Enter') openRow(event.currentTarget as HTMLElement, row)
  else if (event.key === ' ' && selected.value) choose(row)
  else if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey))
    (event.currentTarget as HTMLElement).querySelector<HTMLElement>('[data-acts] button')?.click()
  else return
  event.preventDefault()
}
function openRow(el: HTMLElement, row: R) {
  if (props.open) props.open(row)
  else el.querySelector<HTMLElement>('a[href]')?.click()
}
function pressed(event: MouseEvent, row: R, index: number) {
  active.value = index
  if (props.open && !(event.target as HTMLElement).closest('a, button, input, select, label, textarea')) props.open(row)
}
const isChosen = (row: R) => selected.value?.includes(props.rowId(row)) ?? false
function choose(row: R) {
  const id = props.rowId(row)
  selected.value = isChosen(row) ? selected.value!.filter((x) => x !== id) : [...(selected.value ?? []), id]
}
const allChosen = computed(() => list.value.length > 0 && list.value.every(isChosen))
const chooseAll = () => (selected.value = allChosen.value ? [] : list.value.map(props.rowId))

const choosing = ref(false)
const viewing = ref(false)
// A view is the filters of the page, and of the list its columns and its order.
const filters = useFilters()
const asView = computed((): ViewState => ({
  ...filters.read(),
  ...(keys.value.join() === usual.value.join() ? {} : { $columns: keys.value.join() }),
  ...(sort.value ? { $sort: sort.value } : {}),
  ...(sorting.value ? { $order: `${sorting.value.desc ? '-' : ''}${sorting.value.id}` } : {}),
}))
function chooseView(view: ViewState) {
  filters.choose(view)
  const known = new Set(props.columns.map((c) => c.key))
  chooseColumns(view['$columns']?.split(',').filter((k) => known.has(k)) ?? null)
  if (view['$sort'] && props.columns.some((c) => c.sort === view['$sort'])) sort.value = view['$sort']
  const order = /^(-?)(.+)$/.exec(view['$order'] ?? '')
  table.setSorting(order && known.has(order[2]!) ? [{ id: order[2]!, desc: order[1] === '-' }] : [])
}
const file = async (kind: 'asCsv' | 'asWorkbook') => (await import('./table/export'))[kind](visible.value, list.value, props.name)
const tableActs = computed((): Act[] => [
  ...(props.noViews ? [] : [{ text: 'Views …', act: () => (viewing.value = true) }]),
  { text: 'Columns …', act: () => (choosing.value = true) },
  ...(props.exportTo ?? [{ text: 'CSV of what is shown', act: () => file('asCsv') }]).map((e) => ('to' in e ? { ...e, out: true } : e)),
  { text: 'Workbook of what is shown', act: () => file('asWorkbook') },
  { text: 'Print', act: () => window.print() },
])
const hasTotals = computed(() => visible.value.some((c) => c.total))
const totalOf = computed(() => totalsOf(visible.value))
/** Where there are no headings to press. */
const sortActs = computed(() => visible.value.filter((c) => c.sort).map((c): Act => ({ text: `Sort by ${c.text}`, act: () => press(c) })))
const cellClass = (c: Column<R>) => [
  isNumber(c) ? 'text-right' : '',
  c.quiet ? 'text-ink-2' : '',
  c.strong ? 'font-semibold' : '',
  c.wrap ? 'wraps' : 'one-line',
]
</script>

<template>
  <div ref="frame" :class="scrolls && !narrow ? 'table-scrolls overflow-x-auto' : ''">
    <State
      :loading="Boolean(loading) && !rows.length"
      :problem="rows.length ? '' : (problem ?? '')"
      :empty="!rows.length"
      @again="emit('again')"
    >
      <template #empty><slot name="empty">Nothing here.</slot></template>
      <NarrowRows
        v-if="narrow"
        :label="label"
        :lines="lines"
        :columns="visible"
        :row-id="rowId"
        :loading="loading"
        :row-class="rowClass"
        :chooses="Boolean(selected)"
        :is-chosen="isChosen"
        :all-chosen="allChosen"
        :acts="acts"
        :list-acts="plain ? [] : [...sortActs, ...tableActs]"
        @choose="choose"
        @choose-all="chooseAll"
        @press="pressed"
      >
        <template v-for="(_, cell) in slots" :key="cell" #[cell]="p"><slot :name="cell" v-bind="p" /></template>
      </NarrowRows>
      <table
        v-else
        class="data-table"
        :aria-label="label"
        :aria-busy="loading || undefined"
        :style="scrolls ? { width: `${least}px` } : {}"
      >
        <colgroup>
          <col v-if="selected" style="width: 36px" />
          <col v-for="c in visible" :key="c.key" :style="style(c)" />
          <col v-if="hasActs" style="width: 44px" />
        </colgroup>
        <thead>
          <tr>
            <th v-if="selected" scope="col">
              <input type="checkbox" class="accent-ink" :checked="allChosen" aria-label="Choose all" @change="chooseAll" />
            </th>
            <th
              v-for="c in visible"
              :key="c.key"
              scope="col"
              :class="isNumber(c) && 'text-right'"
              :aria-sort="c.sort ? arrow(c) : undefined"
            >
              <button v-if="c.sort" type="button" class="max-w-full truncate hover:underline" @click="press(c)">
                {{ c.text
                }}<component
                  :is="arrow(c) === 'ascending' ? ArrowUp : ArrowDown"
                  v-if="arrow(c) !== 'none'"
                  :size="12"
                  class="ml-0.5 inline"
                  aria-hidden="true"
                />
              </button>
              <span v-else :class="c.headless ? 'sr-only' : 'block truncate'">{{ c.text }}</span>
              <span
                class="grip no-print"
                aria-hidden="true"
                @mousedown.prevent="
                  table
                    .getFlatHeaders()
                    .find((h) => h.column.id === c.key)
                    ?.getResizeHandler()($event)
                "
                @dblclick="table.getColumn(c.key)?.resetSize()"
              ></span>
            </th>
            <th v-if="hasActs" scope="col" class="text-right!">
              <ActMenu v-if="!plain" :label="`The list ${label}`" :acts="tableActs" /><span v-else class="sr-only">Acts</span>
            </th>
          </tr>
        </thead>
        <tbody ref="body">
          <tr v-if="windowed.before" aria-hidden="true">
            <td :style="{ height: `${windowed.before}px` }" class="p-0!"></td>
          </tr>
          <template v-for="l in windowed.lines" :key="'row' in l ? `r${rowId(l.row)}` : `g${l.key}`">
            <tr v-if="'group' in l" class="group-row">
              <td v-if="selected"></td>
              <template v-for="(c, i) in visible" :key="c.key">
                <th v-if="i === 0" scope="rowgroup" class="font-serif text-base! text-ink! overflow-visible!">{{ l.group.text }}</th>
                <td v-else :class="[cellClass(c), 'font-semibold']">{{ l.group.totals?.[c.key] ?? '' }}</td>
              </template>
              <td v-if="hasActs"></td>
            </tr>
            <tr
              v-else
              :data-row="l.index"
              :tabindex="l.index === active ? 0 : -1"
              class="outline-offset-[-2px]"
              :class="[rowClass?.(l.row), open && 'cursor-pointer', isChosen(l.row) && 'bg-lagoon-wash']"
              @keydown="keyed($event, l.row, l.index)"
              @click="pressed($event, l.row, l.index)"
            >
              <td v-if="selected">
                <input
                  type="checkbox"
                  class="accent-ink"
                  :checked="isChosen(l.row)"
                  :aria-label="`Choose ${titleColumn ? shown(titleColumn, l.row) : ''}`"
                  @change="choose(l.row)"
                />
              </td>
              <td v-for="c in visible" :key="c.key" :class="cellClass(c)" :title="slots[`cell-${c.key}`] ? undefined : shown(c, l.row)">
                <slot :name="`cell-${c.key}`" :row="l.row">{{ shown(c, l.row) }}</slot>
              </td>
              <td v-if="hasActs" data-acts class="py-0! text-right">
                <ActMenu v-if="acts" :label="`Acts on ${titleColumn ? shown(titleColumn, l.row) : 'the row'}`" :acts="acts(l.row)" />
              </td>
            </tr>
          </template>
          <tr v-if="windowed.after" aria-hidden="true">
            <td :style="{ height: `${windowed.after}px` }" class="p-0!"></td>
          </tr>
        </tbody>
        <tfoot v-if="hasTotals">
          <tr>
            <td v-if="selected"></td>
            <td
              v-for="c in visible"
              :key="c.key"
              :data-figure="c.total ? c.key : undefined"
              :class="[isNumber(c) && 'text-right', 'one-line font-semibold']"
            >
              {{ totalOf(c) }}
            </td>
            <td v-if="hasActs"></td>
          </tr>
        </tfoot>
      </table>
    </State>
    <slot name="foot" />
    <ColumnSheet v-if="choosing" :columns="columns" :keys="keys" @choose="chooseColumns" @close="choosing = false" />
    <ViewSheet v-if="viewing" :list="name" :state="asView" @choose="chooseView" @close="viewing = false" />
  </div>
</template>
