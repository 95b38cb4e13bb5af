<script setup lang="ts">
import { addUp, readDay, readDaySum, showDay, weekdaysOnly, type Day } from '@heron/core/calendar'
import { ref, watch } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import Field from './Field.vue'

/**
 * A date, typed as people write it, or as a sum: `+90`, `30 Mar 2027 − 10 court days`, `+3 months`. Court days are counted by
 * the rules of `ruleSetKey`, or by the federal courts; the sum in words is told, so that it can stay with the date.
 */
const model = defineModel<Day | null>({ required: true })
const props = defineProps<{
  label: string
  fault?: string | undefined
  hint?: string
  optional?: boolean
  autofocus?: boolean
  ruleSetKey?: string | null
  /** The day that the field moves: a sum without a day of its own starts there, and else at the day it held. */
  from?: Day | null
}>()
const emit = defineEmits<{ sum: [words: string] }>()
const session = useSession()
const shown = (day: Day | null) => (day ? showDay(day) : '')
const text = ref(shown(model.value))
/** Where a sum such as `+14` starts: what is moved, else what stood in the field, else today. */
const start = () => props.from || held.value || session.today
const held = ref(model.value)
const wrong = ref('')
const sum = ref('')

watch(model, (v) => {
  if (readDay(text.value, session.today) === v || readDaySum(text.value, session.today)) return
  held.value = v
  wrong.value = ''
  text.value = shown(v)
})
/** What the text gives now: a day, or none yet. */
function take(): Day | null {
  wrong.value = ''
  sum.value = ''
  const asked = readDaySum(text.value, session.today, start())
  if (asked) {
    // Court days wait for the court's calendar until the field is left.
    const found = asked.unit === 'courtDay' ? null : addUp(asked, weekdaysOnly)
    sum.value = found?.text ?? ''
    return (model.value = found?.day ?? null)
  }
  const day = text.value.trim() ? readDay(text.value, session.today) : null
  if (text.value.trim() && !day) wrong.value = 'Give a date like 25 Nov, 11/25/2026 or today, or a sum like +30 or −10 court days'
  return (model.value = day)
}
async function settle() {
  let day = take()
  const typed = text.value
  const asked = readDaySum(text.value, session.today, start())
  if (asked?.unit === 'courtDay') {
    const found = await api.docket
      .sum({ text: text.value, from: asked.base, ...(props.ruleSetKey ? { ruleSetKey: props.ruleSetKey } : {}) })
      .catch(() => null)
    // More was typed while the sum was away.
    if (typed !== text.value) return
    if (!found) wrong.value = 'This sum could not be worked out. Try again.'
    sum.value = found?.text ?? ''
    day = model.value = found?.day ?? null
  }
  if (day) {
    text.value = shown(day)
    held.value = day
  }
  emit('sum', sum.value)
}
const said = () => wrong.value || props.fault || undefined
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="said()" :hint="sum || hint" :optional="optional">
    <input
      :id="id"
      v-model="text"
      class="control"
      autocomplete="off"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :data-unread="wrong ? label : undefined"
      :data-autofocus="autofocus || undefined"
      @input="take"
      @change="settle"
      @focus="($event.target as HTMLInputElement).select()"
    />
  </Field>
</template>
