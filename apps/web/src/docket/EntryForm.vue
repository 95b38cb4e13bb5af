<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { DocketRow } from '@heron/contract'
import type { Unit } from '@heron/core/calendar'
import { computed, reactive, ref } from 'vue'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import ManyField from '../ui/ManyField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import { searchPapers } from '../ui/search'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { typedNumber, useLoad } from '../use'
import RepeatsField from './RepeatsField.vue'

/** A date of its own, or what a date says: title, hour, place, who takes part. A counted day moves elsewhere. */
const props = defineProps<{
  matterId: number
  matterName?: string | undefined
  row?: DocketRow
  ruleSetKey?: string | null
  /** Where on a calendar it was begun. */
  at?: { day: Day; time: string }
  /** The paper that it comes of. */
  paperId?: number | null
}>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const { data: papers } = useLoad(() =>
  session.may('papers.see') ? api.papers.list({ matterId: props.matterId, size: 100 }) : Promise.resolve({ rows: [], total: 0 }),
)
const { data: comesOf } = useLoad(() => (props.paperId ? api.papers.one({ id: props.paperId }) : Promise.resolve(null)))
/** The first of the matter's papers, and those of this date, however old. */
const paperChoices = computed(() =>
  [...(papers.value?.rows ?? []), ...(props.row?.papers ?? []), ...(comesOf.value ? [comesOf.value] : [])]
    .map((p) => ({ id: p.id, text: p.name }))
    .filter((p, i, all) => all.findIndex((o) => o.id === p.id) === i),
)
const findPapers = searchPapers(props.matterId)
const was = props.row
/** Neither a rule counted it nor did the court set it: its day may simply be another. */
const free = !was || (!was.trigger && was.setBy !== 'court')
const weight = ref<'appointment' | 'court order' | 'firm practice'>('appointment')
const sum = ref('')
let version = was?.version ?? 0
const formOf = (e?: DocketRow) => ({
  title: e?.title ?? '',
  day: (e?.day ?? props.at?.day ?? session.today) as Day | null,
  text: e?.text ?? '',
  time: e?.time ?? props.at?.time ?? '',
  minutes: e?.lengthMinutes ? String(e.lengthMinutes) : '',
  place: e?.place ?? '',
  meetingLink: e?.meetingLink ?? '',
  responsibleId: e?.responsibleId ?? 0,
  urgent: e?.urgent ?? false,
  offCalendar: e?.offCalendar ?? false,
  tags: (e?.tags ?? []).join(', '),
  attendeeIds: (e?.attendees ?? []).map((a) => a.id),
  paperIds: e ? e.papers.map((p) => p.id) : props.paperId ? [props.paperId] : [],
  following: false,
})
const form = reactive(formOf(was))
const repeats = ref<string | null>(null)
const notice = reactive({ on: false, title: '', count: '30', unit: 'day' as Exclude<Unit, 'clearDay'> })
const noticeBefore = JSON.stringify(notice)
const staff = computed(() => (setting.value?.staff ?? []).map((s) => ({ id: s.id, text: s.name, hint: s.title })))
const people = computed(() => [
  { value: 0, text: was ? 'Nobody named' : 'The lead lawyer' },
  ...staff.value.map((s) => ({ value: s.id, text: s.text })),
])
const namesOf = (list: readonly { id: number; text: string }[], ids: readonly number[]) =>
  list.flatMap((x) => (ids.includes(x.id) ? [x.text] : [])).join(', ')
const meanwhile = useMeanwhile(form, {
  title: 'Title',
  day: 'On',
  time: 'At',
  minutes: 'Minutes',
  place: 'Place',
  meetingLink: 'Address of a video meeting',
  responsibleId: ['Responsible', (id) => people.value.find((p) => p.value === id)?.text ?? ''],
  attendeeIds: ['Who takes part', (ids) => namesOf(staff.value, ids)],
  text: 'What must be done',
  tags: 'Tags',
  paperIds: ['Papers', (ids) => namesOf(paperChoices.value, ids)],
  urgent: 'Urgent',
  offCalendar: 'Off calendar',
  following: 'The later dates of this series',
})
const changed = computed(() => meanwhile.changed.value || JSON.stringify(notice) !== noticeBefore || repeats.value !== null)
const words = () => ({
  title: form.title,
  text: form.text,
  time: form.time.trim() || null,
  lengthMinutes: typedNumber(form.minutes),
  place: form.place,
  meetingLink: form.meetingLink.trim(),
  responsibleId: form.responsibleId || null,
  urgent: form.urgent,
  offCalendar: form.offCalendar,
  attendeeIds: form.attendeeIds,
  paperIds: form.paperIds,
  tags: form.tags
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean),
})

