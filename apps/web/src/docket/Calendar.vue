<script setup lang="ts">
import FullCalendar from '@fullcalendar/vue3'
import type { CalendarOptions, EventInput } from '@fullcalendar/vue3'
import dayGrid from '@fullcalendar/vue3/daygrid'
import interaction from '@fullcalendar/vue3/interaction'
import classic from '@fullcalendar/vue3/themes/classic'
import timeGrid from '@fullcalendar/vue3/timegrid'
import '@fullcalendar/vue3/skeleton.css'
import '@fullcalendar/vue3/themes/classic/theme.css'
import './calendar.css'
import type { DocketRow } from '@heron/contract'
import { addDays, hourIn, hoursToShow, spanOf, weekday, type Day, dayPart } from '@heron/core/calendar'
import { isOpen } from '@heron/core/docket'
import { computed, nextTick, ref, watch } from 'vue'
import { dayText, timeText } from '../ui/show'
import WeightMark from '../ui/WeightMark.vue'

/**
 * Week or month of the docket. Hours stand in the reader's own time zone. What was dropped on another day or hour goes to
 * `move`; the page decides whether it may simply move, or asks.
 */
const props = defineProps<{
  view: 'week' | 'month'
  /** Any day of the week or month that is shown. */
  day: Day
  today: Day
  zone: string
  rows: DocketRow[]
  closed: { day: Day; name: string }[]
  mayChange: boolean
}>()
const emit = defineEmits<{
  open: [row: DocketRow]
  move: [row: DocketRow, to: { day: Day; time: string | null; lengthMinutes: number | null }, back: () => void]
  add: [at: { day: Day; time: string }]
}>()
const box = ref<InstanceType<typeof FullCalendar> | null>(null)
const names = { week: 'timeGridWeek', month: 'dayGridMonth' }
const closedOn = (day: Day) => props.closed.find((c) => c.day === day)?.name
const rowOf = (id: string) => props.rows.find((r) => String(r.id) === id)!

