<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { watch } from 'vue'
import { useFiltered } from '../address'
import { asks } from '../api'
import { useShown } from '../shown'
import Pager from '../ui/Pager.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import BillTable from './BillTable.vue'

/** Bills that were issued, open and paid. */
const { q, state, page } = useFiltered({ q: '', state: 'all' as 'open' | 'paid' | 'all', page: 1 })
const named = refDebounced(q, 150)
watch([named, state], () => (page.value = 1))
const { data, problem, loading, reload } = useShown(() =>
  asks.billing.list.queryOptions({ input: { q: named.value, state: state.value, page: page.value, size: 50 } }),
)
</script>

<template>
  <section class="sheet" aria-label="Issued bills">
    <div class="grid stacks grid-cols-[1fr_auto] items-end gap-3 px-3.5 py-3">
      <TextField v-model="q" label="Find by number, matter or payer" /><Switch
        v-model="state"
        label="State"
        :options="[
          { value: 'all', text: 'All' },
          { value: 'open', text: 'Open' },
          { value: 'paid', text: 'Paid' },
        ]"
      />
    </div>
    <BillTable :rows="data?.rows ?? []" :loading="loading" :problem="problem" :total-open="data?.totalOpen" show-matter @again="reload()">
      <template #empty>No bill fits.</template>
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="bills" /></template>
    </BillTable>
  </section>
</template>
