<script setup lang="ts">
import { daysBetween } from '@heron/core/calendar'
import { computed } from 'vue'
import { dayText } from '../ui/show'

const props = defineProps<{ points: { text: string; day: string | null }[] }>()
const width = 680
/** Points along the line, to scale, with those too near one another put in rows below. */
const laid = computed(() => {
  const dated = props.points.filter((p): p is { text: string; day: string } => p.day !== null).sort((a, b) => (a.day < b.day ? -1 : 1))
  const first = dated[0]?.day
  const last = dated.at(-1)?.day
  if (!first || !last) return []
  const span = Math.max(1, daysBetween(first, last))
  const ends: number[] = []
  return dated.map((p) => {
    const x = 10 + (daysBetween(first, p.day) / span) * (width - 150)
    let row = ends.findIndex((end) => end < x)
    if (row < 0) row = ends.length
    ends[row] = x + 132
    return { ...p, x, row }
  })
})
const rows = computed(() => Math.max(0, ...laid.value.map((p) => p.row)) + 1)
</script>

<template>
  <svg
    v-if="laid.length"
    :viewBox="`0 0 ${width} ${26 + rows * 30}`"
    class="w-full"
    role="img"
    :aria-label="laid.map((p) => `${dayText(p.day)}: ${p.text}`).join('; ')"
  >
    <line x1="0" y1="10" :x2="width" y2="10" class="stroke-line" stroke-width="2" />
    <g v-for="p in laid" :key="`${p.text}${p.day}`">
      <line :x1="p.x" y1="10" :x2="p.x" :y2="18 + p.row * 30" class="stroke-line" />
      <circle :cx="p.x" cy="10" r="4" class="fill-lagoon" />
      <text :x="p.x + 3" :y="28 + p.row * 30" class="fill-ink text-[11px]">
        {{ p.text.length > 22 ? `${p.text.slice(0, 21)}…` : p.text }}
      </text>
      <text :x="p.x + 3" :y="40 + p.row * 30" class="fill-ink-2 text-[10px]">{{ dayText(p.day) }}</text>
    </g>
  </svg>
</template>