const { state, fault, send } = useForm(() => {
  if (was)
    return api.docket.change({
      id: was.id,
      ...words(),
      following: form.following,
      version,
      ...(free ? { day: form.day ?? '' } : {}),
    })
  return api.docket.addEntry({
    id: props.matterId,
    ...words(),
    weight: weight.value,
    day: form.day ?? '',
    sum: sum.value,
    authority: weight.value === 'court order' ? 'Court order' : '',
    repeats: repeats.value,
    notice: repeats.value && notice.on ? { title: notice.title, count: typedNumber(notice.count) ?? 0, unit: notice.unit } : null,
  })
})
async function save() {
  const done = await meanwhile.save(state, send, async () => {
    const now = await api.docket.entry({ id: was!.id })
    version = now.version
    // Whether later dates follow is a choice of this save alone.
    return { ...formOf(now), following: form.following }
  })
  if (!done) return
  const many = 'entries' in done && done.entries > 1 ? `; ${plural(done.entries, 'date')} so far` : ''
  const was2 = was && free && form.day && form.day !== was.day ? ` moved to ${dayText(form.day)}` : ' changed'
  const sent = was?.sentTo.some((s) => !s.withdrawn) ? '. Those outside have it as it was; open it to send it again' : ''
  notes.say(was ? `${form.title}${was2}${sent}` : `${form.title} docketed${many}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="was ? 'Change the entry' : matterName ? `New date, ${matterName}` : 'New date'"
    :save="was ? 'Save' : 'Docket it'"
    :busy="state.busy"
    wide
    :message="state.said"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <Meanwhile :of="meanwhile" />
    <TextField v-model="form.title" label="Title" :fault="fault('title')" autofocus />
    <div class="grid stacks grid-cols-2 items-start gap-3">
      <ChoiceField
        v-if="!was"
        v-model="weight"
        label="Weight"
        :options="[
          { value: 'appointment', text: 'Appointment' },
          { value: 'court order', text: 'Court order: a date the court fixed' },
          { value: 'firm practice', text: 'Firm practice: a date of our own' },
        ]"
      />
      <DayField
        v-if="free"
        v-model="form.day"
        label="On"
        :rule-set-key="ruleSetKey ?? was?.ruleSetKey"
        :from="was?.day"
        :fault="fault('day')"
        hint="A date, or a sum such as +90 or 30 Mar 2027 − 10 court days"
        @sum="sum = $event"
      />
      <TimeField v-model="form.time" label="At" optional :fault="fault('time')" hint="Without an hour it is all day" />
      <TextField v-model="form.minutes" label="Minutes" optional placeholder="60" :fault="fault('lengthMinutes')" />
      <TextField v-model="form.place" label="Place" optional :fault="fault('place')" />
      <TextField v-model="form.meetingLink" label="Address of a video meeting" optional :fault="fault('meetingLink')" />
      <ChoiceField v-model="form.responsibleId" label="Responsible" :options="people" :fault="fault('responsibleId')" />
      <ManyField v-model="form.attendeeIds" label="Who takes part" optional :options="staff" :fault="fault('attendeeIds')" />
    </div>
    <RepeatsField v-if="!was" v-model="repeats" :first="form.day" :fault="fault('repeats')" />
    <template v-if="repeats">
      <label class="flex items-center gap-2"
        ><input v-model="notice.on" type="checkbox" /> A date before each one, such as the last day to give notice</label
      >
      <div v-if="notice.on" class="grid stacks grid-cols-[1fr_90px_150px] items-start gap-3">
        <TextField v-model="notice.title" label="What by then" placeholder="Give notice of renewal" :fault="fault('notice.title')" />
        <TextField v-model="notice.count" label="How many" :fault="fault('notice.count')" />
        <ChoiceField
          v-model="notice.unit"
          label="Before it"
          :options="[
            { value: 'day', text: 'calendar days' },
            { value: 'courtDay', text: 'court days' },
            { value: 'week', text: 'weeks' },
            { value: 'month', text: 'months' },
            { value: 'year', text: 'years' },
          ]"
        />
      </div>
    </template>
    <TextField v-model="form.text" label="What must be done" optional :lines="3" :fault="fault('text')" />
    <div class="grid stacks grid-cols-2 items-start gap-3">
      <TextField v-model="form.tags" label="Tags, with commas between" optional :fault="fault('tags')" />
      <ManyField
        v-if="papers?.total"
        v-model="form.paperIds"
        label="Papers"
        optional
        :options="paperChoices"
        :find="papers.total > papers.rows.length ? findPapers : undefined"
        :fault="fault('paperIds')"
      />
    </div>
    <div class="space-y-1.5">
      <label class="flex items-center gap-2"><input v-model="form.urgent" type="checkbox" /> Urgent</label>
      <label class="flex items-center gap-2"
        ><input v-model="form.offCalendar" type="checkbox" /> Off calendar: stays on the docket, is on no calendar</label
      >
      <label v-if="was?.series" class="flex items-center gap-2"
        ><input v-model="form.following" type="checkbox" /> The later dates of this series say the same from now on</label
      >
    </div>
  </SideSheet>
</template>
