<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { DocketRow } from '@heron/contract'
import { ref, watch } from 'vue'
import PaperChoice from '../notes/PaperChoice.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { plural } from '../ui/show'
import TextField from '../ui/TextField.vue'
import ChainChoice from './ChainChoice.vue'
import Differences from './Differences.vue'
import type { useChange } from './useChange'

/** Fixes one date by order, stipulation or hand; what is counted from it moves only if that is asked for. */
const props = defineProps<{ row: DocketRow; change: ReturnType<typeof useChange>; to?: Day | undefined }>()
const emit = defineEmits<{ done: [] }>()
const c = props.change
const day = ref<Day | null>(props.to ?? props.row.day)
const by = ref<'hand' | 'court'>(props.to ? 'hand' : 'court')
const why = ref('')
const paperId = ref<number | null>(null)
/** An order carries along what is counted from the date, a stipulation does not, unless that is chosen otherwise. */
const chainFollows = ref(by.value === 'court')
const sum = ref('')
watch(by, (b) => (chainFollows.value = b === 'court'))
watch([day, by, chainFollows], () => c.leave())

async function go() {
  if (!c.asked.value) {
    const look = await c.preview({
      kind: 'extend',
      entryId: props.row.id,
      day: day.value!,
      by: by.value,
      chainFollows: chainFollows.value,
      ...(sum.value ? { sum: sum.value } : {}),
    })
    if (look !== false) return
  }
  if (await c.carryOut({ why: why.value, paperId: paperId.value })) emit('done')
}
</script>

<template>
  <form class="space-y-2 border-t border-line-2 pt-2" @submit.prevent="go">
    <DayField
      v-model="day"
      label="New day"
      :rule-set-key="row.ruleSetKey"
      :fault="c.fault('day')"
      :from="row.day"
      hint="A date, or a sum such as +14 or −10 court days, counted from the day it has"
      autofocus
      @sum="sum = $event"
    />
    <ChoiceField
      v-model="by"
      label="Set by"
      :options="[
        { value: 'court', text: 'The court, by order' },
        { value: 'hand', text: 'Us: a stipulation, or by hand' },
      ]"
    />
    <TextField v-model="why" label="Why" :fault="c.fault('why')" />
    <PaperChoice v-model="paperId" :matter-id="row.matterId" />
    <label v-if="row.trigger" class="flex items-center gap-2"
      ><input v-model="chainFollows" type="checkbox" /> What is counted from this date moves with it</label
    >
    <div v-if="c.asked.value && c.chains.value.length" class="-mx-5"><ChainChoice :chains="c.chains.value" @choose="c.choose" /></div>
    <div v-if="c.asked.value && c.shown.value.length" class="-mx-5 border-y border-line-2">
      <Differences v-model="c.take.value" :list="c.shown.value" />
    </div>
    <Btn main type="submit" :busy="c.state.busy">{{
      c.asked.value && c.shown.value.length ? `Move it, and ${plural(c.take.value.length, 'date')} with it` : 'Move the date'
    }}</Btn>
  </form>
</template>
