<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { charges, type FieldValues } from '@heron/contract'
import { taskCodes } from '@heron/core/billing'
import { computed, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import FieldInputs from '../fields/FieldInputs.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { useQuote } from '../ui/quote'
import { searchMatters } from '../ui/search'
import { showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import ManyField from '../ui/ManyField.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import PhraseField from './PhraseField.vue'
import { useTimeSetUp } from './set-up'

type Row = Answer<typeof api.time.list>['rows'][number]
const props = defineProps<{
  matter?: Choice | null
  entry?: Row | null
  duration?: string
  words?: string
  day?: Day
  activity?: string
}>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const setUp = useTimeSetUp()
void setUp.ready()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()).catch(() => null))
const matter = ref<Choice | null>(props.entry ? { id: props.entry.matterId, text: props.entry.matter } : (props.matter ?? null))
const day = ref<Day | null>(props.entry?.day ?? props.day ?? session.today)
const alone = props.entry?.rateOrigin === 'amount alone'
const how = ref<'time' | 'times' | 'amount'>(alone ? 'amount' : props.entry?.start ? 'times' : 'time')
const hows = computed(() => [
  { value: 'time' as const, text: 'Time' },
  ...(setUp.uses('times') || props.entry?.start ? [{ value: 'times' as const, text: 'From – to' }] : []),
  ...(setUp.uses('amount') || alone ? [{ value: 'amount' as const, text: 'Amount' }] : []),
])
const start = ref(props.entry?.start ?? '')
const end = ref(props.entry?.end ?? '')
const sum = ref<number | null>(alone ? props.entry!.amount : null)
const task = ref(props.entry?.task ?? '')
const inCourt = ref(props.entry?.inCourt ?? false)
const privateAttorney = ref(props.entry?.privateAttorney ?? false)
/** −1: as usual on the matter. */
const fundingId = ref(props.entry ? (props.entry.fundingId ?? 0) : -1)
const noting = ref(false)
const note = ref('')
const noteTo = ref<number[]>([])
const noteEmail = ref('')
const duration = ref(props.entry && !alone ? `${props.entry.workedMinutes}m` : (props.duration ?? ''))
const text = ref(props.entry?.text ?? props.words ?? '')
/** What was filled in for whoever opened it is not typed, and is not missed where it is left. */
const began = ref({ duration: duration.value, text: text.value })
const activity = ref(props.entry?.activity ?? props.activity ?? '')
const charge = ref<(typeof charges)[number]>(props.entry?.charge ?? 'billable')
const rate = ref<number | null>(props.entry?.rateOrigin === 'typed on the entry' ? props.entry.rate : null)
/** What is posted is corrected, with a reason; what stood stays in the log. */
const posted = props.entry?.state === 'posted'
const reason = ref('')
/** Fields of the firm's own: those of an entry are read before they are shown, so that none is written over unseen. */
const fields = ref<FieldValues | null>(props.entry ? null : {})
if (props.entry)
  void api.time.ownFields({ id: props.entry.id }).then(
    (v) => (fields.value = v),
    () => undefined,
  )

const spent = () => ({
  duration: how.value === 'time' ? duration.value : '',
  start: how.value === 'times' ? start.value || null : null,
  end: how.value === 'times' ? end.value || null : null,
  amount: how.value === 'amount' ? (sum.value ?? 0) : null,
})
const { shown: quoted, now: quotedNow } = useQuote(
  () => ({
    matterId: matter.value?.id ?? 0,
    day: day.value ?? '',
    ...spent(),
    activity: activity.value || null,
    rate: rate.value,
    ...(props.entry ? { userId: props.entry.userId } : {}),
  }),
  (asked) => (asked.matterId && asked.day && (asked.duration || (asked.start && asked.end) || asked.amount) ? api.time.quote(asked) : null),
)

const input = () => ({
  matterId: matter.value?.id ?? 0,
  day: day.value ?? '',
  activity: activity.value || null,
  text: text.value,
  ...spent(),
  rate: rate.value,
  charge: charge.value,
  task: task.value || null,
  inCourt: inCourt.value,
  privateAttorney: privateAttorney.value,
  ...(setUp.groups.length && fields.value ? { fields: fields.value } : {}),
  ...(fundingId.value < 0 ? {} : { fundingId: fundingId.value || null }),
})
const withNote = () =>
  noting.value && note.value.trim() ? { note: { text: note.value, toIds: noteTo.value, email: noteEmail.value.trim() } } : {}
const { state, fault, send } = useForm(() => {
  if (props.entry && posted) return api.time.correct({ id: props.entry.id, ...input(), reason: reason.value })
  if (props.entry) return api.time.change({ id: props.entry.id, ...input() })
  return api.time.record({ ...input(), ...withNote() })
})

async function save(next: boolean) {
  const told = quotedNow()
  if (!(await send())) return
  notes.say(
    props.entry
      ? posted
        ? 'Corrected; what it was stays in the log'
        : 'Draft changed'
      : `${told ? `${told.minutes ? `${showHours(told.minutes)} h, ` : ''}${showMoney(told.amount)}` : 'Time'} kept as a draft`,
  )
  session.changed()
  if (!next) return emit('close')
  // The next line stands open with the same matter and day.
  began.value = { duration: '', text: '' }
  duration.value = ''
  start.value = end.value
  end.value = ''
  sum.value = null
  text.value = ''
  rate.value = null
  fields.value = {}
  noting.value = false
  note.value = ''
}
</script>

