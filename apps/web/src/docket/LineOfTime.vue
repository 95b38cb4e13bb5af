<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { DocketRow } from '@heron/contract'
import { isOpen, isOverdue, layLine, type LaidPoint, type LinePoint } from '@heron/core/docket'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useSession } from '../shell/session'
import { dayText } from '../ui/show'

/** The events of a matter above a line to scale, its dates below, each with the mark of its weight; a press opens a date. */
const props = defineProps<{ label: string; rows: DocketRow[]; events?: { id: number; label: string; day: Day }[] }>()
const emit = defineEmits<{ open: [row: DocketRow] }>()
const session = useSession()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 1000, height: 0 })
const cut = (s: string) => (s.length > 34 ? `${s.slice(0, 33)}…` : s)
const wide = (p: LinePoint) => Math.max(cut(p.title).length * 6.9, 96)
const rowHeight = 34
const line = computed(() =>
  layLine(
    [
      ...(props.events ?? []).map((e): LinePoint => ({ id: `e${e.id}`, day: e.day, title: e.label, kind: 'event', done: false })),
      ...props.rows.map((r): LinePoint => ({ id: `d${r.id}`, day: r.day, title: r.title, kind: r.weight, done: !isOpen(r.mark) })),
    ],
    session.today,
    Math.max(560, Math.round(width.value)),
    (p) => wide(p) + 8,
  ),
)
const at = computed(() => 22 + line.value.eventRows * rowHeight)
const height = computed(() => at.value + 34 + line.value.dateRows * rowHeight)
const rowOf = (p: LaidPoint) => props.rows.find((r) => `d${r.id}` === p.id)!
const late = (p: LaidPoint) => isOverdue(rowOf(p), session.today)
const said = (p: LaidPoint) => `${p.title}, ${dayText(p.day)}, ${p.kind}${p.done ? `, ${rowOf(p).mark}` : ''}${late(p) ? ', overdue' : ''}`
const yOf = (p: LaidPoint) => at.value + 38 + p.row * rowHeight
</script>

<template>
  <div ref="box" class="overflow-x-auto" tabindex="0" role="region" :aria-label="label">
    <svg :width="line.width" :height="height" role="group" :aria-label="label">
      <line x1="0" :y1="at" :x2="line.width" :y2="at" class="stroke-ink" stroke-width="1.5" />
      <g v-for="m in line.months" :key="m.x" aria-hidden="true">
        <line :x1="m.x" :y1="at - 5" :x2="m.x" :y2="at + 5" class="stroke-ink-3" />
        <text :x="m.x + 3" :y="at + 15" class="fill-ink-2 text-[11px]">{{ m.text }}</text>
      </g>
      <g v-if="line.todayX !== null" aria-hidden="true">
        <line :x1="line.todayX" y1="4" :x2="line.todayX" :y2="height - 4" class="stroke-bill" stroke-width="2" />
        <text :x="line.todayX + 5" y="13" class="fill-bill-ink text-[11px] font-semibold">today</text>
      </g>
      <g aria-hidden="true">
        <line v-for="p in line.events" :key="p.id" :x1="p.x" :y1="at - 32 - p.row * rowHeight" :x2="p.x" :y2="at" class="stroke-ink-3" />
        <line v-for="p in line.dates" :key="p.id" :x1="p.x" :y1="at" :x2="p.x" :y2="yOf(p) - 12" class="stroke-line" />
      </g>
      <g v-for="p in line.events" :key="p.id" role="img" :aria-label="`${p.title}, ${dayText(p.day)}, what happened`">
        <rect :x="p.textX - 2" :y="at - 33 - p.row * rowHeight" :width="wide(p)" height="29" class="fill-paper" />
        <line :x1="p.x" :y1="at - 32 - p.row * rowHeight" :x2="p.x" :y2="at - 4 - p.row * rowHeight" class="stroke-ink-3" />
        <circle :cx="p.x" :cy="at" r="4" class="fill-ink" />
        <text :x="p.textX" :y="at - 20 - p.row * rowHeight" class="fill-ink text-[12.5px] font-semibold">{{ cut(p.title) }}</text>
        <text :x="p.textX" :y="at - 7 - p.row * rowHeight" class="fill-ink-2 text-[11px]">{{ dayText(p.day) }}</text>
      </g>
      <g
        v-for="p in line.dates"
        :key="p.id"
        role="button"
        tabindex="0"
        class="cursor-pointer"
        :aria-label="said(p)"
        @click="emit('open', rowOf(p))"
        @keydown.enter.prevent="emit('open', rowOf(p))"
        @keydown.space.prevent="emit('open', rowOf(p))"
      >
        <rect :x="p.textX - 2" :y="yOf(p) - 13" :width="wide(p)" height="29" class="fill-paper" />
        <template v-if="p.kind === 'strict'">
          <line :x1="p.x - 2.5" :y1="yOf(p) - 12" :x2="p.x - 2.5" :y2="yOf(p) + 14" class="stroke-ink" stroke-width="2" />
          <line :x1="p.x + 2.5" :y1="yOf(p) - 12" :x2="p.x + 2.5" :y2="yOf(p) + 14" class="stroke-ink" stroke-width="2" />
        </template>
        <circle v-else-if="p.kind === 'appointment'" :cx="p.x" :cy="yOf(p) - 5" r="5" class="fill-paper stroke-plume" stroke-width="2" />
        <template v-else>
          <line
            :x1="p.x"
            :y1="yOf(p) - 12"
            :x2="p.x"
            :y2="yOf(p) + 14"
            :class="p.kind === 'firm practice' ? 'stroke-ink-3' : 'stroke-ink'"
            stroke-width="3"
            :stroke-dasharray="p.kind === 'firm practice' ? '2.5 3' : undefined"
          />
          <rect v-if="p.kind === 'court order'" :x="p.x - 4.5" :y="yOf(p) - 12" width="9" height="9" class="fill-ink" />
        </template>
        <text :x="p.textX + 3" :y="yOf(p)" class="text-[12.5px]" :class="p.done ? 'fill-ink-3' : late(p) ? 'fill-rust' : 'fill-ink'">
          {{ cut(p.title) }}
        </text>
        <text :x="p.textX + 3" :y="yOf(p) + 13" class="text-[11px]" :class="late(p) ? 'fill-rust' : 'fill-ink-2'">
          {{ dayText(p.day) }}{{ p.done ? `, ${rowOf(p).mark}` : '' }}
        </text>
      </g>
    </svg>
  </div>
</template>
