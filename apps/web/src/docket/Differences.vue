<script setup lang="ts">
import type { DifferenceOut } from '@heron/contract'
import WeightMark from '../ui/WeightMark.vue'
import { dayText } from '../ui/show'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

/** What would happen to each date, with what it was; ticked ones are taken. */
const props = defineProps<{ list: readonly DifferenceOut[]; shownOnly?: boolean }>()
const take = defineModel<number[]>({ required: true })

const asked = (d: DifferenceOut) =>
  !props.shownOnly && ['moves', 'closes', 'comes in', 'drops out'].includes(d.effect) && !(d.effect === 'moves' && d.leftOut)
const keptText: Record<string, string> = {
  'set by hand': 'set by hand',
  'set by the court': 'set by the court',
  met: 'already met',
  waived: 'waived',
  vacated: 'vacated',
}
function stays(d: DifferenceOut): string {
  const rule = d.becomes ? `; the rule would give ${dayText(d.becomes)}` : ''
  if (d.because === 'set by the court') return `kept as the court set it${rule}`
  if (d.because === 'set by hand') return `kept as set by hand${rule}`
  return 'stays: what is done does not move'
}
function firm(d: DifferenceOut): string {
  if (d.wasTentative !== d.tentative) return d.tentative ? 'now tentative' : 'no longer tentative'
  if (d.wasProvisional !== d.provisional) return d.provisional ? 'now provisional' : 'now exact'
  return ''
}
const newDay = (d: DifferenceOut) =>
  d.effect === 'goes'
    ? 'taken away'
    : d.effect === 'closes'
      ? 'met'
      : d.effect === 'comes in'
        ? dayText(d.was)
        : d.effect === 'drops out'
          ? 'left out'
          : d.effect === 'kept'
            ? dayText(d.was)
            : dayText(d.becomes!)
const columns: Column<DifferenceOut>[] = [
  { key: 'take', text: 'Take', size: 40, headless: true },
  { key: 'new', text: 'New date', size: 112, strong: true, value: newDay },
  { key: 'title', text: 'Deadline', grow: 3, wrap: true, narrow: 'title' },
  {
    key: 'how',
    text: 'How it is counted',
    grow: 2,
    wrap: true,
    quiet: true,
    value: (d) => (d.effect === 'kept' ? stays(d) : d.effect === 'closes' ? 'answered; its deadline is met' : d.howCounted),
  },
  { key: 'was', text: 'Was', size: 104, quiet: true, value: (d) => dayText(d.was) },
]
</script>

<template>
  <DataTable
    label="What changes"
    name="differences"
    plain
    :rows="list"
    :columns="columns"
    :row-id="(d) => d.entryId"
    :row-class="(d) => (d.effect === 'kept' ? 'bg-[#fdfaf2]' : '')"
  >
    <template #cell-take="{ row: d }"
      ><input
        v-if="asked(d)"
        v-model="take"
        type="checkbox"
        :value="d.entryId"
        class="h-[15px] w-[15px] accent-ink"
        :aria-label="`Take ${d.title}`"
    /></template>
    <template #cell-title="{ row: d }">
      <span class="flex gap-2">
        <WeightMark :weight="d.weight" class="min-h-9" />
        <span class="min-w-0">
          <b class="font-semibold">{{ d.title }}</b>
          <span v-if="d.effect === 'kept'" class="tag ml-1 bg-bill-wash text-bill-ink">{{ keptText[d.because ?? ''] }}</span>
          <span v-if="d.leftOut" class="tag ml-1 bg-mist text-ink-2">left out</span>
          <span v-if="firm(d)" class="tag ml-1 bg-lagoon-wash text-lagoon">{{ firm(d) }}</span>
          <span v-if="d.effect === 'moves' && d.beforeRoll && d.beforeRoll !== d.becomes" class="text-ink-2">
            · rolled from {{ dayText(d.beforeRoll) }}</span
          >
          <span class="block text-ink-2">{{ d.authority }}</span>
        </span>
      </span>
    </template>
  </DataTable>
</template>
