<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedNumber, useLoad } from '../use'
import { sayPrinting } from './printing'

type Row = Answer<typeof api.trust.ledgers>['rows'][number]
/** `refund` gives a receipt back to whoever deposited it. */
const props = defineProps<{ from?: Row; refund?: { receiptId: number; receiptNo: number; depositor: string; amount: number } }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const known = new Map<number, Row>()
const nameOf = (l: Row) => `${l.client}${l.matter ? `, ${l.matter}` : ''}`
const chosen = ref<Choice | null>(props.from ? { id: props.from.id, text: nameOf(props.from) } : null)
if (props.from) known.set(props.from.id, props.from)
const method = ref<'check' | 'wire'>('check')
const { data: before } = useLoad(() => api.trust.remembered())
const payeeName = ref(props.refund?.depositor ?? '')
const payeeAddress = ref('')
const amount = ref<number | null>(props.refund?.amount ?? null)
const day = ref<Day | null>(session.today)
const memo = ref(props.refund ? `Refund of receipt ${props.refund.receiptNo}` : '')
// The address that was used last comes with a payee, and goes with them when it is another, unless it was typed.
let came = ''
watch([payeeName, before], () => {
  if (payeeAddress.value !== came) return
  came = before.value?.payees.find((p) => p.name === payeeName.value)?.address ?? ''
  payeeAddress.value = came
})
const checkNo = ref('')
const reason = ref('')
const ledger = computed(() => (chosen.value ? known.get(chosen.value.id) : undefined))
const next = computed(() => accounts.value?.find((a) => a.id === ledger.value?.bankAccountId)?.nextCheck)

async function searchLedgers(q: string): Promise<Choice[]> {
  const found = await api.trust.ledgers({ q, size: 8 })
  for (const l of found.rows) known.set(l.id, l)
  return found.rows.map((l) => ({ id: l.id, text: nameOf(l), hint: `${showMoney(l.available)} available` }))
}
const mayOverride = computed(
  () => Boolean(session.me?.mayOverride && ledger.value) && ledger.value!.uncleared > 0 && (amount.value ?? 0) > ledger.value!.available,
)
const input = () => ({
  ledgerId: chosen.value?.id ?? 0,
  day: day.value ?? '',
  method: method.value,
  payeeName: payeeName.value,
  payeeAddress: payeeAddress.value,
  amount: amount.value ?? 0,
  memo: memo.value,
  // What is not asked for is not sent, though it was typed before.
  checkNo: method.value === 'check' ? typedNumber(checkNo.value) : null,
  overrideReason: mayOverride.value ? reason.value : '',
  refundOf: props.refund?.receiptId ?? null,
})
const { state, act, fault, send } = useForm(() => api.trust.pay(input()))

async function pay() {
  const done = await send()
  if (!done) return
  if (done.printJob) sayPrinting(notes, 'trust', done.printJob, `Posted as check ${done.checkNo}`)
  else notes.say(done.checkNo ? `Posted as check ${done.checkNo}; print it from Checks` : 'Wire posted')
  session.changed()
  emit('close')
}
async function draft() {
  if (!(await act(() => api.trust.draftPayment(input())))) return
  notes.say('Kept as a draft; the money is reserved')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="refund ? `Refund of receipt ${refund.receiptNo}` : 'Pay out of trust'"
    :save="`Post ${showMoney(amount ?? 0)}`"
    :busy="state.busy"
    :message="state.said"
    @save="pay"
    @close="emit('close')"
  >
    <Picker v-model="chosen" label="Client ledger" :search="searchLedgers" :fault="fault('ledgerId')" :autofocus="!ledger" />
    <p v-if="ledger" class="rounded-control bg-mist px-3 py-2">
      <b>{{ showMoney(ledger.available) }}</b> available = {{ showMoney(ledger.book) }} in the book − {{ showMoney(ledger.uncleared) }} not
      cleared − {{ showMoney(ledger.reserved) }} reserved
    </p>
    <TextField
      v-model="payeeName"
      label="To"
      :list="(before?.payees ?? []).map((p) => p.name)"
      :fault="fault('payeeName')"
      :autofocus="Boolean(ledger)"
    />
    <TextField v-model="payeeAddress" label="Address" optional :lines="2" />
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" />
      <DayField v-model="day" label="On" :fault="fault('day')" />
      <ChoiceField
        v-model="method"
        label="By"
        :options="[
          { value: 'check', text: 'Check' },
          { value: 'wire', text: 'Wire' },
        ]"
      />
      <TextField
        v-if="method === 'check'"
        v-model="checkNo"
        label="Check number"
        optional
        :hint="next ? `Next is ${next}` : ''"
        :fault="fault('checkNo')"
      />
    </div>
    <TextField v-model="memo" label="For" optional :list="before?.memos ?? []" />
    <TextField v-if="mayOverride" v-model="reason" label="Reason for spending money that has not cleared" optional />
    <template #more><Btn :busy="state.busy" @click="draft">Keep as draft</Btn></template>
  </SideSheet>
</template>
