<script setup lang="ts">
import { computed, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import Pager from '../ui/Pager.vue'
import { showMoney } from '../ui/show'
import type { Column } from '../ui/table/columns'
import CreditSheet from './CreditSheet.vue'
import { settledBy } from './kinds'

/** What payers have left over of payments: owed to them until it is applied, paid back or moved to trust. */
type Row = Answer<typeof api.billing.credits>['rows'][number]
const session = useSession()
const page = ref(1)
const { data, problem, loading, reload } = useShown(() => asks.billing.credits.queryOptions({ input: { page: page.value, size: 100 } }))
const acting = ref<{ credit: Row; what: 'apply' | 'refund' | 'to trust' } | null>(null)
const columns = computed((): Column<Row>[] => [
  { key: 'payer', text: 'Payer', grow: 2, narrow: 'title', sort: true, total: 'Together' },
  { key: 'day', text: 'Paid', kind: 'day', quiet: true, sort: true },
  { key: 'how', text: 'How', quiet: true, value: (c) => `${settledBy[c.kind]}${c.reference ? ` ${c.reference}` : ''}` },
  { key: 'amount', text: 'Payment', kind: 'money', quiet: true },
  { key: 'credit', text: 'Left over', kind: 'money', strong: true, sort: true, total: showMoney(data.value?.together ?? 0) },
])
function acts(credit: Row): Act[] {
  if (!session.may('bills.issue')) return []
  const of = (text: string, what: 'apply' | 'refund' | 'to trust') => ({ text, act: () => (acting.value = { credit, what }) })
  return [of('Apply to a bill', 'apply'), of('Pay back', 'refund'), ...(session.may('trust.post') ? [of('Move to trust', 'to trust')] : [])]
}
</script>

<template>
  <DataTable
    label="Credits of payers"
    name="credits"
    :rows="data?.rows ?? []"
    :columns="columns"
    :row-id="(c) => c.id"
    :loading="loading"
    :problem="problem"
    :acts="acts"
    @again="reload()"
  >
    <template #empty
      >Nothing is left over. What a payment leaves beyond the bills it pays is listed here until it is applied, paid back or moved to
      trust.</template
    >
    <template #cell-payer="{ row: c }"
      ><RouterLink :to="`/people/${c.payerId}`" class="font-semibold hover:underline">{{ c.payer }}</RouterLink></template
    >
    <template #foot><Pager v-if="(data?.total ?? 0) > 100" v-model="page" :total="data?.total ?? 0" :size="100" what="credits" /></template>
  </DataTable>
  <CreditSheet v-if="acting" :credit="acting.credit" :what="acting.what" @close="acting = null" />
</template>
