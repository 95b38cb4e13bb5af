<script setup lang="ts">
import { BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip } from 'chart.js'
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import { Bar } from 'vue-chartjs'
import { showHours, showMoney } from '../ui/show'
import { showShare } from '../ui/table/columns'

/** A few figures of the greatest groups beside one another; the table below has them all, and a reader is told them. */
const props = defineProps<{
  label: string
  names: readonly string[]
  series: readonly { text: string; values: readonly number[] }[]
  kind: 'money' | 'hours' | 'number' | 'share'
}>()
Chart.register(BarElement, CategoryScale, LinearScale, Tooltip, Legend)
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
const show = (v: number) =>
  props.kind === 'money' ? showMoney(v) : props.kind === 'hours' ? `${showHours(v)} h` : props.kind === 'share' ? showShare(v) : String(v)
const per = computed(() => ({ money: 100, hours: 60, number: 1, share: 100 })[props.kind])
// Told apart by lightness and by their outline, in the order of the legend.
const shades = ['--color-ink', '--color-ink-3', '--color-mist', '--color-paper']
const data = computed(() => ({
  labels: [...props.names],
  datasets: props.series.map((s, i) => ({
    label: s.text,
    data: s.values.map((v) => v / per.value),
    backgroundColor: token(shades[i % shades.length]!),
    borderColor: token('--color-ink'),
    borderWidth: 1,
    maxBarThickness: 26,
  })),
}))
// Where bars stand close, names stand slanted below them.
const narrow = useMediaQuery('(max-width: 699px)')
const font = { family: 'Public Sans Variable, sans-serif', size: 12 }
const options = computed(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  plugins: {
    legend: { display: props.series.length > 1, position: 'top' as const, align: 'start' as const, labels: { font, boxWidth: 14 } },
    tooltip: {
      callbacks: {
        label: (c: { dataset: { label?: string }; raw: unknown }) => `${c.dataset.label ?? ''}: ${show(Number(c.raw) * per.value)}`,
      },
    },
  },
  scales: {
    x: {
      grid: { display: false },
      ticks: {
        font,
        color: token('--color-ink-2'),
        minRotation: narrow.value ? 60 : 0,
        maxRotation: narrow.value ? 60 : 0,
        autoSkip: false,
      },
    },
    y: {
      beginAtZero: true,
      grid: { color: token('--color-line-2') },
      ticks: {
        font,
        color: token('--color-ink-2'),
        callback: (v: number | string) => (props.kind === 'money' ? `$${Number(v).toLocaleString('en-US')}` : String(v)),
      },
    },
  },
}))
/** What fits below a bar; the number of a matter stands above its name. */
function short(text: string): string | string[] {
  const most = narrow.value ? 14 : Math.max(10, Math.floor(150 / props.names.length))
  const cut = (t: string) => (t.length > most ? `${t.slice(0, most - 1)}…` : t)
  const at = text.indexOf(' ')
  return at > 0 && /\d/.test(text.slice(0, at)) ? [text.slice(0, at), cut(text.slice(at + 1))] : cut(text)
}
const shown = computed(() => ({ ...data.value, labels: props.names.map(short) }))
const said = computed(() =>
  props.names.map((n, i) => `${n}: ${props.series.map((s) => `${s.text} ${show(s.values[i] ?? 0)}`).join(', ')}`).join('; '),
)
</script>

<template>
  <div class="relative h-52 max-[699px]:h-72 print:hidden" role="img" :aria-label="`${label}. ${said}`">
    <Bar :data="shown" :options="options" aria-hidden="true" />
  </div>
</template>
