<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { watch } from 'vue'
import { aDay, useFiltered } from '../address'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import LedgerTable from './LedgerTable.vue'

/** Client ledgers with what is in each and available of it, as of a day. */
const session = useSession()
const { q, withMoney, asOf, page } = useFiltered({ q: '', withMoney: 'yes' as 'yes' | 'no', asOf: aDay(session.today), page: 1 })
const named = refDebounced(q, 150)
watch([named, withMoney, asOf], () => (page.value = 1))
const { data, problem, loading, reload } = useShown(() =>
  asks.trust.ledgers.queryOptions({
    input: {
      q: named.value,
      page: page.value,
      size: 50,
      withMoney: withMoney.value,
      ...(asOf.value && asOf.value !== session.today ? { asOf: asOf.value } : {}),
    },
  }),
)
</script>

<template>
  <section class="sheet" aria-label="Client ledgers">
    <div class="flex flex-wrap items-end gap-3 px-3.5 py-3">
      <div class="w-72 max-w-full"><TextField v-model="q" label="Find by client or matter" /></div>
      <div class="w-40"><DayField v-model="asOf" label="As of" /></div>
      <Switch
        v-model="withMoney"
        label="Which ledgers"
        :options="[
          { value: 'yes', text: 'With money' },
          { value: 'no', text: 'All' },
        ]"
      />
    </div>
    <LedgerTable :rows="data?.rows ?? []" :total="data?.totalBook ?? 0" :loading="loading" :problem="problem" @again="reload()">
      <template #empty>No ledger holds money here. A deposit sheet opens one for each client it names.</template>
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="ledgers" /></template>
    </LedgerTable>
  </section>
</template>
