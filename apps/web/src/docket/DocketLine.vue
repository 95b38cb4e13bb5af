<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { computed } from 'vue'
import WeightMark from '../ui/WeightMark.vue'
import { dayText, serviceText, timeText } from '../ui/show'

const props = defineProps<{ row: DocketRow; showMatter?: boolean }>()
defineEmits<{ open: [] }>()
const ends = computed(() => {
  const r = props.row
  if (r.time) return timeText(r.time)
  return r.dayEnds ? `by ${r.dayEnds}` : 'all day'
})
const from = computed(() => {
  const r = props.row
  const bits = [props.showMatter ? r.matter : '', r.place]
  if (r.trigger) bits.push(`${r.trigger.label} ${dayText(r.trigger.day)}${r.trigger.service ? ` ${serviceText(r.trigger.service)}` : ''}`)
  if (r.setBy !== 'rule' && r.trigger && r.ruleDay && r.ruleDay !== r.day) bits.push(`the rule gives ${dayText(r.ruleDay)}`)
  else if (r.mark === 'met' && r.metOn) bits.push(`met on ${dayText(r.metOn)}`)
  else if (r.beforeRoll && r.beforeRoll !== r.day) bits.push(`rolled from ${dayText(r.beforeRoll)}`)
  return bits.filter(Boolean).join(' · ')
})
</script>

<template>
  <button
    type="button"
    class="grid w-full grid-cols-[86px_14px_minmax(0,1fr)_auto] text-left hover:bg-[#f7f9f9] max-[699px]:grid-cols-[76px_14px_minmax(0,1fr)]"
    :class="row.leftOut && 'bg-[#f7f9f9]'"
    @click="$emit('open')"
  >
    <span class="py-2 pr-2.5 text-right text-sm whitespace-nowrap text-ink-2 max-[699px]:whitespace-normal">{{ ends }}</span>
    <WeightMark :weight="row.weight" />
    <span class="min-w-0 px-2.5 py-[7px]">
      <span v-if="row.urgent" class="tag mr-1 bg-rust-wash text-rust">urgent</span>
      <span v-if="row.mark !== 'open'" class="tag mr-1 bg-plume-wash text-plume">{{ row.mark }}</span>
      <b class="font-semibold">{{ row.title }}</b>
      <span v-if="row.weight === 'strict'" class="tag ml-1 bg-mist text-ink">strict</span>
      <span v-if="row.offCalendar" class="tag ml-1 bg-mist text-ink-2">off calendar</span>
      <span v-if="row.tentative" class="tag ml-1 bg-bill-wash text-bill-ink">tentative</span>
      <span v-if="row.provisional" class="tag ml-1 bg-bill-wash text-bill-ink">provisional</span>
      <span v-if="row.trigger && row.setBy !== 'rule'" class="tag ml-1 bg-mist text-ink">{{
        row.setBy === 'court' ? 'set by the court' : 'set by hand'
      }}</span>
      <span class="block truncate text-ink-2">{{ from }}</span>
    </span>
    <span
      class="py-2 pr-3.5 pl-2 text-right text-sm whitespace-nowrap text-ink-2 max-[699px]:col-start-3 max-[699px]:pt-0 max-[699px]:text-left"
      >{{ row.weight === 'firm practice' ? 'Firm practice' : row.authority
      }}<template v-if="!row.authority && row.lengthMinutes">{{ row.lengthMinutes }} min</template></span
    >
  </button>
</template>
