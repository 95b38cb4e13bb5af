<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { aDay, useCalled, useFiltered, useTab } from '../address'
import { type Answer, api, asks } from '../api'
import { recent, useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import TimeTabs from '../time/TimeTabs.vue'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import Switch from '../ui/Switch.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad, useOpening } from '../use'
import ChangeCost from './ChangeCost.vue'
import CostSheet from './CostSheet.vue'
import { paidFromWords } from './form'
import RecurringCosts from './RecurringCosts.vue'
import SplitCost from './SplitCost.vue'

type Row = Answer<typeof api.costs.list>['rows'][number]
const states = ['all', 'unbilled', 'billed', 'owed', 'not billable', 'reversed'] as const
const session = useSession()
const notes = useNotes()
const router = useRouter()
const part = useTab<'costs' | 'recurring'>('costs')
const { q, state, kindId, from, to, page } = useFiltered({
  q: '',
  state: 'all' as (typeof states)[number],
  kindId: 0,
  from: aDay(),
  to: aDay(),
  page: 1,
})
const named = refDebounced(q, 150)
const chosen = ref<(number | string)[]>([])
watch([named, state, kindId, from, to], () => ((page.value = 1), (chosen.value = [])))
const { data: kinds } = useLoad(() => recent(asks.costs.kinds.queryOptions()))
const { data, problem, loading, reload } = useShown(() =>
  asks.costs.list.queryOptions({
    input: {
      q: named.value.trim(),
      state: state.value,
      ...(kindId.value ? { kindId: kindId.value } : {}),
      ...(from.value ? { from: from.value } : {}),
      ...(to.value ? { to: to.value } : {}),
      page: page.value,
      size: 100,
    },
  }),
)
const stateOf = (c: Row) =>
  c.state === 'reversed'
    ? 'reversed'
    : c.billed
      ? `billed ${c.billed}`
      : c.paidFrom === 'trust'
        ? { draft: 'drafted from trust', posted: 'paid from trust', dropped: 'payment dropped', void: 'payment void' }[
            c.payment ?? 'posted'
          ]
        : c.paidFrom === 'owed' && !c.settledOn
          ? 'owed'
          : c.billable
            ? ''
            : 'not billed'
const columns = computed((): Column<Row>[] => [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'matter', text: 'Matter', grow: 1.2 },
  { key: 'text', text: 'For what', grow: 1.8, narrow: 'title' },
  { key: 'kindName', text: 'Kind', size: 178, quiet: true },
  { key: 'payee', text: 'Paid to', size: 150, grow: 1, quiet: true },
  { key: 'units', text: 'Units', kind: 'number', size: 72, quiet: true, hidden: true, value: (c) => c.units },
  { key: 'state', text: 'State', size: 118, value: stateOf },
  { key: 'from', text: 'Paid from', size: 120, hidden: true, value: (c) => (c.paidFrom ? paidFromWords[c.paidFrom] : '') },
  { key: 'receipt', text: 'Receipt', size: 120, hidden: true, value: (c) => c.receipt ?? '' },
  { key: 'paid', text: 'Cost', kind: 'money', quiet: true, total: showMoney(data.value?.paid ?? 0) },
  {
    key: 'amount',
    text: 'Charged',
    kind: 'money',
    show: (c) => (c.billable ? showMoney(c.amount) : ''),
    total: showMoney(data.value?.amount ?? 0),
  },
])
const changing = ref<{ cost: Row; how: 'correct' | 'reverse' } | null>(null)
const acts = (c: Row): Act[] => [
  { text: 'Time and costs of the matter', to: `/matters/${c.matterId}/time` },
  ...(c.receiptId ? [{ text: 'See the receipt', to: `/papers/${c.receiptId}` }] : []),
  ...(c.state === 'recorded' && !c.billId
    ? [
        { text: 'Correct or move …', act: () => (changing.value = { cost: c, how: 'correct' as const }) },
        { text: 'Reverse …', act: () => (changing.value = { cost: c, how: 'reverse' as const }) },
      ]
    : []),
]
const recording = useCalled('record')
const splitting = ref(false)
const settling = ref(false)
const settleDay = ref<Day | null>(session.today)
const maySettle = session.may('books.post')
const owed = computed(() => (data.value?.rows ?? []).filter((c) => chosen.value.includes(c.id) && stateOf(c) === 'owed'))
useOpening(settling, () => (settleDay.value = session.today))
const { state: paying, fault, send } = useForm(() => api.costs.settle({ ids: owed.value.map((c) => c.id), day: settleDay.value ?? '' }))
async function settle() {
  const done = await send()
  if (!done) return
  notes.say(`${showMoney(done.amount)} paid in ${plural(done.payments, 'payment')}`)
  settling.value = false
  chosen.value = []
  session.changed()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Costs" :hint="data ? `${plural(data.total, 'cost')}, ${showMoney(data.amount)} charged to clients` : ''">
      <Switch
        v-model="part"
        label="Show"
        :options="[
          { value: 'costs', text: 'Recorded' },
          { value: 'recurring', text: 'Recurring' },
        ]"
      />
      <Btn v-if="session.may('people.change')" @click="router.push('/people/import?what=costs')">Import …</Btn>
      <Btn @click="splitting = true">One payment, several matters</Btn>
      <Btn main @click="recording = true">Record a cost</Btn>
    </PageHead>
    <TimeTabs />
    <section v-if="part === 'recurring'" class="sheet" aria-label="Costs that recur"><RecurringCosts /></section>
    <section v-else class="sheet" aria-label="Costs">
      <div class="flex flex-wrap items-end gap-3 px-3.5 py-3">
        <div class="w-56 max-w-full"><TextField v-model="q" label="Find by words or vendor" /></div>
        <div class="w-36">
          <ChoiceField v-model="state" label="Which" :options="states.map((s) => ({ value: s, text: s }))" />
        </div>
        <div class="w-44">
          <ChoiceField
            v-model="kindId"
            label="Kind"
            :options="[{ value: 0, text: 'Any' }, ...(kinds ?? []).map((k) => ({ value: k.id, text: k.name }))]"
          />
        </div>
        <div class="w-36"><DayField v-model="from" label="From" optional /></div>
        <div class="w-36"><DayField v-model="to" label="To" optional /></div>
        <Btn v-if="maySettle && owed.length" class="ml-auto" @click="settling = true">Pay {{ plural(owed.length, 'vendor bill') }} …</Btn>
      </div>
      <DataTable
        v-model:selected="chosen"
        label="Costs"
        name="costs"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(c) => c.id"
        :loading="loading && !data"
        :problem="problem"
        :acts="acts"
        :row-class="(c) => (c.state === 'reversed' ? 'text-ink-3 line-through' : '')"
        @again="reload()"
      >
        <template #empty>No cost fits.</template>
        <template #cell-matter="{ row: c }"
          ><RouterLink :to="`/matters/${c.matterId}/time`" class="hover:underline">{{ c.matter }}</RouterLink></template
        >
        <template #cell-state="{ row: c }"
          ><span v-if="stateOf(c)" class="tag bg-mist text-ink-2">{{ stateOf(c) }}</span></template
        >
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="100" what="costs" /></template>
      </DataTable>
    </section>
    <CostSheet v-if="recording" @close="recording = false" />
    <SplitCost v-if="splitting" @close="splitting = false" />
    <ChangeCost v-if="changing" v-bind="changing" @close="changing = null" />
    <SideSheet
      v-if="settling"
      title="Pay vendors"
      save="Record the payments"
      :busy="paying.busy"
      :message="paying.said"
      @save="settle"
      @close="settling = false"
    >
      <DayField v-model="settleDay" label="On" :fault="fault('day')" autofocus />
      <p>Paid out of the operating account, one payment for each vendor. What was owed is settled by it.</p>
      <ul class="list-disc pl-5">
        <li v-for="c in owed" :key="c.id">{{ c.payee }}: {{ c.text }}, {{ showMoney(c.paid) }}</li>
      </ul>
    </SideSheet>
  </div>
</template>
