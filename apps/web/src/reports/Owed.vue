<script setup lang="ts">
import { agingBuckets } from '@heron/core/billing'
import { computed, ref } from 'vue'
import { aDay, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import { showMoney } from '../ui/show'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import type { Choice } from '../ui/Picker.vue'
import ReceivePayment from '../billing/ReceivePayment.vue'
import ReportTabs from './ReportTabs.vue'

const session = useSession()
const { asOf } = useFiltered({ asOf: aDay(session.today) })
const { data, problem, loading, reload } = useShown(() => asks.books.aging.queryOptions({ input: { asOf: asOf.value ?? session.today } }))
type Row = Answer<typeof api.books.aging>['rows'][number]
const payer = ref<Choice | null>(null)
const columns = computed((): Column<Row>[] => [
  { key: 'payer', text: 'Payer', grow: 2, fixed: true, narrow: 'title', sort: true, total: 'Together' },
  ...agingBuckets.map((text, i) => ({
    key: `b${i}`,
    text,
    kind: 'money' as const,
    sort: true,
    value: (r: Row) => r.buckets[i] || null,
    total: showMoney(data.value?.together.buckets[i] ?? 0),
  })),
  { key: 'total', text: 'Together', kind: 'money', strong: true, sort: true, total: showMoney(data.value?.together.total ?? 0) },
])
const acts = (r: Row): Act[] =>
  session.may('bills.issue') ? [{ text: 'Payment received', act: () => (payer.value = { id: r.payerId, text: r.payer }) }] : []
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Receivables by age" hint="What each payer owes, by days past due"
      ><div class="w-44"><DayField v-model="asOf" label="As of" /></div
    ></PageHead>
    <ReportTabs />
    <section class="sheet" aria-label="Receivables by age">
      <DataTable
        label="Receivables by age"
        name="aging"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(r) => r.payerId"
        :loading="loading"
        :problem="problem"
        :acts="acts"
        @again="reload()"
      >
        <template #empty>Nobody owed anything on that day.</template>
        <template #cell-payer="{ row: r }"
          ><RouterLink :to="`/people/${r.payerId}`" class="hover:underline">{{ r.payer }}</RouterLink></template
        >
      </DataTable>
      <ReceivePayment v-if="payer" :payer="payer" @close="payer = null" />
    </section>
  </div>
</template>
