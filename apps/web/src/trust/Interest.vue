<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import { showMoney } from '../ui/show'
import type { Column } from '../ui/table/columns'

/** What the bank paid of interest in a year, ledger by ledger, as forms for tax and the bar foundation ask for it. */
const session = useSession()
const router = useRouter()
const thisYear = Number(session.today.slice(0, 4))
const { year } = useFiltered({ year: thisYear })
const { data, problem, loading, reload } = useShown(() => asks.trustActs.interestOf.queryOptions({ input: { year: year.value } }))
type Row = Answer<typeof api.trustActs.interestOf>['rows'][number]
const columns = computed((): Column<Row>[] => [
  { key: 'ledger', text: 'To the ledger of', grow: 2, narrow: 'title', total: 'Together' },
  { key: 'bank', text: 'Account', grow: 1.4, quiet: true },
  { key: 'taxNumber', text: 'Tax number', size: 140 },
  { key: 'times', text: 'Times', kind: 'number', size: 72, quiet: true },
  { key: 'amount', text: 'Interest', kind: 'money', strong: true, total: showMoney(data.value?.together ?? 0) },
])
</script>

<template>
  <section class="sheet" aria-label="Interest">
    <div class="px-4 pt-3 pb-2">
      <div class="w-32">
        <ChoiceField
          v-model="year"
          label="Year"
          :options="Array.from({ length: 10 }, (_, i) => ({ value: thisYear - i, text: String(thisYear - i) }))"
        />
      </div>
    </div>
    <DataTable
      label="Interest of the year"
      name="trust-interest"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(r) => r.ledgerId"
      :open="(r) => router.push(`/trust/ledgers/${r.ledgerId}`)"
      :loading="loading && !data"
      :problem="problem"
      @again="reload()"
    >
      <template #empty
        >The bank paid no interest in {{ year }} that is booked. “The bank did …” books it, and so does its statement.</template
      >
    </DataTable>
    <p v-if="data && data.ledgers > data.rows.length" role="status" class="bg-bill-wash px-4 py-2 text-bill-ink">
      The first {{ data.rows.length.toLocaleString('en-US') }} of {{ data.ledgers.toLocaleString('en-US') }} ledgers are listed; what stands
      together is of all.
    </p>
  </section>
</template>
