<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import { showMoney } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import BankAccounts from './BankAccounts.vue'
import EnterJournal from './EnterJournal.vue'
import DataTable from '../ui/DataTable.vue'
import { someMoney, type Column } from '../ui/table/columns'

type Show = 'trial' | 'income' | 'bank'
const session = useSession()
const route = useRoute()
const router = useRouter()
const show = ref<Show>((route.query['show'] as Show | undefined) ?? 'trial')
watch(show, (s) => void router.replace({ query: s === 'trial' ? {} : { show: s } }))
const asOf = ref<string | null>(session.today)
const from = ref<string | null>(`${session.today.slice(0, 4)}-01-01`)
const to = ref<string | null>(session.today)
const trial = useLoad(() => api.books.trialBalance({ asOf: asOf.value ?? session.today }), [asOf, () => session.tick])
const income = useLoad(
  () => api.books.income({ from: from.value ?? session.today, to: to.value ?? session.today }),
  [from, to, () => session.tick],
)
const shown = computed(() => (trial.data.value?.rows ?? []).filter((a) => a.debit || a.credit))
const entering = ref(false)
type TrialRow = Answer<typeof api.books.trialBalance>['rows'][number]
const trialColumns = computed((): Column<TrialRow>[] => [
  { key: 'name', text: 'Account', grow: 2, fixed: true, narrow: 'title', value: (a) => `${a.code} ${a.name}`, total: 'Together' },
  { key: 'kind', text: 'Kind', size: 110, quiet: true },
  {
    key: 'debit',
    text: 'Debit',
    kind: 'money',
    size: 140,
    show: (a) => someMoney(a.debit),
    total: showMoney(trial.data.value?.debit ?? 0),
  },
  {
    key: 'credit',
    text: 'Credit',
    kind: 'money',
    size: 140,
    show: (a) => someMoney(a.credit),
    total: showMoney(trial.data.value?.credit ?? 0),
  },
])
interface IncomeRow {
  id: string
  part: string
  name: string
  amount: number
  sum?: boolean
}
const incomeRows = computed((): IncomeRow[] => {
  const d = income.data.value
  if (!d) return []
  const of = (part: string, rows: { name: string; amount: number }[], total: string, amount: number): IncomeRow[] => [
    ...rows.map((r) => ({ ...r, part, id: `${part} ${r.name}` })),
    { id: `sum ${part}`, part, name: total, amount, sum: true },
  ]
  return [
    ...of(
      'Fees collected by timekeeper, and other income',
      [...d.fees.map((f) => ({ name: f.who, amount: f.amount })), ...d.otherIncome],
      'Income',
      d.income,
    ),
    ...of('Expenses', d.expenses, 'Expenses', d.expense),
  ]
})
const incomeColumns = computed((): Column<IncomeRow>[] => [
  { key: 'name', text: 'Of', grow: 2, fixed: true, narrow: 'title', total: 'Net' },
  { key: 'amount', text: 'Amount', kind: 'money', size: 160, total: showMoney(income.data.value?.net ?? 0) },
])
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Books">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'trial', text: 'Trial balance' },
          { value: 'income', text: 'Income by timekeeper' },
          { value: 'bank', text: 'Bank accounts' },
        ]"
      />
      <Btn href="/api/books/export" download>Export journals</Btn>
      <Btn v-if="session.may('books.post')" main @click="entering = true">Enter a journal</Btn>
    </PageHead>
    <section v-if="show === 'trial'" class="sheet max-w-[900px]" aria-label="Trial balance">
      <div class="flex items-end gap-4 px-4 py-3">
        <div class="w-48"><DayField v-model="asOf" label="As of" /></div>
        <p
          v-if="trial.data.value"
          class="pb-1.5 font-semibold"
          :class="trial.data.value.debit === trial.data.value.credit ? 'text-lagoon' : 'text-rust'"
        >
          {{ trial.data.value.debit === trial.data.value.credit ? 'In balance' : 'Out of balance' }}
        </p>
      </div>
      <DataTable
        label="Trial balance"
        name="trial-balance"
        :rows="shown"
        :columns="trialColumns"
        :row-id="(a) => a.id"
        :loading="trial.loading.value"
        :problem="trial.problem.value"
        :open="(a) => router.push(`/books/accounts/${a.id}`)"
        @again="trial.reload()"
      >
        <template #cell-name="{ row: a }"
          ><RouterLink :to="`/books/accounts/${a.id}`" class="hover:underline"
            ><span class="text-ink-2">{{ a.code }}</span> {{ a.name }}</RouterLink
          ></template
        >
      </DataTable>
    </section>
    <BankAccounts v-else-if="show === 'bank'" />
    <section v-else class="sheet max-w-[900px]" aria-label="Income by timekeeper">
      <div class="flex items-end gap-4 px-4 py-3">
        <div class="w-44"><DayField v-model="from" label="From" /></div>
        <div class="w-44"><DayField v-model="to" label="To" /></div>
        <p class="pb-1.5 text-ink-2">Money collected, in the period in which it was applied</p>
      </div>
      <State :loading="income.loading.value && !income.data.value" :problem="income.problem.value" @again="income.reload()">
        <DataTable
          v-if="income.data.value"
          label="Income statement"
          name="income"
          :rows="incomeRows"
          :columns="incomeColumns"
          :row-id="(r) => r.id"
          :group-of="(r) => r.part"
          :group="(part) => ({ text: String(part) })"
          :row-class="(r) => (r.sum ? 'font-semibold' : '')"
        />
      </State>
    </section>
    <EnterJournal v-if="entering" :accounts="trial.data.value?.rows ?? []" @close="entering = false" />
  </div>
</template>