<template>
  <SideSheet
    :title="posted ? 'Correct posted time' : entry ? 'Change a draft' : 'Record time'"
    :save="posted ? 'Correct' : 'Keep as draft'"
    :busy="state.busy"
    :message="state.said"
    :changed="duration !== began.duration || text !== began.text"
    @save="save(false)"
    @close="emit('close')"
  >
    <Picker v-model="matter" label="Matter" :search="searchMatters" :fault="fault('matterId')" :autofocus="!matter" />
    <Switch v-if="hows.length > 1" v-model="how" label="Recorded by" :options="hows" />
    <div class="grid stacks gap-3" :class="how === 'times' ? 'grid-cols-[1fr_1fr_1.2fr]' : 'grid-cols-2'">
      <TextField
        v-if="how === 'time'"
        v-model="duration"
        label="Time"
        hint="0.7, 1:30 or 90m"
        :fault="fault('duration')"
        :autofocus="Boolean(matter)"
      />
      <template v-else-if="how === 'times'">
        <TimeField v-model="start" label="From" :fault="fault('start')" />
        <TimeField v-model="end" label="To" :fault="fault('end')" />
      </template>
      <MoneyField v-else v-model="sum" label="Amount" hint="Without hours" :fault="fault('amount')" />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <PhraseField v-model="text" label="What was done" :matter-id="matter?.id" :fault="fault('text')" />
    <ChoiceField
      v-if="setUp.uses('activity') || activity"
      v-model="activity"
      label="Activity"
      optional
      :options="[{ value: '', text: 'None' }, ...setUp.activities.map((a) => ({ value: a.code, text: `${a.name} (${a.code})` }))]"
    />
    <ChoiceField
      v-if="setUp.uses('task')"
      v-model="task"
      label="Task"
      optional
      :fault="fault('task')"
      :options="[{ value: '', text: 'None' }, ...taskCodes.map(([code, name]) => ({ value: code, text: `${code} ${name}` }))]"
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField v-model="charge" label="Charge" :options="charges.map((c) => ({ value: c, text: c }))" />
      <MoneyField v-if="how !== 'amount'" v-model="rate" label="Rate for this entry" optional :fault="fault('rate')" />
    </div>
    <ChoiceField
      v-if="setUp.uses('funding')"
      v-model="fundingId"
      label="Funding source"
      :fault="fault('fundingId')"
      :options="[
        ...(entry ? [] : [{ value: -1, text: 'As usual on the matter' }]),
        { value: 0, text: 'None' },
        ...setUp.funding.filter((f) => !f.retired || f.id === fundingId).map((f) => ({ value: f.id, text: f.name })),
      ]"
    />
    <div v-if="setUp.uses('court') || setUp.uses('private attorney')" class="flex flex-wrap gap-x-5 gap-y-1">
      <label v-if="setUp.uses('court')" class="flex items-center gap-2"
        ><input v-model="inCourt" type="checkbox" class="accent-ink" /> In court</label
      >
      <label v-if="setUp.uses('private attorney')" class="flex items-center gap-2"
        ><input v-model="privateAttorney" type="checkbox" class="accent-ink" /> Private attorney involved</label
      >
    </div>
    <FieldInputs v-if="setUp.groups.length && fields" v-model="fields" :groups="setUp.groups" :area-id="null" :fault="fault" />
    <template v-if="!entry && setUp.uses('note')">
      <label class="flex items-center gap-2"><input v-model="noting" type="checkbox" class="accent-ink" /> With a note to the file</label>
      <template v-if="noting">
        <TextField v-model="note" label="Note" :lines="3" :fault="fault('note.text')" />
        <ManyField
          v-if="setting"
          v-model="noteTo"
          label="Tell colleagues"
          optional
          :options="setting.staff.filter((p) => p.id !== session.me?.id).map((p) => ({ id: p.id, text: p.name }))"
        />
        <TextField v-model="noteEmail" label="Send it by e-mail to" optional :fault="fault('note.email')" />
      </template>
    </template>
    <TextField v-if="posted" v-model="reason" label="Why it is corrected" :fault="fault('reason')" />
    <p v-if="quoted" class="rounded-control bg-mist px-3 py-2" role="status" aria-label="Comes to">
      <template v-if="quoted.minutes"
        ><b>{{ showHours(quoted.minutes) }} h</b> × {{ showMoney(quoted.rate) }} = </template
      ><b>{{ showMoney(quoted.amount) }}</b>
      <span class="text-ink-2">{{ quoted.origin }}</span>
      <span v-if="quoted.budget && charge === 'billable'" class="block" :class="quoted.budget.percent > 100 ? 'text-rust' : 'text-ink-2'"
        >This takes the matter to {{ quoted.budget.percent }} % of its {{ quoted.budget.capped ? 'cap' : 'budget'
        }}{{ quoted.budget.left < 0 ? `, ${showMoney(-quoted.budget.left)} beyond it` : '' }}.</span
      >
    </p>
    <template #more><Btn v-if="!entry" :busy="state.busy" @click="save(true)">Keep and next line</Btn></template>
  </SideSheet>
</template>
