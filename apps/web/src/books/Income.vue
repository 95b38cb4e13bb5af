<script setup lang="ts">
import { yearStart, type Day } from '@heron/core/calendar'
import { computed } from 'vue'
import { aDay, useFiltered } from '../address'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import { dayText, showMoney } from '../ui/show'
import { someMoney, type Column } from '../ui/table/columns'
import FileMenu from './FileMenu.vue'
import { inset } from './inset'

const session = useSession()
const { from, to, basis, beside, by } = useFiltered({
  from: aDay(yearStart(session.today)),
  to: aDay(session.today),
  basis: 'cash' as 'cash' | 'accrual',
  beside: 'none' as 'none' | 'months' | 'year',
  by: 'timekeeper' as 'timekeeper' | 'area' | 'account',
})
const asked = computed(() => ({
  from: from.value ?? session.today,
  to: to.value ?? session.today,
  basis: basis.value,
  beside: beside.value,
  by: by.value,
}))
const { data, problem, loading, reload } = useShown(() => asks.books.incomeStatement.queryOptions({ input: asked.value }))
interface Row {
  id: string
  part: string
  name: string
  accountId: number | null
  amounts: number[]
  together: number
  depth: number
  sum: boolean
}
const rows = computed((): Row[] =>
  (data.value?.sections ?? []).flatMap((s) => [
    ...s.rows.map((r) => ({ ...r, id: `${s.name} ${r.name}`, part: s.name })),
    {
      id: `sum ${s.name}`,
      part: s.name,
      name: `${s.name} together`,
      accountId: null,
      amounts: s.totals,
      together: s.together,
      depth: 0,
      sum: true,
    },
  ]),
)
const month = new Intl.DateTimeFormat('en-US', { month: 'short', year: '2-digit', timeZone: 'UTC' })
/** Said by what the columns are, not by what was chosen meanwhile. */
const many = computed(() => (data.value?.columns.length ?? 0) > 2)
const heading = (c: { from: Day; to: Day }) =>
  many.value ? month.format(new Date(`${c.from}T00:00:00Z`)) : data.value?.columns.length === 2 ? `to ${dayText(c.to)}` : 'Amount'
const columns = computed((): Column<Row>[] => [
  { key: 'name', text: 'Of', grow: 2, fixed: true, narrow: 'title', total: 'Net' },
  ...(many.value
    ? [{ key: 'together', text: 'Together', kind: 'money' as const, size: 130, strong: true, total: showMoney(data.value?.together ?? 0) }]
    : []),
  ...(data.value?.columns ?? []).map((c, i): Column<Row> => ({
    key: `c${i}`,
    text: heading(c),
    kind: 'money',
    size: many.value ? 118 : 160,
    value: (r) => r.amounts[i] ?? 0,
    show: (r) => someMoney(r.amounts[i] ?? 0),
    total: showMoney(data.value?.net[i] ?? 0),
  })),
])
</script>

<template>
  <section class="sheet" :class="many ? '' : 'max-w-[1060px]'" aria-label="Income statement">
    <div class="flex flex-wrap items-end gap-3 px-4 py-3">
      <div class="w-40"><DayField v-model="from" label="From" /></div>
      <div class="w-40"><DayField v-model="to" label="To" /></div>
      <div class="w-44">
        <ChoiceField
          v-model="basis"
          label="Basis"
          :options="[
            { value: 'cash', text: 'Money collected' },
            { value: 'accrual', text: 'Billed and owed' },
          ]"
        />
      </div>
      <div class="w-40">
        <ChoiceField
          v-model="by"
          label="Fees by"
          :options="[
            { value: 'timekeeper', text: 'Timekeeper' },
            { value: 'area', text: 'Area' },
            { value: 'account', text: 'Account' },
          ]"
        />
      </div>
      <div class="w-40">
        <ChoiceField
          v-model="beside"
          label="Beside it"
          :options="[
            { value: 'none', text: 'Nothing' },
            { value: 'months', text: 'Month by month' },
            { value: 'year', text: 'The year before' },
          ]"
        />
      </div>
      <div class="ml-auto"><FileMenu what="income" :query="asked" /></div>
    </div>
    <DataTable
      label="Income statement"
      name="income"
      :rows="rows"
      :columns="columns"
      :row-id="(r) => r.id"
      :group-of="(r) => r.part"
      :group="(part) => ({ text: String(part) })"
      :row-class="(r) => (r.sum ? 'font-semibold' : '')"
      :loading="loading"
      :problem="problem"
      @again="reload()"
    >
      <template #cell-name="{ row: r }"
        ><RouterLink
          v-if="r.accountId"
          :to="`/books/accounts/${r.accountId}?from=${asked.from}&to=${asked.to}`"
          class="hover:underline"
          :style="inset(r)"
          >{{ r.name }}</RouterLink
        ><span v-else :style="inset(r)">{{ r.name }}</span></template
      >
    </DataTable>
    <p class="px-4 py-2.5 text-ink-2">
      {{
        basis === 'cash'
          ? 'Fees count in the period in which a payment was applied to them. Closing entries are left out.'
          : 'Fees count when they are billed, less what was credited. Closing entries are left out.'
      }}
    </p>
  </section>
</template>
