<script setup lang="ts">
import { charges } from '@heron/contract'
import { useDebounceFn } from '@vueuse/core'
import { ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

type Row = Answer<typeof api.time.list>['rows'][number]
const props = defineProps<{ matter?: Choice | null; entry?: Row | null; duration?: string; words?: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data: activities } = useLoad(() => api.time.activities())
const matter = ref<Choice | null>(props.entry ? { id: props.entry.matterId, text: props.entry.matter } : (props.matter ?? null))
const day = ref<string | null>(props.entry?.day ?? session.today)
const duration = ref(props.entry ? `${props.entry.workedMinutes}m` : (props.duration ?? ''))
const text = ref(props.entry?.text ?? props.words ?? '')
const activity = ref(props.entry?.activity ?? '')
const charge = ref<(typeof charges)[number]>(props.entry?.charge ?? 'billable')
const rate = ref<number | null>(props.entry?.rateOrigin === 'typed on the entry' ? props.entry.rate : null)
/** What is posted is corrected, with a reason; what stood stays in the log. */
const posted = props.entry?.state === 'posted'
const reason = ref('')
const quoted = ref<Answer<typeof api.time.quote> | null>(null)

const look = useDebounceFn(async () => {
  quoted.value =
    matter.value && day.value && duration.value
      ? await api.time
          .quote({
            matterId: matter.value.id,
            day: day.value,
            duration: duration.value,
            activity: activity.value || null,
            rate: rate.value,
            ...(props.entry ? { userId: props.entry.userId } : {}),
          })
          .catch(() => null)
      : null
}, 200)
watch([matter, day, duration, activity, rate], look, { immediate: true })

const input = () => ({
  matterId: matter.value?.id ?? 0,
  day: day.value ?? '',
  activity: activity.value || null,
  text: text.value,
  duration: duration.value,
  rate: rate.value,
  charge: charge.value,
})
async function save(next: boolean) {
  const kept = await act(async () => {
    if (props.entry && posted) await api.time.correct({ id: props.entry.id, ...input(), reason: reason.value })
    else if (props.entry) await api.time.change({ id: props.entry.id, ...input() })
    else await api.time.record(input())
    return true
  })
  if (!kept) return
  notes.say(
    props.entry
      ? posted
        ? 'Corrected; what it was stays in the log'
        : 'Draft changed'
      : `${quoted.value ? `${showHours(quoted.value.minutes)} h, ${showMoney(quoted.value.amount)}` : 'Time'} kept as a draft`,
  )
  session.changed()
  if (!next) return emit('close')
  // The next line stands open with the same matter and day.
  duration.value = ''
  text.value = ''
  rate.value = null
}
</script>

<template>
  <SideSheet
    :title="posted ? 'Correct posted time' : entry ? 'Change a draft' : 'Record time'"
    :save="posted ? 'Correct' : 'Keep as draft'"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="duration !== '' || text !== ''"
    @save="save(false)"
    @close="emit('close')"
  >
    <Picker v-model="matter" label="Matter" :search="searchMatters" :fault="fault('matterId')" :autofocus="!matter" />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="duration" label="Time" hint="0.7, 1:30 or 90m" :fault="fault('duration')" :autofocus="Boolean(matter)" />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <TextField v-model="text" label="What was done" :lines="3" :fault="fault('text')" />
    <ChoiceField
      v-model="activity"
      label="Activity"
      optional
      :options="[{ value: '', text: 'None' }, ...(activities ?? []).map((a) => ({ value: a.code, text: `${a.name} (${a.code})` }))]"
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField v-model="charge" label="Charge" :options="charges.map((c) => ({ value: c, text: c }))" />
      <MoneyField v-model="rate" label="Rate for this entry" optional :fault="fault('rate')" />
    </div>
    <TextField v-if="posted" v-model="reason" label="Why it is corrected" :fault="fault('reason')" />
    <p v-if="quoted" class="rounded-control bg-mist px-3 py-2" role="status" aria-label="Comes to">
      <b>{{ showHours(quoted.minutes) }} h</b> × {{ showMoney(quoted.rate) }} = <b>{{ showMoney(quoted.amount) }}</b>
      <span class="text-ink-2">{{ quoted.origin }}</span>
    </p>
    <template #more><Btn v-if="!entry" :busy="state.busy" @click="save(true)">Keep and next line</Btn></template>
  </SideSheet>
</template>
