<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { addDays, addMonths, weekday, type Day, monthStart } from '@heron/core/calendar'
import { weights, type Weight } from '@heron/core/docket'
import { refDebounced } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useAddress } from '../address'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import Views from '../ui/Views.vue'
import { useAct, useLoad } from '../use'
import Agenda from './Agenda.vue'
import Calendars from './Calendars.vue'
import Closures from './Closures.vue'
import DocketTabs from './DocketTabs.vue'
import EntrySheet from './EntrySheet.vue'
import LinesOfTime from './LinesOfTime.vue'
import NewDate from './NewDate.vue'
import ReminderSheet from './ReminderSheet.vue'
import ReportSheet from './ReportSheet.vue'
import WhoseDates from './WhoseDates.vue'

const Calendar = defineAsyncComponent(() => import('./Calendar.vue'))
const session = useSession()
const notes = useNotes()
const { act } = useAct()
const usual = {
  view: 'agenda',
  span: '20',
  scope: session.me?.role === 'docket clerk' ? 'firm' : 'mine',
  day: session.today,
  q: '',
  userId: '0',
  areaId: '0',
  weight: '',
  only: '',
  more: '',
}
const s = useAddress(usual, ['view', 'day'])
/** A view that is kept shows the day on which it is opened. */
const kept = computed(() => Object.fromEntries(Object.entries(s).filter(([k]) => k !== 'day' && k !== 'more')))
const open = ref<'' | 'reminders' | 'calendars' | 'closures' | 'report' | 'new'>('')
const { data: hours } = useLoad(() => api.calendar.hours())
const zone = computed(() => hours.value?.zone || hours.value?.firmZone || 'America/New_York')

