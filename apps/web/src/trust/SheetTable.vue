<script setup lang="ts">
import { ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import Pager from '../ui/Pager.vue'
import { showMoney } from '../ui/show'
import { useRouter } from 'vue-router'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const page = ref(1)
const { data, problem, loading, reload } = useShown(() => asks.trust.sheets.queryOptions({ input: { page: page.value, size: 50 } }))
const router = useRouter()
const columns: Column<Answer<typeof api.trust.sheets>['rows'][number]>[] = [
  { key: 'number', text: 'Sheet', size: 130, fixed: true, narrow: 'title' },
  { key: 'bank', text: 'Account', quiet: true },
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'state', text: 'State', size: 90 },
  { key: 'receipts', text: 'Receipts', kind: 'number' },
  { key: 'entered', text: 'Entered', kind: 'money' },
  { key: 'controlTotal', text: 'Control total', kind: 'money' },
]
</script>

<template>
  <section class="sheet" aria-label="Deposit sheets">
    <DataTable
      label="Deposit sheets"
      name="sheets"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(s) => s.id"
      :loading="loading"
      :problem="problem"
      :open="(s) => router.push(`/trust/sheets/${s.id}`)"
      @again="reload()"
    >
      <template #empty>No deposit sheet yet. Press D to enter receipts that go to the bank together.</template>
      <template #cell-number="{ row: s }"
        ><RouterLink :to="`/trust/sheets/${s.id}`" class="font-semibold hover:underline">Sheet {{ s.number }}</RouterLink></template
      >
      <template #cell-state="{ row: s }"
        ><span class="tag" :class="s.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{ s.state }}</span></template
      >
      <template #cell-entered="{ row: s }"
        ><span :class="s.entered !== s.controlTotal && 'text-rust'">{{ showMoney(s.entered) }}</span></template
      >
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="sheets" /></template>
    </DataTable>
  </section>
</template>
