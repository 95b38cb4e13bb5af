<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { someMoney, type Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import type { Act } from '../ui/ActMenu.vue'
import OwnerSheet from './OwnerSheet.vue'
import Unclaimed from './Unclaimed.vue'

/** What does not stay as it is: covers in transit or owed, money without an owner, corrections that wait for a second person. */
const session = useSession()
const notes = useNotes()
const page = ref(1)
const covers = useShown(() => asks.trustActs.covers.queryOptions())
const unidentified = useShown(() => asks.trustActs.unidentified.queryOptions())
const corrections = useShown(() => asks.trustActs.corrections.queryOptions({ input: { page: page.value, size: 20 } }))
type Cover = Answer<typeof api.trustActs.covers>[number]
type Receipt = Answer<typeof api.trustActs.unidentified>[number]
type Correction = Answer<typeof api.trustActs.corrections>['rows'][number]
const months = useShown(() => (session.may('trust.approve') ? asks.bank.requests.queryOptions() : null))
type Month = Answer<typeof api.bank.requests>[number]
const monthColumns: Column<Month>[] = [
  { key: 'kind', text: 'What', grow: 1, narrow: 'title', value: (q) => (q.kind === 'close' ? 'Close the month' : 'Open it again') },
  { key: 'bank', text: 'Account', grow: 1 },
  { key: 'to', text: 'Up to', kind: 'day' },
  { key: 'by', text: 'Asked by', quiet: true },
  { key: 'reason', text: 'Why', grow: 1, quiet: true },
  { key: 'balance', text: 'At the bank', kind: 'money', show: (q) => (q.kind === 'close' ? showMoney(q.balance) : '') },
  { key: 'book', text: 'In the book', kind: 'money', show: (q) => (q.kind === 'close' ? showMoney(q.book) : '') },
]
const monthActs = (q: Month): Act[] => [
  ...(q.own
    ? []
    : [
        {
          text: 'Agree',
          act: () =>
            done(
              act(() => api.bank.agree({ id: q.id })),
              q.kind === 'close' ? 'Closed' : 'Opened again; its old report stays',
            ),
        },
      ]),
  {
    text: q.own ? 'Take it back' : 'Do not agree',
    act: () =>
      done(
        act(() => api.bank.refuse({ id: q.id })),
        'It stays as it is',
      ),
  },
]
const finding = ref<Receipt | null>(null)
const doing = ref<{ how: 'landed' | 'repaid'; cover: Cover } | { how: 'refuse'; correction: Correction } | null>(null)
const day = ref<Day | null>(session.today)
const amount = ref<number | null>(null)
const words = ref('')
function begin(d: NonNullable<typeof doing.value>) {
  doing.value = d
  day.value = session.today
  amount.value = 'cover' in d ? d.cover.due : null
  words.value = ''
}
const { state, act, fault, send } = useForm(() => {
  const d = doing.value!
  if (d.how === 'refuse') return api.trustActs.refuse({ id: d.correction.id, reason: words.value })
  if (d.how === 'landed') return api.trustActs.landed({ id: d.cover.id, day: day.value ?? '' })
  return api.trustActs.repaid({ id: d.cover.id, day: day.value ?? '', amount: amount.value ?? 0, reference: words.value })
})
async function done(what: Promise<unknown>, told: string) {
  if (!(await what)) return
  notes.say(told)
  doing.value = null
  session.changed()
}
const told = { refuse: 'Not made; it stays as it was', landed: 'Landed', repaid: 'Posted into operating' }
const save = () => done(send(), told[doing.value!.how])
const coverColumns: Column<Cover>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'ledger', text: 'Ledger', grow: 1.4, narrow: 'title' },
  {
    key: 'text',
    text: 'What the bank did',
    grow: 1.4,
    quiet: true,
    value: (c) => `${c.what === 'returned' ? 'Returned' : 'Charge'}: ${c.text}`,
  },
  { key: 'bank', text: 'Account', quiet: true },
  { key: 'cover', text: 'Covered', kind: 'money' },
  { key: 'due', text: 'Client owes', kind: 'money', show: (c) => someMoney(c.due) },
  { key: 'state', text: 'State', size: 96, value: (c) => (c.inTransit ? 'in transit' : 'landed') },
]
const receiptColumns: Column<Receipt>[] = [
  { key: 'receiptNo', text: 'Receipt', size: 84, kind: 'number', show: (r) => String(r.receiptNo) },
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'depositor', text: 'From', grow: 1.4, narrow: 'title' },
  { key: 'text', text: 'Text', grow: 1.4, quiet: true },
  { key: 'kind', text: 'By', quiet: true },
  { key: 'bank', text: 'Account', quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
const correctionColumns: Column<Correction>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'wrong', text: 'Stands on', grow: 1.2, wrap: true, narrow: 'title' },
  { key: 'right', text: 'Belongs to', grow: 1.2, wrap: true },
  { key: 'reason', text: 'Why', grow: 1.4, wrap: true, quiet: true, value: (x) => (x.decision ? `${x.reason} · ${x.decision}` : x.reason) },
  { key: 'who', text: 'Asked by, decided by', wrap: true, quiet: true, value: (x) => [x.askedBy, x.decidedBy].filter(Boolean).join(', ') },
  { key: 'state', text: 'State', size: 86 },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
