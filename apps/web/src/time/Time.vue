<script setup lang="ts">
import { addDays, type Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import type { Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText, plural, showHours, showMoney } from '../ui/show'
import Switch from '../ui/Switch.vue'
import { useAct } from '../use'
import EndTime from './EndTime.vue'
import RecordTime from './RecordTime.vue'
import SplitTime from './SplitTime.vue'
import { useTimeSetUp } from './set-up'
import TimeTabs from './TimeTabs.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type Row = Answer<typeof api.time.list>['rows'][number]
const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const span = ref<'0' | '7' | '31'>('7')
const from = computed(() => addDays(session.today, -Number(span.value)))
const { data, problem, loading, reload } = useShown(() => asks.time.list.queryOptions({ input: { from: from.value, to: session.today } }))
const { state, act } = useAct()
const recording = computed(() => route.query['record'] === '1')
/** One line typed elsewhere: its first word is looked for among the matters, the rest is what was done. */
const line = ref<{ matter: Choice | null; words: string } | null>(null)
const reading = ref(false)
let turn = 0
watch(
  () => [String(route.query['line'] ?? ''), String(route.query['matter'] ?? '')] as const,
  async ([typed, matterId]) => {
    const mine = ++turn
    line.value = null
    reading.value = typed !== '' || matterId !== ''
    if (!reading.value) return
    if (!typed) {
      const m = await api.matters.get({ id: Number(matterId) }).catch(() => null)
      if (mine !== turn) return
      line.value = { matter: m && { id: m.id, text: m.name, hint: m.number }, words: String(route.query['words'] ?? '') }
      reading.value = false
      return
    }
    const [first = '', ...rest] = typed.split(/\s+/)
    const found = await searchMatters(first).catch(() => [])
    if (mine !== turn) return
    // Where no matter answers to it, the word belongs to what was done.
    line.value = found[0] ? { matter: found[0], words: rest.join(' ') } : { matter: null, words: typed }
    reading.value = false
  },
  { immediate: true },
)
const changing = ref<Row | null>(null)
const splitting = ref<Row | null>(null)
const reversing = ref<number | null>(null)
const drafts = computed(() => (data.value?.rows ?? []).filter((t) => t.state === 'draft'))
const setUp = useTimeSetUp()
void setUp.ready()
const stateOf = (t: Row) => (t.billed ? `billed ${t.billed}` : t.state)
const columns = computed((): Column<Row>[] => [
  { key: 'matter', text: 'Matter', grow: 1.2, sort: true },
  { key: 'text', text: 'Work', grow: 2.4, narrow: 'title', sort: true },
  ...(setUp.uses('activity') ? [{ key: 'activity', text: 'Code', size: 64, quiet: true }] : []),
  ...(setUp.uses('times')
    ? [{ key: 'times', text: 'From – to', size: 110, hidden: true, value: (t: Row) => (t.start ? `${t.start}–${t.end}` : '') }]
    : []),
  ...(setUp.uses('court')
    ? [{ key: 'inCourt', text: 'In court', size: 80, hidden: true, value: (t: Row) => (t.inCourt ? 'in court' : '') }]
    : []),
  ...(setUp.uses('funding') ? [{ key: 'funding', text: 'Funding', size: 130, hidden: true, value: (t: Row) => t.funding ?? '' }] : []),
  ...(setUp.uses('private attorney')
    ? [{ key: 'privateAttorney', text: 'Private attorney', size: 120, hidden: true, value: (t: Row) => (t.privateAttorney ? 'yes' : '') }]
    : []),
  { key: 'day', text: 'Day', kind: 'day', hidden: true, sort: true },
  { key: 'state', text: 'State', size: 124, value: stateOf, sort: true },
  { key: 'minutes', text: 'Hours', kind: 'hours', sort: true },
  { key: 'rate', text: 'Rate', kind: 'money', size: 92, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money', sort: true, show: (t) => (t.charge === 'billable' ? showMoney(t.amount) : t.charge) },
])
const groupOf = (day: string | number) => {
  const d = data.value?.days.find((x) => x.day === day)
  return { text: dayText(day as Day), totals: { minutes: showHours(d?.minutes ?? 0), amount: showMoney(d?.worth ?? 0) } }
}
const acts = (t: Row): Act[] =>
  t.state === 'draft'
    ? [
        { text: 'Change', act: () => (changing.value = t) },
        { text: 'Post', act: () => post([t.id]) },
        { text: 'Delete', act: () => remove(t) },
      ]
    : [
        { text: 'Time of the matter', to: `/matters/${t.matterId}/time` },
        ...(t.state === 'posted' && !t.billed
          ? [
              { text: 'Correct or move …', act: () => (changing.value = t) },
              { text: 'Split …', act: () => (splitting.value = t) },
              { text: 'Reverse …', act: () => (reversing.value = t.id) },
            ]
          : []),
      ]

async function post(ids: number[]) {
  const done = await act(() => api.time.post({ ids }))
  if (!done) return
  notes.say(`${plural(done.posted, 'entry', 'entries')} posted`)
  session.changed()
}
async function remove(row: Row) {
  // What undoing brings back is read while it is there.
  const fields = setUp.groups.length ? await api.time.ownFields({ id: row.id }).catch(() => null) : null
  if (!(await act(() => api.time.remove({ id: row.id })))) return
  notes.say('Draft deleted', {
    label: 'Undo',
    act: () =>
      api.time
        .record({
          matterId: row.matterId,
          day: row.day,
          activity: row.activity,
          text: row.text,
          ...(row.rateOrigin === 'amount alone'
            ? { amount: row.amount }
            : { duration: `${row.workedMinutes}m`, start: row.start, end: row.end }),
          task: row.task,
          inCourt: row.inCourt,
          fundingId: row.fundingId,
          privateAttorney: row.privateAttorney,
          charge: row.charge,
          ...(fields ? { fields } : {}),
          rate: row.rateOrigin === 'typed on the entry' ? row.rate : null,
        })
        .then(session.changed),
  })
  session.changed()
}
const leave = () => void router.replace('/time')
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Time" :hint="`${showHours(data?.together.minutes ?? 0)} h, ${showMoney(data?.together.worth ?? 0)} in this span`">
      <Switch
        v-model="span"
        label="Span"
        :options="[
          { value: '0', text: 'Today' },
          { value: '7', text: 'A week' },
          { value: '31', text: 'A month' },
        ]"
      />
      <Btn :disabled="!drafts.length" :busy="state.busy" @click="post(drafts.map((d) => d.id))"
        >Post {{ plural(drafts.length, 'draft') }}</Btn
      >
      <Btn main key-name="R" @click="router.replace('/time?record=1')">Record time</Btn>
    </PageHead>
    <TimeTabs />
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="Time entries">
      <DataTable
        label="Time entries"
        name="time"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(t) => t.id"
        :loading="loading"
        :problem="problem"
        :group-of="(t) => t.day"
        :group="groupOf"
        :acts="acts"
        :open="(t) => (t.state === 'draft' ? (changing = t) : router.push(`/matters/${t.matterId}/time`))"
        @again="reload()"
      >
        <template #empty>Nothing recorded in this span. Press R, or start the timer with T.</template>
        <template #cell-matter="{ row: t }"
          ><RouterLink :to="`/matters/${t.matterId}/time`" class="hover:underline">{{ t.matter }}</RouterLink></template
        >
        <template #cell-state="{ row: t }"
          ><span class="tag" :class="t.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{
            stateOf(t)
          }}</span></template
        >
        <template #cell-rate="{ row: t }"
          ><span :title="t.rateOrigin">{{ showMoney(t.rate) }}</span></template
        >
      </DataTable>
    </section>
    <RecordTime
      v-if="recording && !reading"
      :key="route.fullPath"
      :duration="String(route.query['duration'] ?? '')"
      :matter="line?.matter ?? null"
      :words="line ? line.words : String(route.query['words'] ?? '')"
      @close="leave"
    />
    <RecordTime v-if="changing" :entry="changing" @close="changing = null" />
    <SplitTime v-if="splitting" :entry="splitting" @close="splitting = null" />
    <EndTime v-if="reversing !== null" how="reverse" :ids="[reversing]" @close="reversing = null" />
  </div>
</template>
