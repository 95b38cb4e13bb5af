<script setup lang="ts">
import { daysBetween, type Day } from '@heron/core/calendar'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { dayText } from '../ui/show'

const props = defineProps<{ points: { text: string; day: Day | null }[] }>()
const box = ref<HTMLElement | null>(null)
const { width: wide } = useElementSize(box, { width: 680, height: 0 })
const width = computed(() => Math.max(420, Math.round(wide.value)))
/** Points along the line, to scale, with those too near one another put in rows below. */
const laid = computed(() => {
  const dated = props.points.filter((p): p is { text: string; day: Day } => p.day !== null).sort((a, b) => (a.day < b.day ? -1 : 1))
  const first = dated[0]?.day
  const last = dated.at(-1)?.day
  if (!first || !last) return []
  const span = Math.max(1, daysBetween(first, last))
  const ends: number[] = []
  return dated.map((p) => {
    const x = 10 + (daysBetween(first, p.day) / span) * (width.value - 160)
    let row = ends.findIndex((end) => end < x)
    if (row < 0) row = ends.length
    ends[row] = x + 150
    return { ...p, x, row }
  })
})
const rows = computed(() => Math.max(0, ...laid.value.map((p) => p.row)) + 1)
</script>

<template>
  <div ref="box">
    <svg
      v-if="laid.length"
      :width="width"
      :height="26 + rows * 32"
      role="img"
      :aria-label="laid.map((p) => `${dayText(p.day)}: ${p.text}`).join('; ')"
    >
      <line x1="0" y1="10" :x2="width" y2="10" class="stroke-line" stroke-width="2" />
      <line v-for="(p, i) in laid" :key="i" :x1="p.x" y1="10" :x2="p.x" :y2="40 + p.row * 32" class="stroke-line" />
      <g v-for="(p, i) in laid" :key="`t${i}`">
        <rect :x="p.x + 2" :y="17 + p.row * 32" width="146" height="28" class="fill-paper" />
        <circle :cx="p.x" cy="10" r="4" class="fill-lagoon" />
        <text :x="p.x + 4" :y="28 + p.row * 32" class="fill-ink text-[12px]">
          {{ p.text.length > 22 ? `${p.text.slice(0, 21)}…` : p.text }}
        </text>
        <text :x="p.x + 4" :y="41 + p.row * 32" class="fill-ink-2 text-[11px]">{{ dayText(p.day) }}</text>
      </g>
    </svg>
  </div>
</template>
