<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ActMenu, { type Act } from '../ui/ActMenu.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, momentDay, showAmount, showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import CreditNote from './CreditNote.vue'
import DisputeSheet from './DisputeSheet.vue'
import { settledBy } from './kinds'
import PayLinks from './PayLinks.vue'
import ReceivePayment from './ReceivePayment.vue'
import SendSheet from './SendSheet.vue'
import SettleSheet, { type Settling } from './SettleSheet.vue'
import Totals from './Totals.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const notes = useNotes()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useShown(() => asks.billing.get.queryOptions({ input: { id } }))
const { data: ledes } = useShown(() => asks.billing.ledesCheck.queryOptions({ input: { id } }))
const paying = ref<'trust' | 'operating' | null>(null)
const crediting = ref(false)
const sending = ref(false)
const receipt = ref<number | null>(null)
const disputing = ref(false)
const settling = ref<Settling | null>(null)
const form = ref({ amount: null as number | null, day: session.today as Day | null, ledgerId: 0, reason: '' })
const ledger = computed(() => data.value?.ledgers.find((l) => l.id === form.value.ledgerId))
const issues = computed(() => session.may('bills.issue'))

watch(paying, (how) => {
  const d = data.value
  if (how !== 'trust' || !d) return
  const first = d.ledgers[0]
  form.value = { amount: Math.min(d.open, Math.max(0, first?.available ?? 0)), day: session.today, ledgerId: first?.id ?? 0, reason: '' }
})
const { state, fault, send } = useForm(() => {
  const f = form.value
  return api.trust.payBill({ ledgerId: f.ledgerId, billId: id, day: f.day ?? '', amount: f.amount ?? 0, overrideReason: f.reason })
})

