<script setup lang="ts" generic="R extends object">
import { computed } from 'vue'
import ActMenu, { type Act } from '../ActMenu.vue'
import { isNumber, shown, totalsOf, type Column, type Group } from './columns'

/** The rows of a list on a narrow screen: each a few lines, with the same acts, choice and sums as on a wide one. */
const props = defineProps<{
  label: string
  lines: readonly ({ row: R; index: number } | { group: Group; key: string | number })[]
  columns: readonly Column<R>[]
  rowId: (row: R) => number | string
  loading?: boolean | undefined
  rowClass?: ((row: R) => string) | undefined
  /** Whether rows are chosen here at all. */
  chooses: boolean
  isChosen: (row: R) => boolean
  allChosen: boolean
  acts?: ((row: R) => Act[]) | undefined
  /** What can be done to the list; nothing where it is a plain one. */
  listActs: readonly Act[]
}>()
const emit = defineEmits<{ choose: [row: R]; chooseAll: []; press: [event: MouseEvent, row: R, index: number] }>()
const slots = defineSlots<Record<`cell-${string}`, (p: { row: R }) => unknown>>()
const title = computed(() => props.columns.find((c) => c.narrow === 'title') ?? props.columns[0])
const others = computed(() => props.columns.filter((c) => c !== title.value && c.narrow !== 'none'))
const nameOf = (row: R) => (title.value ? shown(title.value, row) : '')
const totalOf = computed(() => totalsOf(props.columns))
const summed = computed(() => props.columns.filter((c) => isNumber(c) && c.total))
</script>

<template>
  <div v-if="chooses || listActs.length" class="flex items-center justify-between gap-2 px-3.5 py-1">
    <label v-if="chooses" class="flex min-h-8 items-center gap-2 text-sm text-ink-2">
      <input type="checkbox" class="accent-ink" :checked="allChosen" @change="emit('chooseAll')" /> Choose all
    </label>
    <ActMenu v-if="listActs.length" class="ml-auto" :label="`The list ${label}`" :acts="listActs" />
  </div>
  <ul :aria-label="label" :aria-busy="loading || undefined">
    <template v-for="l in lines" :key="'row' in l ? `r${rowId(l.row)}` : `g${l.key}`">
      <li v-if="'group' in l" class="bg-page px-3.5 py-1.5 font-serif font-semibold">{{ l.group.text }}</li>
      <li
        v-else
        :data-row="l.index"
        class="flex items-start gap-2 border-t border-line-2 px-3.5 py-2"
        :class="rowClass?.(l.row)"
        @click="emit('press', $event, l.row, l.index)"
      >
        <input
          v-if="chooses"
          type="checkbox"
          class="mt-1 accent-ink"
          :checked="isChosen(l.row)"
          :aria-label="`Choose ${nameOf(l.row)}`"
          @change="emit('choose', l.row)"
        />
        <div class="min-w-0 flex-1">
          <div v-if="title" class="font-semibold break-words [&_a]:inline-block [&_a]:min-h-6">
            <slot :name="`cell-${title.key}`" :row="l.row">{{ shown(title, l.row) }}</slot>
          </div>
          <div class="flex flex-wrap gap-x-3 gap-y-0.5 text-sm text-ink-2 [&_a]:inline-block [&_a]:min-h-6 [&_a]:min-w-6">
            <template v-for="c in others" :key="c.key">
              <span v-if="slots[`cell-${c.key}`] || shown(c, l.row)" class="min-w-0 break-words"
                ><span v-if="isNumber(c)" class="text-ink-3">{{ `${c.text} ` }}</span
                ><slot :name="`cell-${c.key}`" :row="l.row">{{ shown(c, l.row) }}</slot></span
              >
            </template>
          </div>
        </div>
        <ActMenu v-if="acts" :label="`Acts on ${nameOf(l.row)}`" :acts="acts(l.row)" />
      </li>
    </template>
  </ul>
  <p v-if="summed.length" class="flex flex-wrap gap-x-3 border-t border-line px-3.5 py-2 font-semibold">
    <span>{{
      columns
        .filter((c) => !isNumber(c))
        .map(totalOf)
        .find(Boolean)
    }}</span>
    <span v-for="c in summed" :key="c.key" :data-figure="c.key"
      ><span class="font-normal text-ink-2">{{ `${c.text} ` }}</span
      >{{ c.total }}</span
    >
  </p>
</template>
