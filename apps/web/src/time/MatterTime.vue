<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import ChangeCost, { type CostRow } from '../costs/ChangeCost.vue'
import CostSheet from '../costs/CostSheet.vue'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { showMoney } from '../ui/show'
import Switch from '../ui/Switch.vue'
import EndTime from './EndTime.vue'
import RecordTime from './RecordTime.vue'
import SplitTime from './SplitTime.vue'
import TermsSheet from './TermsSheet.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const unbilled = ref<'yes' | 'no'>('yes')
const { data, problem, loading, reload } = useShown(() =>
  asks.time.ofMatter.queryOptions({ input: { id: props.matter.id, unbilled: unbilled.value } }),
)
const recording = ref(false)
const terms = ref(false)
const costing = ref(false)
const changingCost = ref<{ cost: CostRow; how: 'correct' | 'reverse' } | null>(null)
type Entry = Answer<typeof api.time.list>['rows'][number]
const correcting = ref<Entry | null>(null)
const splitting = ref<Entry | null>(null)
const ending = ref<{ how: 'write off' | 'reverse'; ids: number[] } | null>(null)
const chosen = ref<(number | string)[]>([])
const money = session.may('bills.see')
interface Row {
  id: string
  part: string
  day: Day
  who: string
  whole: string
  text: string
  state: string
  minutes: number | null
  rate: number | null
  origin: string
  amount: number
  shown: string
  /** Set where it is posted, unbilled time that the reader may correct. */
  entry: Entry | null
  /** Set where it is a cost that is not billed. */
  cost: CostRow | null
}
type Cost = Answer<typeof api.time.ofMatter>['costs'][number]
const costState = (c: Cost) =>
  c.state === 'reversed'
    ? 'reversed'
    : c.billed
      ? `billed ${c.billed}`
      : c.paidFrom === 'trust'
        ? 'paid from trust'
        : c.paidFrom === 'owed'
          ? 'owed to vendor'
          : c.kindName
const rows = computed((): Row[] => [
  ...(data.value?.time ?? []).map((t) => ({
    id: `t${t.id}`,
    part: data.value!.more ? `Time (newest ${data.value!.time.length} shown)` : 'Time',
    day: t.day,
    who: t.initials,
    whole: t.who,
    text: t.text,
    state: t.billed ? `billed ${t.billed}` : t.state,
    minutes: t.minutes,
    rate: t.rate,
    origin: t.rateOrigin,
    amount: t.amount,
    shown: t.charge === 'billable' ? showMoney(t.amount) : t.charge,
    entry: t.state === 'posted' && !t.billed && (money || t.userId === session.me?.id) ? t : null,
    cost: null,
  })),
  ...(data.value?.costs ?? []).map((c) => ({
    id: `c${c.id}`,
    part: 'Costs',
    day: c.day,
    who: '',
    whole: '',
    text: c.units ? `${c.text} (${c.units})` : c.text,
    state: costState(c),
    minutes: null,
    rate: null,
    origin: '',
    amount: c.amount,
    shown: c.paidFrom === 'trust' ? `paid ${showMoney(c.amount)}` : c.billable ? showMoney(c.amount) : 'not billed',
    entry: null,
    cost:
      c.billed || c.state === 'reversed' || !session.may('costs.record')
        ? null
        : { ...c, matterId: props.matter.id, matter: props.matter.name },
  })),
])
const columns = computed((): Column<Row>[] => [
  { key: 'day', text: 'Date', kind: 'day', quiet: true, total: unbilled.value === 'yes' && money ? 'Unbilled' : '' },
  { key: 'who', text: 'Who', size: 56, quiet: true, value: (r) => r.whole },
  { key: 'text', text: 'Work', grow: 3, narrow: 'title' },
  { key: 'state', text: 'State', size: 124, quiet: true },
  { key: 'minutes', text: 'Hours', kind: 'hours' },
  { key: 'rate', text: 'Rate', kind: 'money', size: 92, quiet: true },
  {
    key: 'amount',
    text: 'Amount',
    kind: 'money',
    show: (r) => r.shown,
    total: unbilled.value === 'yes' && money ? showMoney(data.value?.unbilled ?? 0) : '',
  },
])
const mayWriteOff = session.may('bills.review')
const acts = (r: Row): Act[] => {
  const { entry, cost } = r
  if (cost)
    return [
      { text: 'Correct or move …', act: () => (changingCost.value = { cost, how: 'correct' }) },
      { text: 'Reverse …', act: () => (changingCost.value = { cost, how: 'reverse' }) },
      ...(cost.receiptId ? [{ text: 'See the receipt', to: `/papers/${cost.receiptId}` }] : []),
    ]
  if (!entry) return []
  return [
    { text: 'Correct or move …', act: () => (correcting.value = entry) },
    { text: 'Split …', act: () => (splitting.value = entry) },
    ...(mayWriteOff ? [{ text: 'Write off …', act: () => (ending.value = { how: 'write off' as const, ids: [entry.id] }) }] : []),
    { text: 'Reverse …', act: () => (ending.value = { how: 'reverse', ids: [entry.id] }) },
  ]
}
const picked = computed(() => rows.value.filter((r) => r.entry && chosen.value.includes(r.id)).map((r) => r.entry!.id))
</script>

<template>
  <div class="flex items-center gap-2 px-4 py-3">
    <h2>Time & costs</h2>
    <Switch
      v-model="unbilled"
      label="Which"
      :options="[
        { value: 'yes', text: 'Unbilled' },
        { value: 'no', text: 'All' },
      ]"
    />
    <span class="ml-auto flex flex-wrap gap-2"
      ><Btn v-if="mayWriteOff && picked.length" @click="ending = { how: 'write off', ids: picked }">Write off {{ picked.length }} …</Btn
      ><Btn v-if="session.may('bills.review')" @click="terms = true">Rounding and rates</Btn
      ><Btn v-if="session.may('costs.record')" @click="costing = true">Record a cost</Btn
      ><Btn v-if="session.may('time.record')" main @click="recording = true">Record time</Btn></span
    >
  </div>
  <DataTable
    v-model:selected="chosen"
    label="Time and costs"
    name="time-of-matter"
    :rows="rows"
    :columns="columns"
    :row-id="(r) => r.id"
    :loading="loading"
    :problem="problem"
    :group-of="(r) => r.part"
    :group="(part) => ({ text: String(part) })"
    :acts="acts"
    :row-class="(r) => (r.state === 'reversed' || r.state === 'written off' ? 'text-ink-3 line-through' : '')"
    @again="reload()"
  >
    <template #empty>Nothing here yet.</template>
    <template #cell-who="{ row: r }"
      ><span :title="r.whole">{{ r.who }}</span></template
    >
    <template #cell-rate="{ row: r }"
      ><span :title="r.origin">{{ r.rate === null ? '' : showMoney(r.rate) }}</span></template
    >
  </DataTable>
  <TermsSheet v-if="terms" of="matter" :id="matter.id" :name="matter.number" @close="terms = false" />
  <RecordTime v-if="recording" :matter="{ id: matter.id, text: matter.name }" @close="recording = false" />
  <CostSheet v-if="costing" :matter="{ id: matter.id, text: matter.name }" @close="costing = false" />
  <ChangeCost v-if="changingCost" v-bind="changingCost" @close="changingCost = null" />
  <RecordTime v-if="correcting" :entry="correcting" @close="correcting = null" />
  <SplitTime v-if="splitting" :entry="splitting" @close="splitting = null" />
  <EndTime v-if="ending" v-bind="ending" @close="ending = null" />
</template>
