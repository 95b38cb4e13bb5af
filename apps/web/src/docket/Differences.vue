<script setup lang="ts">
import type { DifferenceOut } from '@heron/contract'
import WeightMark from '../ui/WeightMark.vue'
import { dayText } from '../ui/show'

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
</script>

<template>
  <table class="w-full text-left" aria-label="What changes">
    <thead>
      <tr class="[&_th]:pb-2 [&_th]:text-sm [&_th]:font-medium [&_th]:text-ink-2">
        <th class="w-9 pl-4"><span class="sr-only">Take</span></th>
        <th class="w-[112px] pr-2.5 text-right">New date</th>
        <th class="w-4"><span class="sr-only">Weight</span></th>
        <th class="px-2.5">Deadline</th>
        <th class="w-[230px]">How it is counted</th>
        <th class="w-[96px] pr-4 text-right">Was</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="d in list" :key="d.entryId" class="border-t border-line-2 align-top" :class="d.effect === 'kept' && 'bg-[#fdfaf2]'">
        <td class="pt-2 pl-4">
          <input
            v-if="asked(d)"
            v-model="take"
            type="checkbox"
            :value="d.entryId"
            class="h-[15px] w-[15px] accent-ink"
            :aria-label="`Take ${d.title}`"
          />
        </td>
        <td class="py-[7px] pr-2.5 text-right font-semibold whitespace-nowrap">{{ newDay(d) }}</td>
        <td class="h-px"><WeightMark :weight="d.weight" class="block h-full min-h-11" /></td>
        <td class="px-2.5 py-[7px]">
          <b class="font-semibold">{{ d.title }}</b>
          <span v-if="d.effect === 'kept'" class="tag ml-1 bg-bill-wash text-bill-ink">{{ keptText[d.because ?? ''] }}</span>
          <span v-if="d.leftOut" class="tag ml-1 bg-mist text-ink-2">left out</span>
          <span v-if="firm(d)" class="tag ml-1 bg-lagoon-wash text-lagoon">{{ firm(d) }}</span>
          <span v-if="d.effect === 'moves' && d.beforeRoll && d.beforeRoll !== d.becomes" class="text-ink-2">
            · rolled from {{ dayText(d.beforeRoll) }}</span
          >
          <span class="block text-ink-2">{{ d.authority }}</span>
        </td>
        <td class="py-[7px] pr-2 text-ink-2">
          {{ d.effect === 'kept' ? stays(d) : d.effect === 'closes' ? 'answered; its deadline is met' : d.howCounted }}
        </td>
        <td class="py-[7px] pr-4 text-right whitespace-nowrap text-ink-2">{{ dayText(d.was) }}</td>
      </tr>
    </tbody>
  </table>
</template>
