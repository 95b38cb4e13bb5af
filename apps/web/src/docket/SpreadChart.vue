<script setup lang="ts">
import { BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js'
import { computed } from 'vue'
import { Bar } from 'vue-chartjs'

/** How many fall into each span of days; the figures stand beside it in words for whoever does not see it. */
const props = defineProps<{ bars: { from: number; to: number; count: number }[]; median: number | null }>()
Chart.register(BarElement, CategoryScale, LinearScale, Tooltip)
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
const name = (b: { from: number; to: number }) => (b.from === b.to ? String(b.from) : `${b.from}–${b.to}`)
const holdsMedian = (b: { from: number; to: number }) => props.median !== null && b.from <= props.median && props.median < b.to + 1
const data = computed(() => ({
  labels: props.bars.map(name),
  datasets: [
    {
      data: props.bars.map((b) => b.count),
      backgroundColor: props.bars.map((b) => token(holdsMedian(b) ? '--color-ink' : '--color-ink-3')),
      barPercentage: 0.94,
      categoryPercentage: 1,
    },
  ],
}))
const font = { family: 'Public Sans Variable, sans-serif', size: 12 }
const options = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  plugins: { tooltip: { displayColors: false, callbacks: { title: (of: { label: string }[]) => `${of[0]?.label} days` } } },
  scales: {
    x: { grid: { display: false }, ticks: { font, color: token('--color-ink-2') }, title: { display: true, text: 'days', font } },
    y: { beginAtZero: true, ticks: { precision: 0, font, color: token('--color-ink-2') }, grid: { color: token('--color-line-2') } },
  },
}
const said = computed(() => props.bars.map((b) => `${name(b)} days: ${b.count}`).join('; '))
</script>

<template>
  <div class="relative h-56" role="img" :aria-label="`Spread. ${said}`">
    <Bar :data="data" :options="options" aria-hidden="true" />
  </div>
  <p class="mt-1 text-sm text-ink-2">The dark bar holds the median.</p>
</template>