const coverActs = (c: Cover): Act[] =>
  session.may('trust.post')
    ? [
        ...(c.inTransit ? [{ text: 'It has landed in trust', act: () => begin({ how: 'landed', cover: c }) }] : []),
        ...(c.due ? [{ text: 'The client paid it back', act: () => begin({ how: 'repaid', cover: c }) }] : []),
      ]
    : []
const correctionActs = (x: Correction): Act[] =>
  x.state === 'asked' && session.may('trust.approve')
    ? [
        ...(x.own
          ? []
          : [
              {
                text: 'Agree, and post it',
                act: () =>
                  done(
                    act(() => api.trustActs.approve({ id: x.id })),
                    'Corrected',
                  ),
              },
            ]),
        { text: x.own ? 'Take it back' : 'Do not make it', act: () => begin({ how: 'refuse', correction: x }) },
      ]
    : []
</script>

<template>
  <div class="space-y-3.5">
    <p v-if="state.message && !doing" role="alert" class="sheet bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="Covers of the firm">
      <h2 class="px-4 pt-3 pb-1">Covers of the firm</h2>
      <DataTable
        label="Covers of the firm"
        name="trust-covers"
        :rows="covers.data.value ?? []"
        :columns="coverColumns"
        :row-id="(c) => c.id"
        :acts="coverActs"
        :loading="covers.loading.value"
        :problem="covers.problem.value"
        @again="covers.reload()"
      >
        <template #empty>No cover is in transit, and no client owes one.</template>
        <template #cell-ledger="{ row: c }"
          ><RouterLink :to="`/trust/ledgers/${c.ledgerId}`" class="hover:underline">{{ c.ledger }}</RouterLink></template
        >
        <template #cell-state="{ row: c }"
          ><span class="tag" :class="c.inTransit ? 'bg-rust-wash text-rust' : 'bg-mist text-ink-2'">{{
            c.inTransit ? 'in transit' : 'landed'
          }}</span></template
        >
      </DataTable>
    </section>
    <section class="sheet" aria-label="Money with no known owner">
      <h2 class="px-4 pt-3 pb-1">Money with no known owner</h2>
      <DataTable
        label="Money with no known owner"
        name="trust-unidentified"
        :rows="unidentified.data.value ?? []"
        :columns="receiptColumns"
        :row-id="(r) => r.id"
        :acts="(r) => (session.may('trust.post') ? [{ text: 'Credit it to its owner', act: () => (finding = r) }] : [])"
        :loading="unidentified.loading.value"
        :problem="unidentified.problem.value"
        @again="unidentified.reload()"
      >
        <template #empty>The owner of everything in trust is known.</template>
      </DataTable>
    </section>
    <section class="sheet" aria-label="Corrections">
      <h2 class="px-4 pt-3 pb-1">Corrections</h2>
      <DataTable
        label="Corrections"
        name="trust-corrections"
        :rows="corrections.data.value?.rows ?? []"
        :columns="correctionColumns"
        :row-id="(x) => x.id"
        :acts="correctionActs"
        :loading="corrections.loading.value"
        :problem="corrections.problem.value"
        @again="corrections.reload()"
      >
        <template #empty>None yet. A wrong entry is corrected from the ledger that it stands on.</template>
        <template #cell-state="{ row: x }"
          ><span class="tag" :class="x.state === 'asked' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{
            x.state === 'asked' ? 'waits' : x.state
          }}</span></template
        >
        <template #foot><Pager v-model="page" :total="corrections.data.value?.total ?? 0" :size="20" what="corrections" /></template>
      </DataTable>
    </section>
    <section v-if="months.data.value?.length" class="sheet" aria-label="Months">
      <h2 class="px-4 pt-3 pb-1">Months</h2>
      <DataTable
        label="Months"
        name="month-requests"
        :rows="months.data.value"
        :columns="monthColumns"
        :row-id="(q) => q.id"
        :acts="monthActs"
      />
    </section>
    <Unclaimed />
    <OwnerSheet v-if="finding" :receipt="finding" @close="finding = null" />
    <SideSheet
      v-if="doing"
      :title="doing.how === 'landed' ? 'The cover has landed' : doing.how === 'repaid' ? 'The client paid it back' : 'Do not correct'"
      :save="doing.how === 'landed' ? 'It has landed' : doing.how === 'repaid' ? `Post ${showMoney(amount ?? 0)}` : 'Do not correct it'"
      :busy="state.busy"
      :message="state.said"
      :changed="words !== ''"
      @save="save"
      @close="doing = null"
    >
      <p v-if="'cover' in doing" class="rounded-control bg-mist px-3 py-2">
        {{ showMoney(doing.cover.cover) }} covered on {{ dayText(doing.cover.day) }} for {{ doing.cover.ledger }}
      </p>
      <p v-else class="rounded-control bg-mist px-3 py-2">
        {{ showMoney(doing.correction.amount) }} from {{ doing.correction.wrong }}: {{ doing.correction.reason }}
      </p>
      <DayField v-if="doing.how !== 'refuse'" v-model="day" label="On" :fault="fault('day')" />
      <MoneyField v-if="doing.how === 'repaid'" v-model="amount" label="Amount, into operating" :fault="fault('amount')" />
      <TextField
        v-if="doing.how !== 'landed'"
        v-model="words"
        :label="doing.how === 'repaid' ? 'Reference' : 'Why'"
        :optional="doing.how === 'repaid'"
        :fault="fault(doing.how === 'repaid' ? 'reference' : 'reason')"
      />
    </SideSheet>
  </div>
</template>
