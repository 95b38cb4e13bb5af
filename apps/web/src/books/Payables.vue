<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { aDay, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import ToPrint from '../trust/ToPrint.vue'
import Pager from '../ui/Pager.vue'
import { dayText, plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { someMoney, type Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'
import PayVendors from './PayVendors.vue'
import VendorBill from './VendorBill.vue'

/** Bills of vendors, what was paid to them, what comes again, and what is owed by age. */
type Bill = Answer<typeof api.vendors.bills>['rows'][number]
type Payment = Answer<typeof api.vendors.payments>['rows'][number]
type Again = Answer<typeof api.vendors.recurring>[number]
type Aged = Answer<typeof api.vendors.aging>['rows'][number]
const session = useSession()
const notes = useNotes()
const router = useRouter()
const {
  part,
  state: which,
  q,
  page,
  asOf,
} = useFiltered({
  part: 'bills' as 'bills' | 'payments' | 'again' | 'age',
  state: 'open' as 'open' | 'due' | 'paid' | 'void' | '',
  q: '',
  page: 1,
  asOf: aDay(session.today),
})
const named = refDebounced(q, 150)
const chosen = ref<(number | string)[]>([])
watch([part, which, named], () => ((page.value = 1), (chosen.value = [])))
const bills = useShown(() =>
  asks.vendors.bills.queryOptions({ input: { state: which.value, q: named.value.trim(), page: page.value, size: 100 } }),
)
const payments = useShown(() =>
  part.value === 'payments' ? asks.vendors.payments.queryOptions({ input: { page: page.value, size: 100 } }) : null,
)
const again = useShown(() => (part.value === 'again' ? asks.vendors.recurring.queryOptions() : null))
const aged = useShown(() =>
  part.value === 'age' ? asks.vendors.aging.queryOptions({ input: { asOf: asOf.value ?? session.today } }) : null,
)
const may = session.may('books.post')
const entering = ref<'bill' | 'again' | null>(null)
const paying = ref<number[] | null>(null)
const opened = ref<Bill | null>(null)
const detail = useLoad(() => (opened.value ? api.vendors.bill({ id: opened.value.id }) : Promise.resolve(null)), [opened])
const voiding = ref<{ what: 'bill' | 'payment'; id: number; name: string } | null>(null)
const day = ref<Day | null>(session.today)
const reason = ref('')
const payable = computed(() => (bills.data.value?.rows ?? []).filter((b) => chosen.value.includes(b.id) && b.open > 0).map((b) => b.id))
function beginVoid(v: NonNullable<typeof voiding.value>) {
  day.value = session.today
  reason.value = ''
  voiding.value = v
}
const { state, act, fault, send } = useForm(() => {
  const v = voiding.value!
  const input = { id: v.id, day: day.value ?? '', reason: reason.value }
  return v.what === 'bill' ? api.vendors.voidBill(input) : api.vendors.voidPayment(input)
})
async function takeBack() {
  const v = voiding.value!
  if (!(await send())) return
  notes.say(v.what === 'bill' ? 'Taken back' : 'Voided; its bills are open again')
  voiding.value = null
  session.changed()
}
/** After paying by check they are printed. */
function toPayments(checks: number) {
  paying.value = null
  chosen.value = []
  if (checks) part.value = 'payments'
}
const spoiling = ref<Payment | null>(null)
async function spoil() {
  const made = await act(() => api.vendors.spoilCheck({ id: spoiling.value!.id }))
  if (!made) return
  notes.say(`Check ${spoiling.value!.checkNo} is void; check ${made.checkNo} waits to be printed`)
  spoiling.value = null
  session.changed()
}
async function end(r: Again) {
  if (!(await sure('It comes no more', 'No bill is entered by itself any more. Those entered stay.', 'End it'))) return
  if (!(await act<unknown>(() => api.vendors.endRecurring({ id: r.id })))) return
  notes.say('It comes no more')
  session.changed()
}
const billActs = (b: Bill): Act[] => [
  { text: 'Lines and payments', act: () => (opened.value = b) },
  ...(may && b.open ? [{ text: 'Pay …', act: () => (paying.value = [b.id]) }] : []),
  ...(may && b.state !== 'void' && b.open === b.total
    ? [{ text: 'Take back …', act: () => beginVoid({ what: 'bill', id: b.id, name: `${b.number || 'the bill'} of ${b.vendor}` }) }]
    : []),
]
const paymentActs = (p: Payment): Act[] => [
  ...(p.checkNo && p.state === 'posted' && may ? [{ text: 'Print the check', to: `/api/vendors/checks?ids=${p.id}`, out: true }] : []),
  ...(may && p.state === 'posted'
    ? [
        ...(p.checkNo && p.bills ? [{ text: 'Spoiled, write it anew …', act: () => (spoiling.value = p) }] : []),
        { text: 'Void …', act: () => beginVoid({ what: 'payment', id: p.id, name: `${p.what} to ${p.vendor}` }) },
      ]
    : []),
]
const billColumns = computed((): Column<Bill>[] => [
  { key: 'vendor', text: 'Vendor', grow: 2, narrow: 'title' },
  { key: 'number', text: 'Number', size: 96, quiet: true },
  { key: 'memo', text: 'For what', grow: 1.2, quiet: true },
  { key: 'day', text: 'Dated', kind: 'day', quiet: true },
  { key: 'dueOn', text: 'Due', kind: 'day' },
  {
    key: 'discount',
    text: 'Discount',
    size: 144,
    quiet: true,
    value: (b) => (b.discount && b.discountOn ? `${showMoney(b.discount)} by ${dayText(b.discountOn).slice(4)}` : ''),
  },
  { key: 'state', text: 'State', size: 92 },
  { key: 'total', text: 'Bill', kind: 'money', quiet: true },
  { key: 'open', text: 'Open', kind: 'money', strong: true, show: (b) => someMoney(b.open), total: showMoney(bills.data.value?.open ?? 0) },
])
const paymentColumns: Column<Payment>[] = [
  { key: 'day', text: 'On', kind: 'day' },
  { key: 'what', text: 'By', size: 120 },
  { key: 'vendor', text: 'To', grow: 1.4, narrow: 'title' },
  { key: 'bills', text: 'For', grow: 1.4, quiet: true },
  { key: 'bank', text: 'Out of', grow: 1, quiet: true },
  { key: 'state', text: 'State', size: 92 },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
const againColumns: Column<Again>[] = [
  { key: 'vendor', text: 'Vendor', grow: 1.2, narrow: 'title' },
  { key: 'memo', text: 'For what', grow: 1.4 },
  {
    key: 'every',
    text: 'Comes',
    size: 150,
    quiet: true,
    value: (r) => (r.everyMonths === 1 ? 'each month' : `every ${r.everyMonths} months`),
  },
  { key: 'nextOn', text: 'Next', kind: 'day' },
  { key: 'fault', text: 'What stops it', grow: 2.6, value: (r) => r.fault },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
const ages = ['Not yet due', '1 to 30 days', '31 to 60', '61 to 90', 'Over 90']
const agedColumns = computed((): Column<Aged>[] => [
  { key: 'vendor', text: 'Vendor', grow: 1.6, narrow: 'title', total: 'Together' },
  ...ages.map((text, i) => ({
    key: `b${i}`,
    text,
    kind: 'money' as const,
    value: (r: Aged) => r.buckets[i]!,
    show: (r: Aged) => someMoney(r.buckets[i]!),
    total: showMoney(aged.data.value?.together.buckets[i] ?? 0),
  })),
  { key: 'total', text: 'Owed', kind: 'money', strong: true, total: showMoney(aged.data.value?.together.total ?? 0) },
])
const tone = (s: Bill['state']) =>
  s === 'overdue' ? 'bg-rust-wash text-rust' : s === 'part paid' ? 'bg-bill-wash text-bill-ink' : s === 'paid' ? 'bg-lagoon-wash text-lagoon' : 'bg-mist text-ink-2' // prettier-ignore
</script>

<template>
  <section class="sheet" aria-label="Payables">
    <div class="flex flex-wrap items-end gap-3 px-4 py-3">
      <div class="w-44">
        <ChoiceField
          v-model="part"
          label="List"
          :options="[
            { value: 'bills', text: 'Bills' },
            { value: 'payments', text: 'Payments' },
            { value: 'again', text: 'What comes again' },
            { value: 'age', text: 'Owed by age' },
          ]"
        />
      </div>
      <template v-if="part === 'bills'">
        <div class="w-44">
          <ChoiceField
            v-model="which"
            label="Which"
            :options="[
              { value: 'open', text: 'Open' },
              { value: 'due', text: 'Due within a week' },
              { value: 'paid', text: 'Paid' },
              { value: 'void', text: 'Taken back' },
              { value: '', text: 'All' },
            ]"
          />
        </div>
        <div class="w-56"><TextField v-model="q" label="Find by vendor, number or words" /></div>
      </template>
      <div v-if="part === 'age'" class="w-44"><DayField v-model="asOf" label="As of" /></div>
      <div class="ml-auto flex gap-2">
        <Btn v-if="may && payable.length" @click="paying = payable">Pay {{ plural(payable.length, 'bill') }} …</Btn>
        <Btn v-if="may && part === 'again'" @click="entering = 'again'">New one that comes again</Btn>
        <Btn v-if="may && part === 'bills'" @click="entering = 'bill'">Enter a bill</Btn>
      </div>
    </div>
    <p v-if="state.message && !voiding && !spoiling" role="alert" class="bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
    <DataTable
      v-if="part === 'bills'"
      v-model:selected="chosen"
      label="Bills of vendors"
      name="vendor-bills"
      :rows="bills.data.value?.rows ?? []"
      :columns="billColumns"
      :row-id="(b) => b.id"
      :acts="billActs"
      :open="(b) => (opened = b)"
      :loading="bills.loading.value && !bills.data.value"
      :problem="bills.problem.value"
      @again="bills.reload()"
    >
      <template #empty>No bill of this kind. What the firm owes to vendors stands here until it is paid.</template>
      <template #cell-state="{ row: b }"
        ><span class="tag" :class="tone(b.state)">{{ b.state }}</span></template
      >
      <template #foot><Pager v-model="page" :total="bills.data.value?.total ?? 0" :size="100" what="bills" /></template>
    </DataTable>
    <div v-if="part === 'payments' && may" class="space-y-3.5 px-4 pb-3"><ToPrint book="operating" /></div>
    <DataTable
      v-if="part === 'payments'"
      label="Payments to vendors"
      name="vendor-payments"
      :rows="payments.data.value?.rows ?? []"
      :columns="paymentColumns"
      :row-id="(p) => p.id"
      :acts="paymentActs"
      :loading="payments.loading.value"
      :problem="payments.problem.value"
      @again="payments.reload()"
    >
      <template #empty>Nothing was paid to vendors yet.</template>
      <template #foot><Pager v-model="page" :total="payments.data.value?.total ?? 0" :size="100" what="payments" /></template>
    </DataTable>
    <DataTable
      v-if="part === 'again'"
      label="Bills that come again"
      name="vendor-again"
      :rows="again.data.value ?? []"
      :columns="againColumns"
      :row-id="(r) => r.id"
      :acts="(r) => (may ? [{ text: 'It comes no more', act: () => end(r) }] : [])"
      :loading="again.loading.value"
      :problem="again.problem.value"
      @again="again.reload()"
    >
      <template #empty>No bill comes by itself. Rent and subscriptions are entered once here, and then each month on their day.</template>
    </DataTable>
    <template v-if="part === 'age'">
      <DataTable
        label="Owed to vendors by age"
        name="payables-by-age"
        :rows="aged.data.value?.rows ?? []"
        :columns="agedColumns"
        :row-id="(r) => r.vendorId ?? r.vendor"
        :loading="aged.loading.value"
        :problem="aged.problem.value"
        @again="aged.reload()"
      >
        <template #empty>Nothing is owed to vendors on that day.</template>
      </DataTable>
      <p v-if="aged.data.value" class="px-4 py-3" :class="aged.data.value.unexplained ? 'text-rust' : 'text-ink-2'">
        {{
          aged.data.value.unexplained
            ? `Accounts payable stand at ${showMoney(aged.data.value.account)}; ${showMoney(aged.data.value.unexplained)} of it is no bill and no cost.`
            : `The same as accounts payable in the books, ${showMoney(aged.data.value.account)}.`
        }}
      </p>
    </template>
    <VendorBill v-if="entering" :recurring="entering === 'again'" @close="entering = null" />
    <PayVendors v-if="paying" :ids="paying" @close="paying = null" @paid="toPayments" />
    <SideSheet v-if="opened" :title="`${opened.vendor}, ${opened.number || 'bill'}`" @close="opened = null">
      <template v-if="detail.data.value?.id === opened.id">
        <p>{{ dayText(opened.day) }}, due {{ dayText(opened.dueOn) }}. {{ opened.memo }}</p>
        <p v-for="l in detail.data.value.lines" :key="l.id" class="flex gap-3 border-t border-line-2 py-1.5">
          <span
            ><RouterLink v-if="l.matterId" :to="`/matters/${l.matterId}/time`" class="underline">{{ l.account }}</RouterLink
            ><template v-else>{{ l.account }}</template
            ><span class="block text-ink-2">{{ l.text }}</span></span
          ><span class="ml-auto tabular-nums">{{ showMoney(l.amount) }}</span>
        </p>
        <p class="flex border-t border-line pt-1.5 font-semibold">
          <span>{{ opened.state === 'void' ? 'Taken back' : `${showMoney(opened.open)} open` }}</span><span class="ml-auto tabular-nums">{{
            showMoney(opened.total)
          }}</span>
        </p>
        <h3 v-if="detail.data.value.payments.length" class="pt-2">Payments</h3>
        <p
          v-for="p in detail.data.value.payments"
          :key="p.id"
          class="flex gap-3"
          :class="p.state === 'void' ? 'text-ink-3 line-through' : ''"
        >
          <span>{{ dayText(p.day) }}, {{ p.what }}{{ p.discount ? `, ${showMoney(p.discount)} let off` : '' }}</span
          ><span class="ml-auto tabular-nums">{{ showMoney(p.amount) }}</span>
        </p>
        <Btn v-if="detail.data.value.journalId" small @click="router.push(`/books/journals/${detail.data.value!.journalId}`)"
          >Its journal</Btn
        >
      </template>
    </SideSheet>
    <SideSheet
      v-if="voiding"
      :title="voiding.what === 'bill' ? `Take back ${voiding.name}` : `Void ${voiding.name}`"
      :save="voiding.what === 'bill' ? 'Take it back' : 'Void it'"
      :busy="state.busy"
      :message="state.said"
      :changed="reason !== ''"
      @save="takeBack"
      @close="voiding = null"
    >
      <DayField v-model="day" label="On" :fault="fault('day')" autofocus />
      <TextField v-model="reason" label="Why" :fault="fault('reason')" />
      <p class="text-ink-2">
        {{ voiding.what === 'bill' ? 'Costs of matters that came by it are reversed with it.' : 'What it paid is open again.' }}
      </p>
    </SideSheet>
    <SideSheet
      v-if="spoiling"
      :title="`Check ${spoiling.checkNo} was spoiled`"
      save="Write it anew"
      :busy="state.busy"
      :message="state.message"
      @save="spoil"
      @close="spoiling = null"
    >
      <p>
        Number {{ spoiling.checkNo }} becomes void and is never used again. The same bills are paid by a check of
        {{ showMoney(spoiling.amount) }} to {{ spoiling.vendor }} under the next number of {{ spoiling.bank }}.
      </p>
      <p class="text-ink-2">That one waits to be printed.</p>
    </SideSheet>
  </section>
</template>
