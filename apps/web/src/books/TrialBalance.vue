<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { aDay, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import { showMoney } from '../ui/show'
import { someMoney, type Column } from '../ui/table/columns'
import FileMenu from './FileMenu.vue'

const session = useSession()
const router = useRouter()
const { asOf, before } = useFiltered({ asOf: aDay(session.today), before: false as boolean })
const closing = computed(() => (before.value ? ('without' as const) : ('with' as const)))
const { data, problem, loading, reload } = useShown(() =>
  asks.books.trialBalance.queryOptions({ input: { asOf: asOf.value ?? session.today, closing: closing.value } }),
)
const shown = computed(() => (data.value?.rows ?? []).filter((a) => a.debit || a.credit))
type Row = Answer<typeof api.books.trialBalance>['rows'][number]
const columns = computed((): Column<Row>[] => [
  { key: 'name', text: 'Account', grow: 2, fixed: true, narrow: 'title', value: (a) => `${a.code} ${a.name}`, total: 'Together' },
  { key: 'kind', text: 'Kind', size: 110, quiet: true },
  { key: 'debit', text: 'Debit', kind: 'money', size: 140, show: (a) => someMoney(a.debit), total: showMoney(data.value?.debit ?? 0) },
  { key: 'credit', text: 'Credit', kind: 'money', size: 140, show: (a) => someMoney(a.credit), total: showMoney(data.value?.credit ?? 0) },
])
const open = (a: Row) => `/books/accounts/${a.id}?to=${asOf.value ?? session.today}`
</script>

<template>
  <section class="sheet max-w-[1000px]" aria-label="Trial balance">
    <div class="flex flex-wrap items-end gap-4 px-4 py-3">
      <div class="w-48"><DayField v-model="asOf" label="As of" /></div>
      <label class="flex gap-2 pb-1.5"
        ><input v-model="before" type="checkbox" class="accent-ink" /> before closing entries of its year</label
      >
      <p v-if="data" class="pb-1.5 font-semibold" :class="data.debit === data.credit ? 'text-lagoon' : 'text-rust'">
        {{ data.debit === data.credit ? 'In balance' : 'Out of balance' }}
      </p>
      <div class="ml-auto"><FileMenu what="trial" :query="{ asOf, closing }" /></div>
    </div>
    <DataTable
      label="Trial balance"
      name="trial-balance"
      :rows="shown"
      :columns="columns"
      :row-id="(a) => a.id"
      :loading="loading"
      :problem="problem"
      :open="(a) => router.push(open(a))"
      @again="reload()"
    >
      <template #cell-name="{ row: a }"
        ><RouterLink :to="open(a)" class="hover:underline"
          ><span class="text-ink-2">{{ a.code }}</span> {{ a.name }}</RouterLink
        ></template
      >
    </DataTable>
  </section>
</template>