async function payFromTrust() {
  const f = form.value
  const done = await send()
  if (!done) return
  notes.say(`${showMoney(f.amount ?? 0)} paid from trust`)
  paying.value = null
  session.changed()
}
const linking = ref(false)
type Payment = NonNullable<typeof data.value>['payments'][number]
const isMoney = (p: Payment) => !['credit note', 'write-off', 'void'].includes(p.kind)
/** What a document reads like beside its amount. */
const nameOf = (p: Payment) => (p.number ? `${settledBy[p.kind]} ${p.number}` : (settledBy[p.kind] ?? p.kind))
function actsOn(p: Payment): Act[] {
  if (p.reversed || p.kind === 'void' || !issues.value) return []
  const papers: Act[] = isMoney(p)
    ? [
        { text: 'Receipt as PDF', to: `/api/payments/${p.id}/receipt`, out: true },
        { text: 'Send the receipt …', act: () => (receipt.value = p.id) },
      ]
    : []
  const reverse = { text: 'Reverse', act: () => (settling.value = { what: 'reverse', payment: p }) }
  return isMoney(p) && p.here > 0
    ? [{ text: 'Take off this bill', act: () => (settling.value = { what: 'take off', payment: p }) }, reverse, ...papers]
    : [reverse, ...papers]
}
const acts = computed((): Act[] => {
  const d = data.value
  if (!d) return []
  const account: Act = { text: 'Statement of account', to: `/people/${d.payerId}/statement` }
  if (!issues.value || d.void) return [account]
  return [
    account,
    { text: 'Pay by link', act: () => (linking.value = true) },
    { text: 'Credit note', act: () => (crediting.value = true) },
    ...(d.open > 0 ? [{ text: 'Write off what is open', act: () => (settling.value = { what: 'write off' } as Settling) }] : []),
    { text: d.disputed ? 'No longer disputed' : 'Mark as disputed', act: () => (disputing.value = true) },
    { text: 'Void the bill', act: () => (settling.value = { what: 'void' }) },
  ]
})
const lineColumns: Column<NonNullable<typeof data.value>['lines'][number]>[] = [
  { key: 'day', text: 'Date', kind: 'day', size: 104, quiet: true },
  { key: 'who', text: 'Who', size: 56, quiet: true, value: (l) => l.timekeeper },
  { key: 'text', text: 'Work and costs', grow: 3, wrap: true, narrow: 'title' },
  { key: 'minutes', text: 'Hours', kind: 'hours', show: (l) => (l.minutes ? showHours(l.minutes) : '') },
  { key: 'rate', text: 'Rate', kind: 'money', size: 90, quiet: true, show: (l) => (l.rate ? showAmount(l.rate) : '') },
  {
    key: 'charged',
    text: 'Amount',
    kind: 'money',
    size: 104,
    show: (l) => (l.told ? `paid ${showAmount(l.worked)}` : l.noCharge ? 'no charge' : showAmount(l.charged)),
  },
]
const toPost = computed(() => {
  const amount = form.value.amount ?? 0
  return [
    { account: `Owed to clients, ${ledger.value?.name ?? ''}`, debit: amount, credit: null },
    { account: 'Trust bank', debit: null, credit: amount },
    { account: 'Operating bank', debit: amount, credit: null },
    { account: `Accounts receivable, ${data.value?.number ?? ''}`, debit: null, credit: amount },
  ]
})
const postColumns: Column<(typeof toPost.value)[number]>[] = [
  { key: 'account', text: 'What will be posted', grow: 2, wrap: true, narrow: 'title' },
  { key: 'debit', text: 'Debit', kind: 'money', size: 104 },
  { key: 'credit', text: 'Credit', kind: 'money', size: 104 },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`Bill ${data.number}`" :hint="`${data.payer} · issued ${dayText(data.issuedOn)}, due ${dayText(data.dueOn)}`">
          <Btn :href="`/api/bills/${id}/pdf`" target="_blank" rel="noopener">PDF</Btn>
          <Btn v-if="ledes?.format === 'ledes' && !ledes.faults.length" :href="`/api/bills/${id}/ledes`">LEDES</Btn>
          <Btn v-if="data.open > 0 && session.may('bills.issue')" @click="paying = 'operating'">Payment received</Btn>
          <Btn v-if="data.open > 0 && session.may('trust.post')" main :disabled="!data.ledgers.length" @click="paying = 'trust'"
            >Pay from trust</Btn
          >
          <Btn v-if="issues && !data.void" @click="sending = true">Send</Btn>
          <ActMenu text="More" label="More on this bill" :acts="acts" />
        </PageHead>
        <p v-if="data.void" role="status" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">
          Voided: its number stays, nothing is owed on it, and its lines are unbilled again.
        </p>
        <div
          v-if="ledes?.format === 'ledes' && ledes.faults.length"
          role="status"
          class="mb-3 rounded-control bg-bill-wash px-3 py-2 text-bill-ink"
        >
          The client takes this bill as LEDES 1998B, and it is not ready for that:
          <ul class="list-disc pl-5">
            <li v-for="f in ledes.faults" :key="f">{{ f }}</li>
          </ul>
        </div>
        <p v-if="data.disputed" role="status" class="mb-3 rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
          Disputed: {{ data.disputed }}. No reminder goes out and no interest is charged meanwhile.
        </p>
        <div class="grid stacks grid-cols-[minmax(0,1fr)_280px] gap-[18px] xl:grid-cols-[minmax(0,1fr)_300px]">
          <section class="sheet self-start" aria-label="Lines">
            <p class="px-3.5 pt-3">
              <RouterLink :to="`/matters/${data.matterId}/bills`" class="font-serif text-lg font-semibold hover:underline">{{
                data.matter
              }}</RouterLink>
            </p>
            <p v-if="data.part" class="px-3.5 pt-1 text-ink-2">
              {{ data.part.share }} of {{ showMoney(data.part.of) }}; hours and rates are those of the whole work.
              <template v-for="o in data.others" :key="o.id"
                >&#32;<RouterLink :to="`/bills/${o.id}`" class="underline">{{ o.number }}</RouterLink> to {{ o.payer }},
                {{ showMoney(o.total) }}.</template
              >
            </p>
            <DataTable
              label="Lines"
              name="bill-lines"
              :rows="data.lines"
              :columns="lineColumns"
              :row-id="(l) => l.id"
              :row-class="(l) => (l.noCharge ? 'text-ink-3' : '')"
            >
              <template #cell-who="{ row: l }"
                ><span :title="l.timekeeper">{{ l.initials }}</span></template
              >
            </DataTable>
          </section>
          <div class="space-y-3.5">
            <Totals :totals="data.totals" title="Total" />
            <section class="sheet px-4 py-3.5" aria-label="Payments">
              <h2 class="mb-1">Paid and settled</h2>
              <div v-for="p in data.payments" :key="p.id" class="flex items-start gap-x-2.5 border-t border-line-2 py-1.5">
                <span class="min-w-0" :class="(p.reversed || !p.here) && 'text-ink-3'"
                  >{{ dayText(p.day) }}
                  <span class="block text-sm text-ink-2"
                    >{{ nameOf(p) }}{{ p.reason ? `: ${p.reason}` : '' }}<template v-if="p.reversed">, reversed</template
                    ><template v-else-if="isMoney(p) && p.here !== p.amount">, of {{ showMoney(p.amount) }}</template></span
                  ></span
                ><span class="ml-auto" :class="p.reversed && 'text-ink-3 line-through'">{{
                  showMoney(p.reversed ? p.amount : p.here)
                }}</span>
                <ActMenu :label="`Acts on ${nameOf(p)}, ${showMoney(p.amount)}`" :acts="actsOn(p)" />
              </div>
              <p v-if="!data.payments.length" class="text-ink-2">None yet.</p>
              <p class="mt-1 flex border-t border-line pt-2 font-serif text-xl font-semibold" :class="data.open ? '' : 'text-lagoon'">
                Open<b class="ml-auto font-semibold" data-figure="open">{{ showMoney(data.open) }}</b>
              </p>
            </section>
            <section v-if="data.sent.length" class="sheet px-4 py-3.5" aria-label="Sent">
              <h2 class="mb-1">Sent</h2>
              <p v-for="(s, i) in data.sent" :key="i" class="border-t border-line-2 py-1.5">
                {{ momentDay(s.at) }}<template v-if="s.kind !== 'bill'">, {{ s.kind }}</template>
                <span class="block text-sm break-words text-ink-2">{{ s.address }}, by {{ s.by }}</span>
              </p>
            </section>
            <p v-if="data.pdfHash" class="px-1 text-xs break-all text-ink-3">PDF kept as made, SHA-256 {{ data.pdfHash }}</p>
          </div>
        </div>
      </template>
    </State>
    <SideSheet
      v-if="paying === 'trust' && data"
      title="Pay from trust"
      :save="`Pay ${showMoney(form.amount ?? 0)}`"
      :busy="state.busy"
      :message="state.said"
      @save="payFromTrust"
      @close="paying = null"
    >
      <ChoiceField
        v-model="form.ledgerId"
        label="Client ledger"
        :options="data.ledgers.map((l) => ({ value: l.id, text: `${l.name}: ${showMoney(l.available)} available` }))"
      />
      <MoneyField
        v-model="form.amount"
        label="Amount"
        :hint="`Bill ${data.number} leaves ${showMoney(data.open)} open`"
        :fault="fault('amount')"
        autofocus
      />
      <DayField v-model="form.day" label="On" :fault="fault('day')" />
      <TextField
        v-if="session.me?.mayOverride && ledger && (form.amount ?? 0) > ledger.available"
        v-model="form.reason"
        label="Reason for spending money that has not cleared"
        optional
      />
      <DataTable label="What will be posted" name="to-post" plain :rows="toPost" :columns="postColumns" :row-id="(l) => l.account" />
    </SideSheet>
    <ReceivePayment
      v-if="paying === 'operating' && data"
      :payer="{ id: data.payerId, text: data.payer }"
      :bill-id="id"
      @close="paying = null"
    />
    <DisputeSheet v-if="disputing && data" :bill-id="id" :number="data.number" :disputed="data.disputed" @close="disputing = false" />
    <SendSheet
      v-if="sending && data"
      :title="`Send bill ${data.number}`"
      :what="`Bill ${data.number}`"
      :load="() => api.billing.letter({ id })"
      :send="(letter) => api.billing.send({ id, ...letter })"
      @close="sending = false"
    />
    <SendSheet
      v-if="receipt !== null"
      title="Send a receipt"
      what="The receipt"
      :load="() => api.billing.receiptLetter({ id: receipt! })"
      :send="(letter) => api.billing.sendReceipt({ id: receipt!, ...letter })"
      @close="receipt = null"
    />
    <PayLinks v-if="linking && data" :id="id" :number="data.number" :open="data.open" @close="linking = false" />
    <CreditNote v-if="crediting && data" :bill="data" @close="crediting = false" />
    <SettleSheet v-if="settling && data" :bill="data" :settling="settling" @close="settling = null" />
  </div>
</template>
