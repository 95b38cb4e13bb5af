<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, showAmount, showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import Totals from './Totals.vue'

const session = useSession()
const notes = useNotes()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.billing.get({ id }), [() => session.tick])
const { state, act, fault } = useAct()
const paying = ref<'trust' | 'operating' | null>(null)
const reversing = ref<number | null>(null)
const form = ref({
  amount: null as number | null,
  day: session.today as string | null,
  ledgerId: 0,
  kind: 'check' as 'check' | 'card' | 'transfer',
  reference: '',
  reason: '',
})
const ledger = computed(() => data.value?.ledgers.find((l) => l.id === form.value.ledgerId))

watch(paying, (how) => {
  const d = data.value
  if (!how || !d) return
  const first = d.ledgers[0]
  const amount = how === 'trust' ? Math.min(d.open, Math.max(0, first?.available ?? 0)) : d.open
  form.value = { amount, day: session.today, ledgerId: first?.id ?? 0, kind: 'check', reference: '', reason: '' }
})
async function payFromTrust() {
  const f = form.value
  const done = await act(() =>
    api.trust.payBill({ ledgerId: f.ledgerId, billId: id, day: f.day ?? '', amount: f.amount ?? 0, overrideReason: f.reason }),
  )
  if (!done) return
  notes.say(`${showMoney(f.amount ?? 0)} paid from trust`)
  paying.value = null
  session.changed()
}
async function payOperating() {
  const f = form.value
  const done = await act(() => api.billing.pay({ id, day: f.day ?? '', amount: f.amount ?? 0, kind: f.kind, reference: f.reference }))
  if (!done) return
  notes.say(`${showMoney(f.amount ?? 0)} received`)
  paying.value = null
  session.changed()
}
async function reverse() {
  const f = form.value
  const done = await act(() => api.billing.reversePayment({ id: reversing.value!, day: f.day ?? '', reason: f.reason }))
  if (!done) return
  notes.say('Payment reversed; the bill is open again')
  reversing.value = null
  session.changed()
}
</script>

<template>
  <div class="px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`Bill ${data.number}`" :hint="`${data.payer} · issued ${dayText(data.issuedOn)}, due ${dayText(data.dueOn)}`">
          <Btn :href="`/api/bills/${id}/pdf`" target="_blank" rel="noopener">PDF</Btn>
          <Btn v-if="data.open > 0 && session.may('bills.issue')" @click="paying = 'operating'">Payment received</Btn>
          <Btn v-if="data.open > 0 && session.may('trust.post')" main :disabled="!data.ledgers.length" @click="paying = 'trust'"
            >Pay from trust</Btn
          >
        </PageHead>
        <div class="grid grid-cols-[minmax(0,1fr)_280px] gap-[18px] xl:grid-cols-[minmax(0,1fr)_300px]">
          <section class="sheet self-start overflow-x-auto" aria-label="Lines">
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
            <table class="list-table">
              <thead>
                <tr>
                  <th>Date</th>
                  <th>Who</th>
                  <th>Work and costs</th>
                  <th class="num">Hours</th>
                  <th class="num">Rate</th>
                  <th class="num">Amount</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="l in data.lines" :key="l.id" :class="l.noCharge && 'text-ink-3'">
                  <td class="whitespace-nowrap text-ink-2">{{ l.day ? dayText(l.day) : '' }}</td>
                  <td class="text-ink-2" :title="l.timekeeper">{{ l.initials }}</td>
                  <td>{{ l.text }}</td>
                  <td class="num">{{ l.minutes ? showHours(l.minutes) : '' }}</td>
                  <td class="num text-ink-2">{{ l.rate ? showAmount(l.rate) : '' }}</td>
                  <td class="num">{{ l.noCharge ? 'no charge' : showAmount(l.charged) }}</td>
                </tr>
              </tbody>
            </table>
          </section>
          <div class="space-y-3.5">
            <Totals :totals="data.totals" title="Total" />
            <section class="sheet px-4 py-3.5" aria-label="Payments">
              <h2 class="mb-1">Payments</h2>
              <div
                v-for="p in data.payments"
                :key="p.id"
                class="flex items-center gap-x-2.5 border-t border-line-2 py-1.5"
                :class="p.reversed && 'text-ink-3 line-through'"
              >
                <span
                  >{{ dayText(p.day) }}<span class="block text-sm text-ink-2">{{ p.kind === 'trust' ? 'from trust' : p.kind }}</span></span
                ><span class="ml-auto">{{ showMoney(p.amount) }}</span>
                <Btn
                  v-if="!p.reversed && session.may('bills.issue')"
                  small
                  @click="((reversing = p.id), (form.reason = ''), (form.day = session.today))"
                  >Reverse</Btn
                >
              </div>
              <p v-if="!data.payments.length" class="text-ink-2">None yet.</p>
              <p class="mt-1 flex border-t border-line pt-2 font-serif text-xl font-semibold" :class="data.open ? '' : 'text-lagoon'">
                Open<b class="ml-auto font-semibold" data-figure="open">{{ showMoney(data.open) }}</b>
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
      :message="state.fields.length ? '' : state.message"
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
      <table class="list-table" aria-label="What will be posted">
        <thead>
          <tr>
            <th>What will be posted</th>
            <th class="num">Debit</th>
            <th class="num">Credit</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>Owed to clients, {{ ledger?.name }}</td>
            <td class="num">{{ showAmount(form.amount ?? 0) }}</td>
            <td></td>
          </tr>
          <tr>
            <td>Trust bank</td>
            <td></td>
            <td class="num">{{ showAmount(form.amount ?? 0) }}</td>
          </tr>
          <tr>
            <td>Operating bank</td>
            <td class="num">{{ showAmount(form.amount ?? 0) }}</td>
            <td></td>
          </tr>
          <tr>
            <td>Accounts receivable, {{ data.number }}</td>
            <td></td>
            <td class="num">{{ showAmount(form.amount ?? 0) }}</td>
          </tr>
        </tbody>
      </table>
    </SideSheet>
    <SideSheet
      v-if="paying === 'operating' && data"
      title="Payment received"
      :save="`Receive ${showMoney(form.amount ?? 0)}`"
      :busy="state.busy"
      :message="state.fields.length ? '' : state.message"
      @save="payOperating"
      @close="paying = null"
    >
      <MoneyField
        v-model="form.amount"
        label="Amount"
        :hint="`Bill ${data.number} leaves ${showMoney(data.open)} open`"
        :fault="fault('amount')"
        autofocus
      />
      <ChoiceField
        v-model="form.kind"
        label="By"
        :options="[
          { value: 'check', text: 'Check' },
          { value: 'transfer', text: 'Transfer' },
          { value: 'card', text: 'Card' },
        ]"
      />
      <TextField v-model="form.reference" label="Reference" optional />
      <DayField v-model="form.day" label="On" :fault="fault('day')" />
      <p class="text-ink-2">It goes into operating and is applied to costs first, then tax, then fees.</p>
    </SideSheet>
    <SideSheet
      v-if="reversing"
      title="Reverse a payment"
      save="Reverse"
      :busy="state.busy"
      :message="state.fields.length ? '' : state.message"
      @save="reverse"
      @close="reversing = null"
    >
      <DayField v-model="form.day" label="On" :fault="fault('day')" />
      <TextField v-model="form.reason" label="Why" :fault="fault('reason')" autofocus />
      <p class="text-ink-2">A mirrored journal is posted. Money that came from trust returns to its ledger.</p>
    </SideSheet>
  </div>
</template>
