<script setup lang="ts">
import { yearStart } from '@heron/core/calendar'
import { computed } from 'vue'
import { aDay, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import { showMoney } from '../ui/show'
import { someMoney, type Column } from '../ui/table/columns'
import FileMenu from './FileMenu.vue'

/** Where the firm's own money came from and went, and tax on bills below it. */
const session = useSession()
const { from, to } = useFiltered({ from: aDay(yearStart(session.today)), to: aDay(session.today) })
const span = computed(() => ({ from: from.value ?? session.today, to: to.value ?? session.today }))
const cash = useShown(() => asks.books.cashFlow.queryOptions({ input: span.value }))
const tax = useShown(() => asks.books.taxes.queryOptions({ input: span.value }))
const flow = cash.data
const columns = computed((): Column<Answer<typeof api.books.cashFlow>['rows'][number]>[] => [
  { key: 'name', text: 'Account', grow: 2, fixed: true, narrow: 'title', total: 'Together' },
  { key: 'moneyIn', text: 'In', kind: 'money', size: 150, show: (r) => someMoney(r.moneyIn), total: showMoney(flow.value?.moneyIn ?? 0) },
  {
    key: 'moneyOut',
    text: 'Out',
    kind: 'money',
    size: 150,
    show: (r) => someMoney(r.moneyOut),
    total: showMoney(flow.value?.moneyOut ?? 0),
  },
])
const taxColumns = computed((): Column<Answer<typeof api.books.taxes>['rows'][number]>[] => [
  { key: 'month', text: 'Month', grow: 2, fixed: true, narrow: 'title', total: 'Together' },
  {
    key: 'rate',
    text: 'Rate',
    kind: 'number',
    size: 100,
    value: (r) => r.rate ?? 0,
    show: (r) => (r.rate === null ? '' : `${r.rate / 100} %`),
  },
  { key: 'billed', text: 'Billed', kind: 'money', size: 150, total: showMoney(tax.data.value?.billed ?? 0) },
  { key: 'credited', text: 'Credited', kind: 'money', size: 150, total: showMoney(tax.data.value?.credited ?? 0) },
  { key: 'collected', text: 'Collected', kind: 'money', size: 150, total: showMoney(tax.data.value?.collected ?? 0) },
])
</script>

<template>
  <div class="max-w-[1000px] space-y-3.5">
    <section class="sheet" aria-label="Cash flow">
      <div class="flex flex-wrap items-end gap-4 px-4 py-3">
        <div class="w-40"><DayField v-model="from" label="From" /></div>
        <div class="w-40"><DayField v-model="to" label="To" /></div>
        <p v-if="flow" class="flex flex-wrap items-baseline gap-2 pb-1 font-serif text-lg font-semibold" aria-label="The firm’s own money">
          <span>{{ showMoney(flow.opening) }}</span> + <span>{{ showMoney(flow.moneyIn) }}</span> −
          <span>{{ showMoney(flow.moneyOut) }}</span> =
          <span class="text-lagoon">{{ showMoney(flow.closing) }}</span>
        </p>
        <div class="ml-auto"><FileMenu what="cash" :query="span" /></div>
      </div>
      <DataTable
        label="Cash flow"
        name="cash-flow"
        :rows="flow?.rows ?? []"
        :columns="columns"
        :row-id="(r) => r.accountId"
        :loading="cash.loading.value"
        :problem="cash.problem.value"
        @again="cash.reload()"
      >
        <template #empty>No money of the firm moved in this span.</template>
        <template #cell-name="{ row: r }"
          ><RouterLink :to="`/books/accounts/${r.accountId}?from=${span.from}&to=${span.to}`" class="hover:underline">{{
            r.name
          }}</RouterLink></template
        >
      </DataTable>
    </section>
    <section class="sheet" aria-label="Tax on bills">
      <div class="flex items-center px-4 pt-3 pb-1">
        <h2>Tax on bills</h2>
        <div class="ml-auto"><FileMenu what="taxes" :query="span" /></div>
      </div>
      <DataTable
        label="Tax on bills"
        name="taxes"
        :rows="tax.data.value?.rows ?? []"
        :columns="taxColumns"
        :row-id="(r) => `${r.month} ${r.rate}`"
        :loading="tax.loading.value"
        :problem="tax.problem.value"
        @again="tax.reload()"
      >
        <template #empty>No bill of this span bears tax.</template>
      </DataTable>
    </section>
  </div>
</template>
