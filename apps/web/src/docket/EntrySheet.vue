<script setup lang="ts">
import { marks, type DocketRow } from '@heron/contract'
import { showCourtDays, isDay, type Day } from '@heron/core/calendar'
import { explainDate } from '@heron/core/docket'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useClipboard } from '@vueuse/core'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { dayText, momentText, plural, timeText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import WeightMark from '../ui/WeightMark.vue'
import { useAct } from '../use'
import ChoiceField from '../ui/ChoiceField.vue'
import { sure } from '../ui/question'
import EntryForm from './EntryForm.vue'
import { readLeads, showLeads } from './leads'
import MeetDate from './MeetDate.vue'
import MoveDate from './MoveDate.vue'
import SentTo from './SentTo.vue'
import { useChange } from './useChange'

/** `moveTo`: it was dropped on another day, which is asked about first. */
const props = defineProps<{ row: DocketRow; moveTo?: Day | undefined }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
// The list it was opened from may be older than what a colleague, or an undo, has just done.
const { data: now, problem } = useShown(() => asks.docket.entry.queryOptions({ input: { id: props.row.id } }))
const entry = computed(() => now.value ?? props.row)
const { state, act } = useAct()
const change = useChange(() => props.row.matterId)
const moving = ref(Boolean(props.moveTo))
const meeting = ref(false)
/** Neither a rule counted it nor did the court set it. */
const free = computed(() => !entry.value.trigger && entry.value.setBy !== 'court')
const changing = ref(false)
/** Loaded when it is first wanted: the first page seldom needs it. */
const RecordTime = defineAsyncComponent(() => import('../time/RecordTime.vue'))
const recording = ref(false)
/** One's own reminders of this date: the usual ones, some others, or none. */
const lead = ref(entry.value.leads === null ? 'usual' : showLeads(entry.value.leads))
const leadChoices = computed(() =>
  [
    { value: 'usual', text: 'As I am reminded of every date' },
    { value: '20, 10, 5, 3, 2, 1, 0', text: 'More often: 20, 10, 5, 3, 2, 1 court days before and on the day' },
    { value: '1, 0', text: 'The court day before, and on the day' },
    ...(entry.value.weight === 'strict' ? [] : [{ value: '', text: 'Never' }]),
  ].concat(
    ['usual', '20, 10, 5, 3, 2, 1, 0', '1, 0', ''].includes(lead.value)
      ? []
      : [{ value: lead.value, text: `${lead.value} court days before` }],
  ),
)
async function remind(value: string) {
  lead.value = value
  if (await act(() => api.docket.entryReminders({ id: entry.value.id, leads: value === 'usual' ? null : readLeads(value) })))
    notes.say('Your reminders of this date are set')
}
const { data: history } = useShown(() => asks.docket.history.queryOptions({ input: { id: props.row.id } }))
const settled = computed(() => ['met', 'waived', 'vacated'].includes(entry.value.mark))

/** Whoever got the date by letter keeps it until it is withdrawn there, which is for a person to decide. */
const outside = () => (entry.value.sentTo.some((s) => !s.withdrawn) ? '. Those outside still have it; open it to withdraw it' : '')

async function mark(value: (typeof marks)[number]) {
  const { id, title, mark: was } = entry.value
  const day = value === 'met' ? { day: session.today } : {}
  if (!(await act(() => api.docket.mark({ id, mark: value, ...day })))) return
  notes.say(`${title}: ${value}${value === 'vacated' || value === 'waived' ? outside() : ''}`, {
    label: 'Undo',
    act: () => api.docket.mark({ id, mark: was }).then(session.changed),
  })
  session.changed()
  emit('close')
}
async function include(leftOut: boolean) {
  if (!(await act(() => api.docket.include({ id: entry.value.id, leftOut })))) return
  notes.say(leftOut ? `Left out${outside()}` : 'Docketed')
  session.changed()
  emit('close')
}
async function remove() {
  if (
    !(await sure(
      'Take the date off the docket',
      `${entry.value.title} goes from every calendar; its history stays in the log.`,
      'Take it off',
    ))
  )
    return
  if (!(await act(() => api.docket.remove({ id: entry.value.id })))) return
  notes.say(`${entry.value.title} is taken off the docket; its history stays in the log`)
  session.changed()
  emit('close')
}
async function endSeries() {
  if (!(await sure('Recurs no longer', `Its dates after ${dayText(entry.value.day)} go from every calendar.`, 'End it here'))) return
  const done = await act(() => api.calendar.endSeries({ id: entry.value.id }))
  if (!done) return
  notes.say(`It recurs no longer after ${dayText(entry.value.day)}; ${plural(done.gone, 'later date')} taken away`)
  session.changed()
  emit('close')
}
/** Hands the date on as work to do, with the paper it comes of. */
async function handOn() {
  const made = await act(() =>
    api.tasks.make({
      text: entry.value.title,
      matterId: entry.value.matterId,
      assigneeId: entry.value.responsibleId ?? session.me!.id,
      dueOn: entry.value.day,
      paperIds: [...new Set([...(entry.value.paper ? [entry.value.paper.id] : []), ...entry.value.papers.map((p) => p.id)])],
    }),
  )
  if (made) notes.say(`${entry.value.title} is a task, due ${dayText(entry.value.day)}`)
  session.changed()
}
const { copy: copyText } = useClipboard({ legacy: true })
async function copy() {
  await copyText(explainDate(entry.value, { name: entry.value.matter }))
  notes.say('The explanation is copied')
}
const happened = (h: { what: string; was: string; became: string }) =>
  [
    h.what,
    [h.was, h.became]
      .map((d) => (isDay(d) ? dayText(d) : d))
      .filter(Boolean)
      .join(' to '),
  ]
    .filter(Boolean)
    .join(': ')
</script>

<template>
  <SideSheet :title="entry.title" :wide="moving || meeting" :message="problem || state.message || change.state.said" @close="emit('close')">
    <div class="flex items-stretch gap-2">
      <WeightMark :weight="entry.weight" />
      <p class="py-1">
        <b class="font-serif text-xl"
          >{{ dayText(entry.day) }}<template v-if="entry.time">, {{ timeText(entry.time) }}</template></b
        >
        <span class="text-ink-2">&#32;{{ showCourtDays(entry.courtDays) }} · {{ entry.weight }}</span>
      </p>
    </div>
    <p v-if="entry.setBy !== 'rule' && entry.trigger" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
      {{ entry.setBy === 'court' ? 'Set by the court' : 'Set by hand' }}<template v-if="entry.reason">: {{ entry.reason }}</template
      >.<template v-if="entry.ruleDay && entry.ruleDay !== entry.day"> The rule would give {{ dayText(entry.ruleDay) }}.</template>
    </p>
    <p v-if="entry.place || entry.meetingLink" class="text-ink-2">
      {{ entry.place }}
      <a v-if="entry.meetingLink" :href="entry.meetingLink" target="_blank" rel="noopener noreferrer" class="text-lagoon underline"
        >Video meeting</a
      >
    </p>
    <p v-if="entry.urgent || entry.offCalendar || entry.tags.length">
      <span v-if="entry.urgent" class="tag mr-1 bg-rust-wash text-rust">urgent</span>
      <span v-if="entry.offCalendar" class="tag mr-1 bg-mist text-ink-2">off calendar</span>
      <span v-for="t in entry.tags" :key="t" class="tag mr-1 bg-mist">{{ t }}</span>
    </p>
    <p v-if="entry.attendees.length"><span class="text-ink-2">Takes part: </span>{{ entry.attendees.map((a) => a.name).join(', ') }}</p>
    <p v-if="entry.series"><span class="text-ink-2">Recurs </span>{{ entry.series.words }}</p>
    <p v-if="entry.paper" class="text-ink-2">
      Comes of
      <a :href="`/api/papers/${entry.paper.id}/file`" target="_blank" rel="noopener" class="text-lagoon underline">{{
        entry.paper.name
      }}</a>
    </p>
    <p v-if="entry.papers.length" class="text-ink-2">
      Papers:
      <template v-for="(p, i) in entry.papers" :key="p.id"
        ><template v-if="i">, </template
        ><a :href="`/api/papers/${p.id}/file`" target="_blank" rel="noopener" class="text-lagoon underline">{{ p.name }}</a></template
      >
    </p>
    <p v-if="entry.text">{{ entry.text }}</p>
    <p v-if="entry.authority">
      <span class="text-ink-2">Authority: </span
      ><a v-if="entry.link" :href="entry.link" target="_blank" rel="noopener noreferrer" class="text-lagoon underline">{{
        entry.authority
      }}</a
      ><template v-else>{{ entry.authority }}</template>
    </p>
    <p class="text-ink-2">
      {{ entry.matter }}<template v-if="entry.responsible"> · {{ entry.responsible }}</template
      ><template v-if="entry.dayEnds"> · the day ends at {{ entry.dayEnds }} for electronic filing</template>
    </p>
    <section v-if="entry.trace.length" aria-label="How it is counted">
      <h3 class="mb-1">How it is counted</h3>
      <p v-if="entry.how" class="text-ink-2">{{ entry.how }}</p>
      <ol class="mt-1 list-decimal space-y-1 pl-5">
        <li v-for="(t, i) in entry.trace" :key="i">{{ t.text }}</li>
      </ol>
      <Btn small class="mt-2" @click="copy">Copy the explanation</Btn>
    </section>
    <MoveDate v-if="moving" :row="entry" :change="change" :to="moveTo" @done="emit('close')" />
    <MeetDate v-if="meeting" :row="entry" :change="change" @done="emit('close')" />
    <p v-if="entry.isEvent && !entry.leftOut" class="text-ink-2">
      It moves with what set it: change that day under <b>What happened</b>, and all that hangs on it follows.
    </p>
    <div v-if="session.may('docket.change')" class="flex flex-wrap gap-2 pt-2">
      <Btn v-if="!entry.leftOut && !moving && !settled && !free && !entry.isEvent" small data-autofocus @click="moving = true"
        >Move or extend</Btn
      >
      <Btn small :data-autofocus="free || undefined" @click="changing = true">Change</Btn>
      <Btn v-if="session.may('time.record')" small @click="recording = true">Record time</Btn>
      <Btn v-if="!entry.leftOut && !settled && session.may('tasks.change')" small :busy="state.busy" @click="handOn">Make it a task</Btn>
      <template v-if="entry.leftOut"><Btn main :busy="state.busy" @click="include(false)">Docket it after all</Btn></template>
      <template v-else>
        <Btn
          v-for="m in marks.filter((x) => x !== entry.mark)"
          :key="m"
          small
          :busy="state.busy"
          @click="m === 'met' && entry.trigger ? ((meeting = true), (moving = false)) : mark(m)"
          >Mark {{ m }}</Btn
        >
        <Btn small :busy="state.busy" @click="include(true)">Leave out</Btn>
        <Btn v-if="entry.series && !entry.series.words.endsWith('ended')" small :busy="state.busy" @click="endSeries">Recurs no longer</Btn>
        <Btn v-if="!entry.trigger" small :busy="state.busy" @click="remove">Take off the docket</Btn>
      </template>
    </div>
    <ChoiceField
      v-if="!entry.leftOut && !settled"
      :model-value="lead"
      label="Remind me"
      :options="leadChoices"
      @update:model-value="remind(String($event))"
    />
    <SentTo
      v-if="session.may('docket.change') && !entry.leftOut && (entry.weight === 'appointment' || entry.time || entry.sentTo.length)"
      :row="entry"
    />
    <section v-if="history?.length" aria-label="History" class="border-t border-line-2 pt-2">
      <h3 class="mb-1">History</h3>
      <p v-for="(h, i) in history" :key="i" class="py-0.5">
        {{ happened(h) }}<template v-if="h.why"> · {{ h.why }}</template>
        <span class="block text-sm text-ink-2">{{ h.who }}, {{ momentText(h.at) }}</span>
      </p>
    </section>
    <RecordTime
      v-if="recording"
      :matter="{ id: entry.matterId, text: entry.matter }"
      :words="entry.title"
      :day="entry.day < session.today ? entry.day : session.today"
      @close="recording = false"
    />
    <EntryForm v-if="changing" :matter-id="entry.matterId" :row="entry" @close="((changing = false), emit('close'))" />
  </SideSheet>
</template>
