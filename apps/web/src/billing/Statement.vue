<script setup lang="ts">
import { agingBuckets } from '@heron/core/billing'
import { addMonths, type Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { dayOr } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { showMoney } from '../ui/show'
import State from '../ui/State.vue'
import type { Column } from '../ui/table/columns'
import SendSheet from './SendSheet.vue'

/** The account of a payer over a span: what was owed, what came and went, what is owed by days past due. */
const session = useSession()
const route = useRoute()
const router = useRouter()
const id = Number(route.params['id'])
const to = ref<Day | null>(dayOr(route.query['to'], session.today))
const from = ref<Day | null>(dayOr(route.query['from'], addMonths(session.today, -3)))
const asked = Number(route.query['matter'] ?? 0)
const matter = ref<Choice | null>(null)
if (asked) void api.matters.get({ id: asked }).then((m) => (matter.value = { id: m.id, text: m.name }))
const span = computed(() => ({
  id,
  ...(from.value ? { from: from.value } : {}),
  ...(to.value ? { to: to.value } : {}),
  ...(matter.value ? { matterId: matter.value.id } : asked && !settled.value ? { matterId: asked } : {}),
}))
const settled = ref(false)
watch(matter, () => (settled.value = true))
const { data, problem, loading, reload } = useShown(() => asks.billing.statement.queryOptions({ input: span.value }))
watch(span, (s) => void router.replace({ query: { ...(s.from ? { from: s.from } : {}), ...(s.to ? { to: s.to } : {}), ...(s.matterId ? { matter: s.matterId } : {}) } })) // prettier-ignore
const pdf = computed(() => {
  const { id: _, ...own } = span.value
  return `/api/contacts/${id}/statement/pdf?${new URLSearchParams(Object.entries(own).map(([k, v]) => [k, String(v)])).toString()}`
})
type Row = Answer<typeof api.billing.statement>['rows'][number] & { at: number }
// Two payments of a day may read alike.
const rows = computed((): Row[] => (data.value?.rows ?? []).map((r, at) => ({ ...r, at })))
const columns = computed((): Column<Row>[] => [
  { key: 'day', text: 'Date', kind: 'day', quiet: true, total: 'Owed' },
  { key: 'text', text: 'What', grow: 3, narrow: 'title' },
  { key: 'charged', text: 'Charged', kind: 'money', show: (r) => (r.charged ? showMoney(r.charged) : '') },
  { key: 'settled', text: 'Settled', kind: 'money', show: (r) => (r.settled ? showMoney(r.settled) : '') },
  { key: 'balance', text: 'Balance', kind: 'money', strong: true, total: showMoney(data.value?.closing ?? 0) },
])
const sending = ref(false)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Statement of account" :hint="data ? `${data.payer}${data.matter ? ` · ${data.matter}` : ''}` : ''">
      <Btn :href="`/people/${id}`">The contact</Btn>
      <template v-if="data">
        <Btn :href="pdf" target="_blank" rel="noopener">PDF</Btn>
        <Btn v-if="session.may('bills.issue')" main @click="sending = true">Send</Btn>
      </template>
    </PageHead>
    <div class="grid stacks items-start gap-[18px] lg:grid-cols-[minmax(0,1fr)_280px]">
      <section class="sheet" aria-label="Account">
        <div class="flex flex-wrap items-end gap-3 px-3.5 py-3">
          <div class="w-40"><DayField v-model="from" label="From" /></div>
          <div class="w-40"><DayField v-model="to" label="To" /></div>
          <div class="w-72 max-w-full"><Picker v-model="matter" label="Matter" optional :search="searchMatters" /></div>
        </div>
        <State :loading="loading && !data" :problem="problem" @again="reload()">
          <template v-if="data">
            <p class="flex border-t border-line-2 px-3.5 py-2 text-ink-2">
              Owed before<b class="ml-auto font-normal" data-figure="opening">{{ showMoney(data.opening) }}</b>
            </p>
            <DataTable
              label="Moves on the account"
              name="statement"
              :rows="rows"
              :columns="columns"
              :row-id="(r) => r.at"
              :open="(r) => router.push(`/bills/${r.billId}`)"
            >
              <template #empty>Nothing was billed or paid in this span.</template>
            </DataTable>
          </template>
        </State>
      </section>
      <div v-if="data" class="space-y-3.5">
        <section class="sheet px-4 py-3.5" aria-label="By days past due">
          <h2 class="mb-1">By days past due</h2>
          <p v-for="(b, i) in agingBuckets" :key="b" class="flex border-t border-line-2 py-1">
            {{ b }}<b class="ml-auto font-normal">{{ showMoney(data.aging[i] ?? 0) }}</b>
          </p>
          <p v-if="data.credit" class="mt-2 text-ink-2">{{ showMoney(data.credit) }} of payments is left over, not applied.</p>
        </section>
        <section v-if="data.open.length" class="sheet px-4 py-3.5" aria-label="Open bills">
          <h2 class="mb-1">Open bills</h2>
          <p v-for="b in data.open" :key="b.id" class="flex border-t border-line-2 py-1">
            <RouterLink :to="`/bills/${b.id}`" class="hover:underline">{{ b.number }}</RouterLink><b class="ml-auto font-normal">{{
              showMoney(b.open)
            }}</b>
          </p>
        </section>
      </div>
    </div>
    <SendSheet
      v-if="sending"
      title="Send the statement"
      what="The statement"
      :load="() => api.billing.statementLetter(span)"
      :send="(letter) => api.billing.sendStatement({ ...span, ...letter })"
      @close="sending = false"
    />
  </div>
</template>
