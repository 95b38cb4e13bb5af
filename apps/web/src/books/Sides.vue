<script setup lang="ts">
import { computed } from 'vue'
import { aDay, useFiltered } from '../address'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import { showMoney } from '../ui/show'
import { someMoney, type Column } from '../ui/table/columns'
import FileMenu from './FileMenu.vue'
import { inset } from './inset'

/** The balance sheet, with its equation above it. */
const session = useSession()
const { asOf } = useFiltered({ asOf: aDay(session.today) })
const { data, problem, loading, reload } = useShown(() =>
  asks.books.balanceSheet.queryOptions({ input: { asOf: asOf.value ?? session.today } }),
)
interface Row {
  id: string
  part: string
  name: string
  accountId: number | null
  amount: number
  depth: number
  sum: boolean
}
const rows = computed((): Row[] =>
  (data.value?.sections ?? []).flatMap((s) => [
    ...s.rows.map((r) => ({ ...r, id: `${s.name} ${r.name}`, part: s.name })),
    { id: `sum ${s.name}`, part: s.name, name: `${s.name} together`, accountId: null, amount: s.total, depth: 0, sum: true },
  ]),
)
const columns: Column<Row>[] = [
  { key: 'name', text: 'Account', grow: 2, fixed: true, narrow: 'title' },
  { key: 'amount', text: 'Amount', kind: 'money', size: 160, show: (r) => (r.sum ? showMoney(r.amount) : someMoney(r.amount)) },
]
</script>

<template>
  <section class="sheet max-w-[1000px]" aria-label="Balance sheet">
    <div class="flex flex-wrap items-end gap-4 px-4 py-3">
      <div class="w-48"><DayField v-model="asOf" label="As of" /></div>
      <p v-if="data" class="flex flex-wrap items-baseline gap-2 pb-1 font-serif text-lg font-semibold" aria-label="Both sides">
        <template v-for="(s, i) in data.sections" :key="s.name">
          <span v-if="i === 1">=</span><span v-if="i === 2">+</span>
          <span
            >{{ showMoney(s.total) }} <small class="font-sans text-xs font-normal text-ink-2">{{ s.name.toLowerCase() }}</small></span
          >
        </template>
        <span v-if="data.off" class="text-rust">{{ showMoney(data.off) }} apart</span>
      </p>
      <div class="ml-auto"><FileMenu what="balance" :query="{ asOf }" /></div>
    </div>
    <DataTable
      label="Balance sheet"
      name="balance-sheet"
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
        ><RouterLink v-if="r.accountId" :to="`/books/accounts/${r.accountId}?to=${asOf}`" class="hover:underline" :style="inset(r)">{{
          r.name
        }}</RouterLink
        ><span v-else :style="inset(r)">{{ r.name }}</span></template
      >
    </DataTable>
  </section>
</template>
