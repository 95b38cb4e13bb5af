<script setup lang="ts">
import { dayOr } from '../address'
import { yearStart, type Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { showMoney } from '../ui/show'
import State from '../ui/State.vue'
import type { Column } from '../ui/table/columns'
import FileMenu from './FileMenu.vue'

/** The general ledger of an account: what it began with, each line with the balance after it, what it ends with. */
const session = useSession()
const route = useRoute()
const router = useRouter()
const id = Number(route.params['id'])
const asked = (key: string) => (typeof route.query[key] === 'string' ? route.query[key] : null)
const to = ref<Day | null>(dayOr(asked('to'), session.today))
const from = ref<Day | null>(dayOr(asked('from'), yearStart(to.value ?? session.today)))
const page = ref(1)
const span = computed(() => ({ ...(from.value ? { from: from.value } : {}), to: to.value ?? session.today }))
watch(span, (s) => {
  page.value = 1
  void router.replace({ query: s })
})
const { data, problem, loading, reload } = useShown(() =>
  asks.books.account.queryOptions({ input: { id, ...span.value, page: page.value, size: 100 } }),
)
const lines = computed(() => (data.value?.rows ?? []).map((l, at) => ({ ...l, at })))
const columns: Column<(typeof lines.value)[number]>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'memo', text: 'What', grow: 3, narrow: 'title' },
  { key: 'matter', text: 'Matter', grow: 1, quiet: true },
  { key: 'debit', text: 'Debit', kind: 'money', value: (l) => (l.amount > 0 ? l.amount : null) },
  { key: 'credit', text: 'Credit', kind: 'money', value: (l) => (l.amount < 0 ? -l.amount : null) },
  { key: 'balance', text: 'Balance', kind: 'money', strong: true },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead :title="data ? `${data.code} ${data.name}` : 'Account'"
      ><RouterLink to="/books" class="text-lagoon underline">Trial balance</RouterLink>
      <FileMenu v-if="data" what="account" :query="{ id, ...span }" />
    </PageHead>
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <div class="w-44"><DayField v-model="from" label="From" optional /></div>
      <div class="w-44"><DayField v-model="to" label="To" /></div>
      <p v-if="data" class="flex flex-wrap items-baseline gap-2 pb-1 font-serif text-lg font-semibold" aria-label="From beginning to end">
        <span>{{ showMoney(data.opening) }}</span> + <span>{{ showMoney(data.debit) }}</span> − <span>{{ showMoney(data.credit) }}</span> =
        <span class="text-lagoon">{{ showMoney(data.closing) }}</span>
      </p>
    </div>
    <section class="sheet" aria-label="Lines">
      <State :loading="loading && !data" :problem="problem" @again="reload()">
        <template v-if="data">
          <DataTable
            label="Lines"
            name="account-lines"
            :rows="lines"
            :columns="columns"
            :row-id="(l) => l.at"
            :open="(l) => router.push(`/books/journals/${l.journalId}`)"
          >
            <template #empty>Nothing was posted here in this span.</template>
            <template #cell-memo="{ row: l }"
              ><RouterLink :to="`/books/journals/${l.journalId}`" class="hover:underline">{{ l.memo }}</RouterLink></template
            >
          </DataTable>
          <Pager v-model="page" :total="data.total" :size="100" what="lines" />
        </template>
      </State>
    </section>
  </div>
</template>
