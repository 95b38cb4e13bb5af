<script setup lang="ts">
import { marks, type DocketRow } from '@heron/contract'
import { showCourtDays } from '@heron/core/calendar'
import { explainDate } from '@heron/core/docket'
import { computed, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { dayText, momentText, plural, timeText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import WeightMark from '../ui/WeightMark.vue'
import { useAct, useLoad } from '../use'
import ChoiceField from '../ui/ChoiceField.vue'
import EntryForm from './EntryForm.vue'
import { readLeads, showLeads } from './leads'
import MoveDate from './MoveDate.vue'
import SentTo from './SentTo.vue'
import { useChange } from './useChange'

/** `moveTo`: it was dropped on another day, which is asked about first. */
const props = defineProps<{ row: DocketRow; moveTo?: string | undefined }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const change = useChange(() => props.row.matterId)
const moving = ref(Boolean(props.moveTo))
/** Neither a rule counted it nor did the court set it. */
const free = !props.row.trigger && props.row.setBy !== 'court'
const changing = ref(false)
/** One's own reminders of this date: the usual ones, some others, or none. */
const lead = ref(props.row.leads === null ? 'usual' : showLeads(props.row.leads))
const leadChoices = computed(() =>
  [
    { value: 'usual', text: 'As I am reminded of every date' },
    { value: '20, 10, 5, 3, 2, 1, 0', text: 'More often: 20, 10, 5, 3, 2, 1 court days before and on the day' },
    { value: '1, 0', text: 'The court day before, and on the day' },
    ...(props.row.weight === 'strict' ? [] : [{ value: '', text: 'Never' }]),
  ].concat(
    ['usual', '20, 10, 5, 3, 2, 1, 0', '1, 0', ''].includes(lead.value)
      ? []
      : [{ value: lead.value, text: `${lead.value} court days before` }],
  ),
)
async function remind(value: string) {
  lead.value = value
  if (await act(() => api.docket.entryReminders({ id: props.row.id, leads: value === 'usual' ? null : readLeads(value) })))
    notes.say('Your reminders of this date are set')
}
const { data: history } = useLoad(() => api.docket.history({ id: props.row.id }))
const settled = ['met', 'waived', 'vacated'].includes(props.row.mark)

async function mark(value: (typeof marks)[number]) {
  const was = props.row.mark
  if (!(await act(() => api.docket.mark({ id: props.row.id, mark: value })))) return
  notes.say(`${props.row.title}: ${value}`, {
    label: 'Undo',
    act: () => api.docket.mark({ id: props.row.id, mark: was }).then(session.changed),
  })
  session.changed()
  emit('close')
}
async function include(leftOut: boolean) {
  if (!(await act(() => api.docket.include({ id: props.row.id, leftOut })))) return
  notes.say(leftOut ? 'Left out' : 'Docketed')
  session.changed()
  emit('close')
}
async function remove() {
  if (!(await act(() => api.docket.remove({ id: props.row.id })))) return
  notes.say(`${props.row.title} is taken off the docket; its history stays in the log`)
  session.changed()
  emit('close')
}
async function endSeries() {
  const done = await act(() => api.calendar.endSeries({ id: props.row.id }))
  if (!done) return
  notes.say(`It recurs no longer after ${dayText(props.row.day)}; ${plural(done.gone, 'later date')} taken away`)
  session.changed()
  emit('close')
}
/** Hands the date on as work to do, with the paper it comes of. */
async function handOn() {
  const made = await act(() =>
    api.tasks.make({
      text: props.row.title,
      matterId: props.row.matterId,
      assigneeId: props.row.responsibleId ?? session.me!.id,
      dueOn: props.row.day,
      paperIds: [...new Set([...(props.row.paper ? [props.row.paper.id] : []), ...props.row.papers.map((p) => p.id)])],
    }),
  )
  if (made) notes.say(`${props.row.title} is a task, due ${dayText(props.row.day)}`)
  session.changed()
}
async function copy() {
  await navigator.clipboard.writeText(explainDate(props.row, { name: props.row.matter }))
  notes.say('The explanation is copied')
}
const happened = (h: { what: string; was: string; became: string }) =>
  [
    h.what,
    [h.was, h.became]
      .map((d) => (/^\d{4}-\d\d-\d\d$/.test(d) ? dayText(d) : d))
      .filter(Boolean)
      .join(' to '),
  ]
    .filter(Boolean)
    .join(': ')
</script>

<template>
  <SideSheet
    :title="row.title"
    :wide="moving"
    :message="state.message || (change.state.fields.length ? '' : change.state.message)"
    @close="emit('close')"
  >
    <div class="flex items-stretch gap-2">
      <WeightMark :weight="row.weight" />
      <p class="py-1">
        <b class="font-serif text-xl"
          >{{ dayText(row.day) }}<template v-if="row.time">, {{ timeText(row.time) }}</template></b
        >
        <span class="text-ink-2">&#32;{{ showCourtDays(row.courtDays) }} · {{ row.weight }}</span>
      </p>
    </div>
    <p v-if="row.setBy !== 'rule' && row.trigger" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
      {{ row.setBy === 'court' ? 'Set by the court' : 'Set by hand' }}<template v-if="row.reason">: {{ row.reason }}</template
      >.<template v-if="row.ruleDay && row.ruleDay !== row.day"> The rule would give {{ dayText(row.ruleDay) }}.</template>
    </p>
    <p v-if="row.place || row.meetingLink" class="text-ink-2">
      {{ row.place }}
      <a v-if="row.meetingLink" :href="row.meetingLink" target="_blank" rel="noopener noreferrer" class="text-lagoon underline"
        >Video meeting</a
      >
    </p>
    <p v-if="row.urgent || row.offCalendar || row.tags.length">
      <span v-if="row.urgent" class="tag mr-1 bg-rust-wash text-rust">urgent</span>
      <span v-if="row.offCalendar" class="tag mr-1 bg-mist text-ink-2">off calendar</span>
      <span v-for="t in row.tags" :key="t" class="tag mr-1 bg-mist">{{ t }}</span>
    </p>
    <p v-if="row.attendees.length"><span class="text-ink-2">Takes part: </span>{{ row.attendees.map((a) => a.name).join(', ') }}</p>
    <p v-if="row.series"><span class="text-ink-2">Recurs </span>{{ row.series.words }}</p>
    <p v-if="row.paper" class="text-ink-2">
      Comes of
      <a :href="`/api/papers/${row.paper.id}/file`" target="_blank" rel="noopener" class="text-lagoon underline">{{ row.paper.name }}</a>
    </p>
    <p v-if="row.papers.length" class="text-ink-2">
      Papers:
      <template v-for="(p, i) in row.papers" :key="p.id"
        ><template v-if="i">, </template
        ><a :href="`/api/papers/${p.id}/file`" target="_blank" rel="noopener" class="text-lagoon underline">{{ p.name }}</a></template
      >
    </p>
    <p v-if="row.text">{{ row.text }}</p>
    <p v-if="row.authority">
      <span class="text-ink-2">Authority: </span
      ><a v-if="row.link" :href="row.link" target="_blank" rel="noopener noreferrer" class="text-lagoon underline">{{ row.authority }}</a
      ><template v-else>{{ row.authority }}</template>
    </p>
    <p class="text-ink-2">
      {{ row.matter }}<template v-if="row.responsible"> · {{ row.responsible }}</template
      ><template v-if="row.dayEnds"> · the day ends at {{ row.dayEnds }} for electronic filing</template>
    </p>
    <section v-if="row.trace.length" aria-label="How it is counted">
      <h3 class="mb-1">How it is counted</h3>
      <p v-if="row.howCounted" class="text-ink-2">{{ row.howCounted }}</p>
      <ol class="mt-1 list-decimal space-y-1 pl-5">
        <li v-for="(t, i) in row.trace" :key="i">{{ t.text }}</li>
      </ol>
      <Btn small class="mt-2" @click="copy">Copy the explanation</Btn>
    </section>
    <MoveDate v-if="moving" :row="row" :change="change" :to="moveTo" @done="emit('close')" />
    <div v-if="session.may('docket.change')" class="flex flex-wrap gap-2 pt-2">
      <Btn v-if="!row.leftOut && !moving && !settled && !free" small data-autofocus @click="moving = true">Move or extend</Btn>
      <Btn small :data-autofocus="free || undefined" @click="changing = true">Change</Btn>
      <Btn v-if="!row.leftOut && !settled && session.may('tasks.change')" small :busy="state.busy" @click="handOn">Make it a task</Btn>
      <template v-if="row.leftOut"><Btn main :busy="state.busy" @click="include(false)">Docket it after all</Btn></template>
      <template v-else>
        <Btn v-for="m in marks.filter((x) => x !== row.mark)" :key="m" small :busy="state.busy" @click="mark(m)">Mark {{ m }}</Btn>
        <Btn small :busy="state.busy" @click="include(true)">Leave out</Btn>
        <Btn v-if="row.series && !row.series.words.endsWith('ended')" small :busy="state.busy" @click="endSeries">Recurs no longer</Btn>
        <Btn v-if="!row.trigger" small :busy="state.busy" @click="remove">Take off the docket</Btn>
      </template>
    </div>
    <ChoiceField
      v-if="!row.leftOut && !settled"
      :model-value="lead"
      label="Remind me"
      :options="leadChoices"
      @update:model-value="remind(String($event))"
    />
    <SentTo
      v-if="session.may('docket.change') && !row.leftOut && (row.weight === 'appointment' || row.time || row.sentTo.length)"
      :row="row"
    />
    <section v-if="history?.length" aria-label="History" class="border-t border-line-2 pt-2">
      <h3 class="mb-1">History</h3>
      <p v-for="(h, i) in history" :key="i" class="py-0.5">
        {{ happened(h) }}<template v-if="h.why"> · {{ h.why }}</template>
        <span class="block text-sm text-ink-2">{{ h.who }}, {{ momentText(h.at) }}</span>
      </p>
    </section>
    <EntryForm v-if="changing" :matter-id="row.matterId" :row="row" @close="((changing = false), emit('close'))" />
  </SideSheet>
</template>