/** The days that the view shows; nothing for the views in court days from today. */
const shownDays = computed(() => {
  if (s.view === 'week') {
    const from = addDays(s.day, 1 - weekday(s.day))
    return { from, to: addDays(from, 6) }
  }
  if (s.view === 'month') {
    const first = monthStart(s.day)
    const from = addDays(first, 1 - weekday(first))
    const last = addDays(addMonths(first, 1), -1)
    return { from, to: addDays(last, 7 - weekday(last)) }
  }
  return null
})
const words = refDebounced(
  computed(() => s.q),
  150,
)
const asked = computed(() => ({
  from: shownDays.value?.from ?? session.today,
  ...(shownDays.value ? { to: shownDays.value.to, onCalendar: true } : { courtDays: Number(s.span) }),
  scope: s.scope as 'mine',
  q: words.value,
  weight: s.weight as '' | Weight,
  only: s.only as '',
  ...(Number(s.userId) ? { userId: Number(s.userId) } : {}),
  ...(Number(s.areaId) ? { areaId: Number(s.areaId) } : {}),
  ...(s.view === 'agenda' && !s.more ? {} : { size: 1000 }),
}))
const { data, problem, loading, reload } = useShown(() => asks.docket.agenda.queryOptions({ input: asked.value }))
const period = computed(() => {
  if (s.view === 'month') return new Intl.DateTimeFormat('en', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(new Date(s.day))
  const { from, to } = shownDays.value ?? { from: s.day, to: s.day }
  return `${dayText(from)} to ${dayText(to)}`
})
const step = (n: number) => (s.day = s.view === 'month' ? addMonths(monthStart(s.day), n) : addDays(s.day, 7 * n))

const chosen = ref<{ row: DocketRow; moveTo?: Day } | null>(null)
const adding = ref<{ day: Day; time: string } | null>(null)
const free = (r: DocketRow) => !r.trigger && r.setBy !== 'court'

/** What was dropped elsewhere: an appointment moves, with Undo; a counted date asks why and counts as set by hand from then on. */
async function move(row: DocketRow, to: { day: Day; time: string | null; lengthMinutes: number | null }, back: () => void) {
  if (!free(row)) {
    back()
    if (to.day !== row.day) chosen.value = { row, moveTo: to.day }
    else notes.say('The hour of a counted date is changed on its sheet: open it, then Change')
    return
  }
  const was = { id: row.id, day: row.day, time: row.time, lengthMinutes: row.lengthMinutes }
  if (!(await act(() => api.calendar.when({ id: row.id, ...to, version: row.version })))) {
    back()
    return
  }
  notes.say(`${row.title} moved to ${dayText(to.day)}`, {
    label: 'Undo',
    act: () => api.calendar.when(was).then(session.changed),
  })
  session.changed()
}
const closedShown = computed(() => {
  const d = shownDays.value
  const inside = (day: Day) => (s.view === 'month' ? day.slice(0, 7) === s.day.slice(0, 7) : d && day >= d.from && day <= d.to)
  return (data.value?.closed ?? []).filter((c) => inside(c.day))
})
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Docket">
      <Btn @click="open = 'closures'">Closed days</Btn>
      <Btn @click="open = 'reminders'">Reminders</Btn>
      <Btn @click="open = 'calendars'">Calendars</Btn>
      <Btn @click="open = 'report'">Report</Btn>
      <Btn v-if="session.may('docket.change')" main @click="adding = { day: session.today, time: '' }">New date</Btn>
    </PageHead>
    <DocketTabs />
    <div class="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2">
      <Switch
        v-model="s.view"
        label="Show as"
        :options="[
          { value: 'agenda', text: 'Agenda' },
          { value: 'week', text: 'Week' },
          { value: 'month', text: 'Month' },
          { value: 'line', text: 'Lines of time' },
        ]"
      />
      <Switch
        v-if="!shownDays"
        v-model="s.span"
        label="How far ahead"
        :options="[
          { value: '5', text: '5 court days' },
          { value: '10', text: '10' },
          { value: '20', text: '20' },
          { value: '65', text: 'Quarter' },
        ]"
      />
      <span v-else class="flex items-center gap-1.5">
        <Btn small aria-label="Before" @click="step(-1)">‹</Btn>
        <Btn small @click="s.day = session.today">Today</Btn>
        <Btn small aria-label="After" @click="step(1)">›</Btn>
        <b class="ml-1.5 font-serif text-lg font-semibold" role="status">{{ period }}</b>
      </span>
      <Switch
        v-model="s.scope"
        label="Whose dates"
        :options="[
          { value: 'mine', text: 'Mine' },
          { value: 'team', text: 'Team' },
          { value: 'firm', text: 'Firm' },
        ]"
      />
      <Views class="ml-auto" list="docket" :state="kept" @choose="Object.assign(s, usual, $event)" />
    </div>
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <TextField v-model="s.q" class="w-56" label="Words" placeholder="title, matter, authority, tag" />
      <WhoseDates v-model:user-id="s.userId" v-model:area-id="s.areaId" />
      <ChoiceField
        v-model="s.weight"
        label="Weight"
        :options="[{ value: '', text: 'Any' }, ...weights.map((w) => ({ value: w as string, text: w }))]"
      />
      <ChoiceField
        v-model="s.only"
        label="Look for"
        :options="[
          { value: '', text: 'All' },
          { value: 'unassigned', text: 'Nobody responsible' },
          { value: 'unconfirmed', text: 'Tentative or provisional' },
          { value: 'late', text: 'Overdue' },
        ]"
      />
    </div>
    <section class="sheet overflow-clip" :aria-label="s.view === 'agenda' ? 'Agenda' : s.view === 'line' ? 'Lines of time' : period">
      <State :loading="loading && !data" :problem="problem" @again="reload()">
        <template v-if="data">
          <Agenda v-if="s.view === 'agenda'" :agenda="data" @more="s.more = '1'" />
          <LinesOfTime v-else-if="s.view === 'line'" :rows="[...data.late, ...data.rows]" @open="chosen = { row: $event }" />
          <template v-else>
            <p v-if="closedShown.length" class="border-b border-line-2 bg-page px-3.5 py-1.5 text-ink-2">
              Closed: {{ closedShown.map((c) => `${dayText(c.day)}, ${c.name}`).join(' · ') }}
            </p>
            <Calendar
              :view="s.view === 'week' ? 'week' : 'month'"
              :day="s.view === 'week' ? shownDays!.from : monthStart(s.day)"
              :today="session.today"
              :zone="zone"
              :rows="data.rows"
              :closed="data.closed"
              :may-change="session.may('docket.change')"
              @open="chosen = { row: $event }"
              @move="move"
              @add="adding = $event"
            />
          </template>
          <p v-if="data.more.rows && s.view !== 'agenda'" class="border-t border-line-2 bg-bill-wash px-3.5 py-2 text-bill-ink">
            There are more dates than are shown here. Narrow the list by person, area or words.
          </p>
        </template>
      </State>
    </section>
    <p v-if="shownDays" class="mt-2 text-ink-2">
      Hours stand in {{ (zone.split('/').at(-1) ?? '').replace(/_/g, ' ') }} time. Drag an appointment to move it; a counted date asks why
      first.
    </p>
    <EntrySheet v-if="chosen" :row="chosen.row" :move-to="chosen.moveTo" @close="chosen = null" />
    <NewDate v-if="adding" :day="adding.day" :time="adding.time" @close="adding = null" />
    <ReportSheet v-if="open === 'report'" :report="{ kind: 'span', ...asked }" @close="open = ''" />
    <ReminderSheet v-if="open === 'reminders'" @close="open = ''" />
    <Closures v-if="open === 'closures'" @close="open = ''" />
    <Calendars v-if="open === 'calendars'" @close="open = ''" />
  </div>
</template>