const events = computed(() =>
  props.rows.map((r): EventInput => {
    const span = r.time ? spanOf(r.day, r.time, r.lengthMinutes ?? 60, r.zone) : null
    const local = (instant: string) => {
      const at = hourIn(instant, props.zone)
      return `${at.day}T${at.time}:00`
    }
    return {
      id: String(r.id),
      title: `${r.title}, ${r.matter}`,
      allDay: !span,
      start: span ? local(span.from) : r.day,
      ...(span ? { end: local(span.to) } : {}),
      editable: props.mayChange && isOpen(r.mark),
      durationEditable: Boolean(span),
    }
  }),
)
const hours = computed(() => {
  const { first, last } = hoursToShow(events.value.filter((e) => !e.allDay).map((e) => ({ from: String(e.start), to: String(e.end) })))
  const text = (n: number) => `${String(n).padStart(2, '0')}:00:00`
  return { from: text(first), to: text(last) }
})
/** The hour in the zone of the entry's own court, from the one at which it was dropped. */
function dropped(info: { event: { id: string; startStr: string; endStr: string; allDay: boolean }; revert: () => void }) {
  const row = rowOf(info.event.id)
  const day = dayPart(info.event.startStr)
  const at = (text: string) => text.slice(11, 16)
  if (info.event.allDay) return emit('move', row, { day, time: null, lengthMinutes: null }, info.revert)
  const from = spanOf(day, at(info.event.startStr), 1, props.zone).from
  const to = info.event.endStr ? spanOf(dayPart(info.event.endStr), at(info.event.endStr), 1, props.zone).from : null
  const minutes = to ? Math.round((Date.parse(to) - Date.parse(from)) / 60_000) : (row.lengthMinutes ?? 60)
  emit('move', row, { ...hourIn(from, row.zone), lengthMinutes: minutes }, info.revert)
}
const namedInWeek = computed(() => props.closed.some((c) => c.day >= props.day && c.day <= addDays(props.day, 6)))
const dayOf = (date: Date) => dayPart(date.toISOString())
/** Days on which no court is open are grey, named or not. */
const shade = (day: Day) => (closedOn(day) || weekday(day) > 5 ? 'docket-closed' : '')
const options = computed((): CalendarOptions => ({
  plugins: [classic, dayGrid, timeGrid, interaction],
  initialView: names[props.view],
  initialDate: props.day,
  now: `${props.today}T00:00:00`,
  // Days and hours come worked out for the reader's zone already; here they are taken as they stand.
  timeZone: 'UTC',
  firstDay: 1,
  headerToolbar: false,
  height: 'auto',
  aspectRatio: 2.4,
  events: events.value,
  eventInteractive: true,
  eventDisplay: 'block',
  eventOrder: 'start,-duration',
  slotMinTime: hours.value.from,
  slotMaxTime: hours.value.to,
  slotDuration: '00:30:00',
  scrollTime: '08:00:00',
  dayMaxEvents: props.view === 'month' ? 5 : 7,
  eventTimeFormat: { hour: 'numeric', minute: '2-digit', meridiem: 'short' },
  dayHeaderFormat: { weekday: 'short' },
  allDayText: 'all day',
  eventClass: 'docket-event',
  // A closed day's name has the width of its own day, and no more.
  dayCellTopClass: 'docket-day-top',
  dayCellTopInnerClass: 'docket-day-top-inner',
  tableHeaderSticky: true,
  dayCellClass: (info) => shade(dayOf(info.date)),
  dayLaneClass: (info) => shade(dayOf(info.date)),
  // Its content is the column's name; without this it would be kept from readers and named a second time.
  dayHeaderDidMount: ({ el }) => el.querySelector('[aria-hidden]')?.removeAttribute('aria-hidden'),
  // The corner above the hours has a name but no text.
  viewDidMount: ({ el }) => {
    const corner = el.querySelector('[aria-label="Timed"]')
    if (!corner || corner.textContent) return
    const text = document.createElement('span')
    text.className = 'sr-only'
    text.textContent = 'Hours'
    corner.append(text)
  },
  moreLinkClass: 'docket-more',
  eventClick: (info) => emit('open', rowOf(info.event.id)),
  eventDrop: dropped,
  eventResize: dropped,
  dateClick: (info) => {
    if (props.mayChange) emit('add', { day: dayPart(info.dateStr), time: info.allDay ? '' : info.dateStr.slice(11, 16) })
  },
}))
watch(
  () => [props.view, props.day],
  () => nextTick(() => box.value?.getApi().changeView(names[props.view], props.day)),
)
</script>

<template>
  <FullCalendar ref="box" :options="options">
    <template #dayHeaderContent="info">
      <span v-if="view === 'week'" class="block py-0.5 text-center">
        <span class="font-semibold">{{ dayText(dayOf(info.date)) }}</span>
        <span v-if="namedInWeek" class="block max-w-40 truncate text-sm text-ink-2">{{ closedOn(dayOf(info.date)) ?? '\u00a0' }}</span>
      </span>
      <span v-else>{{ info.text }}</span>
    </template>
    <template #dayCellTopContent="info">
      <span class="flex w-full items-baseline gap-1.5">
        <span class="min-w-0 flex-1 truncate text-left text-sm text-ink-2">{{ closedOn(dayOf(info.date)) ?? '' }}</span>
        <span>{{ info.dayNumberText }}</span>
      </span>
    </template>
    <template #eventContent="info">
      <span
        v-for="r in [rowOf(info.event.id)].filter(Boolean)"
        :key="r.id"
        class="docket-event-body"
        :class="{ 'docket-event-marked': r.mark !== 'open', 'docket-event-short': info.isShort }"
      >
        <WeightMark :weight="r.weight" />
        <span class="min-w-0 pr-1" :class="info.isShort ? 'truncate' : 'py-[3px]'">
          <span v-if="r.urgent" class="font-semibold text-rust">urgent&#32;</span>
          <span v-if="r.mark !== 'open'" class="text-ink-2">{{ r.mark }}:&#32;</span>
          <span v-if="r.time" class="text-ink-2">{{ timeText(info.event.startStr.slice(11, 16)) }}&#32;</span>
          <span class="font-semibold">{{ r.title }}</span>
          <span v-if="r.tentative" class="text-bill-ink">&#32;tentative</span>
          <span v-if="!info.isShort" class="block truncate text-ink-2">{{ r.matter }}</span>
        </span>
      </span>
    </template>
  </FullCalendar>
</template>
