<script setup lang="ts">
import { showDay, type Day } from '@heron/core/calendar'
import { Clock3 } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAddress, dayOr } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ActMenu, { type Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import { dateText, dayText, momentText, showHours, showMoney } from '../ui/show'
import Switch from '../ui/Switch.vue'
import { showShare, someMoney, type Column } from '../ui/table/columns'
import { useAct } from '../use'
import GoalsSheet from './GoalsSheet.vue'
import NoteSheet from './NoteSheet.vue'
import ReportTabs from './ReportTabs.vue'
import ScheduleSheet from './ScheduleSheet.vue'
import { fileActs, overOpen } from './reports'

type Weeks = Answer<typeof api.oversight.weeks>
type Row = Weeks['rows'][number]
type Cell = Row['weeks'][number]
const session = useSession()
const router = useRouter()
const notes = useNotes()
const { act, state } = useAct()
const shown = useAddress({ asOf: '', as: 'value', note: '' }, ['asOf'])
const asOf = ref<Day | null>(dayOr(shown.asOf, session.today))
watch(asOf, (d) => (shown.asOf = d && d !== session.today ? d : ''))
// Back brings the day of before.
watch(
  () => shown.asOf,
  (day) => day !== (asOf.value === session.today ? '' : (asOf.value ?? '')) && (asOf.value = dayOr(day, session.today)),
)
const asked = computed(() => ({ weeks: 5, ...(shown.asOf ? { asOf: shown.asOf } : {}) }))
const { data, problem, loading, reload } = useShown(() => asks.oversight.weeks.queryOptions({ input: asked.value }))
const as = computed({ get: () => shown.as as 'value' | 'hours' | 'share', set: (v) => (shown.as = v) })
const heads = computed(() => data.value?.weeks ?? [])
const told = (c: Cell) =>
  as.value === 'hours'
    ? c.minutes
      ? showHours(c.minutes)
      : ''
    : as.value === 'share'
      ? c.share === null
        ? ''
        : showShare(c.share)
      : someMoney(c.counted)
const totals = computed(() => data.value?.totals)
const share = (c: Cell | undefined) => (c?.share === null || !c ? '' : showShare(c.share))
const now = computed(() => totals.value?.weeks[0])
const columns = computed((): Column<Row>[] => [
  { key: 'name', text: 'Timekeeper', grow: 1.6, fixed: true, narrow: 'title', sort: true, total: 'Together' },
  { key: 'hours', text: 'Hours', kind: 'hours', size: 62, sort: true, value: (r) => r.weeks[0]!.minutes || null, total: now.value ? showHours(now.value.minutes) : '' }, // prettier-ignore
  { key: 'value', text: 'Value', kind: 'money', size: 104, sort: true, strong: true, value: (r) => r.weeks[0]!.counted, show: (r) => someMoney(r.weeks[0]!.counted), total: now.value ? showMoney(now.value.counted) : '' }, // prettier-ignore
  {
    key: 'goal',
    text: 'Goal',
    kind: 'money',
    size: 108,
    quiet: true,
    value: (r) => r.weeks[0]!.goal,
    total: someMoney(now.value?.goal ?? 0),
  },
  { key: 'share', text: 'Of goal', kind: 'share', size: 72, sort: true, value: (r) => r.weeks[0]!.share, total: share(now.value) },
  ...heads.value.slice(1).map((w, i): Column<Row> => ({
    key: `w${i + 1}`,
    text: `to ${dateText(w.to)}`,
    kind: as.value === 'hours' ? 'hours' : as.value === 'share' ? 'share' : 'money',
    size: 112,
    quiet: true,
    value: (r) => (as.value === 'hours' ? r.weeks[i + 1]!.minutes : as.value === 'share' ? r.weeks[i + 1]!.share : r.weeks[i + 1]!.counted),
    show: (r) => told(r.weeks[i + 1]!),
    total: totals.value ? told(totals.value.weeks[i + 1]!) : '',
  })),
  { key: 'month', text: 'Month', kind: 'money', sort: true, value: (r) => r.month.counted, show: (r) => someMoney(r.month.counted), total: someMoney(totals.value?.month.counted ?? 0) }, // prettier-ignore
  { key: 'monthShare', text: 'Of goal', kind: 'share', size: 82, value: (r) => r.month.share, total: share(totals.value?.month) },
])
/** What moved in weeks that were over at the last look, one line for each person and week. */
const late = computed(() =>
  (data.value?.rows ?? []).flatMap(
    (r) =>
    r.weeks.flatMap((c, n) => (c.late ? [{ id: `${r.id} ${n}`, userId: r.id, name: r.name, week: heads.value[n]!, ...c.late, nowWorth: c.worth, nowMinutes: c.minutes }] : [])), // prettier-ignore
  ),
)
const lateColumns: Column<(typeof late.value)[number]>[] = [
  { key: 'name', text: 'Timekeeper', grow: 1, narrow: 'title' },
  { key: 'week', text: 'Week to', size: 130, value: (r) => dayText(r.week.to) },
  { key: 'wasMinutes', text: 'Hours then', kind: 'hours', size: 100 },
  { key: 'minutes', text: 'Late', kind: 'hours', strong: true },
  { key: 'nowMinutes', text: 'Hours now', kind: 'hours', size: 100 },
  { key: 'wasWorth', text: 'Value then', kind: 'money' },
  { key: 'worth', text: 'Late', kind: 'money', strong: true },
  { key: 'nowWorth', text: 'Value now', kind: 'money' },
]
const stopText = (r: Row) =>
  r.stopped
    ? `${r.stopped.of === 'last week' ? `${showHours(r.stopped.was)} h last week` : 'nothing this week'}, ${showHours(r.stopped.usual)} h is usual`
    : ''
const entries = (userId: number, w: { from: string; to: string }) => `/time/all?userId=${userId}&from=${w.from}&to=${w.to}`
const writing = ref<{ id: number; name: string; text: string } | null>(null)
const begin = (r: Row) => (writing.value = { id: r.id, name: r.name, text: r.stopped ? `Your time: ${stopText(r)}${r.lastDay ? `, the last entry is of ${dayText(r.lastDay)}` : ''}. Please bring it up to date.` : '' }) // prettier-ignore
const acts = (r: Row): Act[] => [
  ...heads.value.map((w, n) => ({ text: n ? `Entries of the week to ${dateText(w.to)}` : 'Entries of this week', to: entries(r.id, w) })),
  { text: 'Entries of the month', to: entries(r.id, data.value!.month) },
  ...(r.left ? [] : [{ text: 'Write a note …', act: () => begin(r) }]),
]
// A link may ask for a note to someone; it is written once they are there.
watch(data, (d) => {
  const own = shown.note ? d?.rows.find((r) => String(r.id) === shown.note) : undefined
  if (own) begin(own)
  if (d) shown.note = ''
})
async function seen() {
  if (!(await act(() => api.oversight.look({})))) return
  notes.say('Taken as seen. What comes late from now on stands marked.')
  session.changed()
}
const setting = ref(false)
const sending = ref(false)
/** The week that is shown; on paper with its year. */
const weekText = (say: (day: Day) => string) => {
  const w = heads.value[0]
  return w ? `${say(w.from)} to ${say(w.to)}: ${w.daysOver} of ${w.workDays} working days are over.` : ''
}
const monthText = computed(() =>
  data.value ? `${data.value.month.daysOver} of ${data.value.month.workDays} working days of the month are over` : '',
)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Week by timekeeper" :hint="overOpen">
      <Btn v-if="session.may('bills.review')" @click="setting = true">Goals …</Btn>
      <Btn @click="sending = true">Send …</Btn>
      <ActMenu text="As a file" label="As a file" :acts="fileActs('weeks', asked)" />
    </PageHead>
    <ReportTabs />
    <div class="mb-3 flex flex-wrap items-end gap-3 print:hidden">
      <div class="w-44"><DayField v-model="asOf" label="Week of" /></div>
      <Switch
        v-model="as"
        label="Weeks before as"
        :options="[
          { value: 'value', text: 'Value' },
          { value: 'hours', text: 'Hours' },
          { value: 'share', text: 'Of goal' },
        ]"
      />
      <p v-if="data" class="pb-1 text-ink-2">{{ weekText(dayText) }} {{ monthText }}.</p>
      <div class="ml-auto"><Btn :busy="state.busy" @click="seen">Take as seen</Btn></div>
    </div>
    <p v-if="data" class="mb-3 hidden print:block">{{ weekText(showDay) }} {{ monthText }}.</p>
    <section class="sheet" aria-label="Week by timekeeper">
      <DataTable
        label="Week by timekeeper"
        name="weeks"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(r) => r.id"
        :acts="acts"
        :open="(r) => router.push(entries(r.id, heads[0]!))"
        :loading="loading"
        :problem="problem"
        @again="reload()"
      >
        <template #empty>No time is recorded in these weeks.</template>
        <template #cell-name="{ row: r }"
          >{{ r.name }}<span v-if="r.outside || r.left" class="text-ink-2">, {{ r.left ? 'left' : 'outside' }}</span
          ><span v-if="r.stopped" class="ml-1.5 rounded-control bg-rust-wash px-1.5 text-sm text-rust" :title="stopText(r)">{{
            r.stopped.of === 'last week' ? 'stopped recording' : 'nothing this week'
          }}</span></template
        >
        <template v-for="(w, i) in heads.slice(1)" :key="w.to" #[`cell-w${i+1}`]="{ row: r }"
          ><RouterLink
            v-if="told(r.weeks[i + 1]!) || r.weeks[i + 1]!.late"
            :to="entries(r.id, w)"
            class="hover:underline"
            :title="r.weeks[i + 1]!.late ? `${showMoney(r.weeks[i + 1]!.late!.worth)} came late` : undefined"
            ><Clock3
              v-if="r.weeks[i + 1]!.late"
              class="mr-0.5 inline size-3 align-[-1px] text-ochre"
              role="img"
              aria-label="came late in part:"
            />{{ told(r.weeks[i + 1]!) }}</RouterLink
          ></template
        >
      </DataTable>
    </section>
    <section v-if="data?.look" class="sheet mt-3" aria-label="Recorded late">
      <div class="flex items-baseline gap-3 px-4 pt-3 pb-2">
        <h2>Recorded late</h2>
        <p class="text-ink-2">In weeks that were over when you last looked, {{ momentText(data.look.at) }}</p>
      </div>
      <DataTable
        label="Recorded late"
        name="late"
        :rows="late"
        :columns="lateColumns"
        :row-id="(r) => r.id"
        :open="(r) => router.push(entries(r.userId, r.week))"
        plain
      >
        <template #empty>Nothing came late since.</template>
      </DataTable>
    </section>
    <p v-else-if="data" class="mt-3 text-ink-2">
      Take the weeks as seen, and what is recorded into them later stands here with the figure as it was.
    </p>
    <GoalsSheet v-if="setting" @close="setting = false" />
    <ScheduleSheet v-if="sending" what="weeks" :asked="{ weeks: 5 }" @close="sending = false" />
    <NoteSheet v-if="writing" :to="writing" @close="writing = null" />
  </div>
</template>
