<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { DocketRow } from '@heron/contract'
import { onMounted, ref, watch } from 'vue'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import { plural } from '../ui/show'
import ChainChoice from './ChainChoice.vue'
import Differences from './Differences.vue'
import type { useChange } from './useChange'

/** Says on which day a duty was done; what is counted from it runs from there, and is shown first. */
const props = defineProps<{ row: DocketRow; change: ReturnType<typeof useChange> }>()
const emit = defineEmits<{ done: [] }>()
const c = props.change
const session = useSession()
const day = ref<Day | null>(session.today)
watch(day, () => c.leave())
const form = ref<HTMLFormElement | null>(null)
onMounted(() => form.value?.querySelector('input')?.focus())

async function go() {
  if (!c.asked.value) {
    const look = await c.preview({ kind: 'meet', entryId: props.row.id, day: day.value! })
    if (look !== false) return
  }
  if (await c.carryOut()) emit('done')
}
</script>

<template>
  <form ref="form" class="space-y-2 border-t border-line-2 pt-2" aria-label="When it was met" @submit.prevent="go">
    <DayField
      v-model="day"
      label="Met on"
      :fault="c.fault('day')"
      :rule-set-key="row.ruleSetKey"
      hint="The day on which it was done: what is counted from it runs from there"
    />
    <div v-if="c.asked.value && c.chains.value.length" class="-mx-5"><ChainChoice :chains="c.chains.value" @choose="c.choose" /></div>
    <div v-if="c.asked.value && c.shown.value.length" class="-mx-5 border-y border-line-2">
      <Differences v-model="c.take.value" :list="c.shown.value" />
    </div>
    <Btn main type="submit" :busy="c.state.busy">{{
      c.asked.value && c.shown.value.length ? `Mark it met, and move ${plural(c.take.value.length, 'date')}` : 'Mark it met'
    }}</Btn>
  </form>
</template>
