<script setup lang="ts">
import { addYears, isDay, recurrences, showRecurrence, writeRecurrence, type Frequency, type Day } from '@heron/core/calendar'
import { computed, reactive, watch } from 'vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText } from '../ui/show'
import TextField from '../ui/TextField.vue'

/** How a date recurs, as a rule of RFC 5545; what it gives is shown in words and in its first days. */
const rule = defineModel<string | null>({ required: true })
const props = defineProps<{ first: Day | null; fault?: string }>()
const form = reactive({
  freq: '' as '' | Frequency,
  interval: '1',
  on: [] as number[],
  monthEnd: false,
  ends: 'never' as 'never' | 'until' | 'count',
  until: null as Day | null,
  count: '',
})
const units: Record<Frequency, string> = { DAILY: 'days', WEEKLY: 'weeks', MONTHLY: 'months', YEARLY: 'years' }
const dayNames = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const whole = (text: string, most: number) => (/^\d+$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= most ? Number(text) : 0)
/** What cannot be read as it stands: a rule without it would say something else, such as one without an end. */
const unread = computed(() => {
  if (!form.freq) return undefined
  if (!whole(form.interval, 999)) return `Every how many ${units[form.freq]}`
  if (form.ends === 'until' && !form.until) return 'Last day'
  return form.ends === 'count' && !whole(form.count, 9999) ? 'How many times' : undefined
})
watch(
  [form, () => props.first],
  () => {
    rule.value =
      form.freq && props.first && isDay(props.first) && !unread.value
        ? writeRecurrence(
            {
              freq: form.freq,
              interval: whole(form.interval, 999),
              on: form.on,
              monthEnd: form.monthEnd,
              until: form.ends === 'until' ? form.until : null,
              count: form.ends === 'count' ? whole(form.count, 9999) : null,
            },
            props.first,
          )
        : null
  },
  { deep: true },
)
const said = computed(() => {
  if (!rule.value || !props.first) return ''
  try {
    const days = recurrences(rule.value, props.first, addYears(props.first, 30), 4)
    const shown = days.slice(0, 3).map((d) => dayText(d))
    return `${showRecurrence(rule.value, props.first)}: ${shown.join(', ')}${days.length > 3 ? ' and so on' : ''}`
  } catch {
    return ''
  }
})
</script>

<template>
  <div class="space-y-2" tabindex="-1" :data-unread="unread">
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField
        v-model="form.freq"
        label="Recurs"
        :fault="fault"
        :options="[
          { value: '', text: 'Once only' },
          { value: 'DAILY', text: 'By days' },
          { value: 'WEEKLY', text: 'By weeks' },
          { value: 'MONTHLY', text: 'By months' },
          { value: 'YEARLY', text: 'By years' },
        ]"
      />
      <TextField v-if="form.freq" v-model="form.interval" :label="`Every how many ${units[form.freq]}`" />
    </div>
    <template v-if="form.freq">
      <div v-if="form.freq === 'WEEKLY'" role="group" aria-label="On which days" class="flex flex-wrap gap-3">
        <label v-for="(d, i) in dayNames" :key="d" class="flex items-center gap-1.5"
          ><input v-model="form.on" type="checkbox" :value="i + 1" /> {{ d }}</label
        >
      </div>
      <label v-if="form.freq === 'MONTHLY' || form.freq === 'YEARLY'" class="flex items-center gap-2"
        ><input v-model="form.monthEnd" type="checkbox" /> On the last day of the month</label
      >
      <div class="grid stacks grid-cols-2 gap-3">
        <ChoiceField
          v-model="form.ends"
          label="Until"
          :options="[
            { value: 'never', text: 'it is ended' },
            { value: 'until', text: 'a last day' },
            { value: 'count', text: 'a number of times' },
          ]"
        />
        <DayField v-if="form.ends === 'until'" v-model="form.until" label="Last day" />
        <TextField v-if="form.ends === 'count'" v-model="form.count" label="How many times" />
      </div>
      <p v-if="said" class="text-ink-2" role="status">{{ said }}</p>
    </template>
  </div>
</template>
