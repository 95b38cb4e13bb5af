<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { spreadOverBills } from '@heron/core/billing'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import { dayText, plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import { moneyKinds } from './kinds'

/** Money that came in: from whom, how much, and on which of their open bills. The oldest due is paid first unless chosen. */
const props = defineProps<{ payer?: Choice; billId?: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const payer = ref<Choice | null>(props.payer ?? null)
const amount = ref<number | null>(null)
const day = ref<Day | null>(session.today)
const kind = ref<(typeof moneyKinds)[number]['value']>('check')
const reference = ref('')
const bankAccountId = ref(0)
const { data: read, loading } = useLoad(
  async () => (payer.value ? { of: payer.value.id, ...(await api.billing.payer({ id: payer.value.id })) } : null),
  [payer],
)
/** How the payer that is chosen stands: until it is read, nothing of the one before is shown or sent. */
const stands = computed(() => (read.value?.of === payer.value?.id ? read.value : null))
const { data: accounts } = useLoad(() => (session.may('trust.see') ? api.trust.accounts() : Promise.resolve([])))
const banks = computed(() => (accounts.value ?? []).filter((a) => a.kind === 'operating'))
watch(banks, (b) => (bankAccountId.value ||= b[0]?.id ?? 0))
const parts = ref<Record<number, number | null>>({})
const chosen = ref(false)

/** What was put there as the amount: it goes with the payer, what was typed stays. */
let proposed: number | null = null
watch(stands, (s) => {
  chosen.value = false
  parts.value = {}
  if (!s || amount.value !== proposed) return
  const own = s.bills.find((b) => b.id === props.billId)
  amount.value = proposed = own ? own.open : s.owed || null
})
// Until someone says otherwise: the bill the sheet was opened on, then the oldest due.
watch([amount, stands], () => {
  if (chosen.value || !stands.value) return
  const bills = stands.value.bills.map((b) => ({ id: b.id, due: b.id === props.billId ? '0000-01-01' : b.dueOn, open: b.open }))
  const spread = spreadOverBills(amount.value ?? 0, bills)
  parts.value = Object.fromEntries(stands.value.bills.map((b) => [b.id, spread.parts.find((p) => p.id === b.id)?.amount ?? null]))
})
const applied = computed(() => typedSum(Object.values(parts.value)))
const left = computed(() => (amount.value ?? 0) - applied.value)
/** Nobody said otherwise, and it reaches beyond the bills that are listed. */
const beyond = computed(() => {
  const s = stands.value
  return Boolean(s && left.value > 0 && !chosen.value && !props.billId && s.open > s.bills.length)
})
const faultAt = (billId: number) => {
  const at = sent.value.findIndex((p) => p.billId === billId)
  return at < 0 ? '' : fault(`parts.${at}.amount`) || fault(`parts.${at}.billId`)
}
const sent = computed(() => Object.entries(parts.value).flatMap(([id, a]) => (a ? [{ billId: Number(id), amount: a }] : [])))

const { state, fault, send } = useForm(() =>
  api.billing.receive({
    payerId: payer.value?.id ?? 0,
    day: day.value ?? '',
    amount: amount.value ?? 0,
    kind: kind.value,
    reference: reference.value,
    ...(bankAccountId.value ? { bankAccountId: bankAccountId.value } : {}),
    // As it was seen; what reaches beyond the bills that are listed, or where none could be read, goes to the oldest due.
    ...(stands.value && !beyond.value ? { parts: sent.value } : {}),
  }),
)

async function receive() {
  const done = await send()
  if (!done) return
  const on = done.applied.length ? ` on ${done.applied.map((a) => a.number).join(', ')}` : ''
  notes.say(`${showMoney(amount.value ?? 0)} received${on}${done.credit ? `; ${showMoney(done.credit)} is left over as a credit` : ''}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Payment received"
    :save="`Receive ${showMoney(amount ?? 0)}`"
    :busy="state.busy"
    :message="state.said"
    :changed="reference !== '' || chosen"
    :disabled="loading"
    @save="receive"
    @close="emit('close')"
  >
    <Picker v-if="!props.payer" v-model="payer" label="From" :search="searchContacts" :fault="fault('payerId')" autofocus />
    <p v-else>
      From <b>{{ props.payer.text }}</b>
    </p>
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" :autofocus="Boolean(props.payer)" />
      <DayField v-model="day" label="On" :fault="fault('day')" />
      <ChoiceField v-model="kind" label="By" :options="moneyKinds" />
      <TextField v-model="reference" label="Reference" optional :fault="fault('reference')" />
    </div>
    <ChoiceField
      v-if="banks.length > 1"
      v-model="bankAccountId"
      label="Into"
      :options="banks.map((b) => ({ value: b.id, text: b.name }))"
      :fault="fault('bankAccountId')"
    />
    <section v-if="stands" aria-label="Open bills">
      <h3 class="mb-1 text-lg">
        {{ stands.open ? `Open: ${plural(stands.open, 'bill')}, ${showMoney(stands.owed)}` : 'No open bill' }}
      </h3>
      <p v-if="stands.open > stands.bills.length" class="mb-1 text-ink-2">The {{ stands.bills.length }} that are due first:</p>
      <div v-for="b in stands.bills" :key="b.id" class="grid grid-cols-[1fr_130px] items-center gap-3 border-t border-line-2 py-1.5">
        <span
          ><b>{{ b.number }}</b> {{ b.matter }}
          <span class="block text-sm" :class="b.dueOn < session.today ? 'text-rust' : 'text-ink-2'"
            >due {{ dayText(b.dueOn) }}, {{ showMoney(b.open) }} open</span
          ></span
        >
        <MoneyField
          :model-value="parts[b.id] ?? null"
          :label="`On ${b.number}`"
          bare
          :fault="faultAt(b.id)"
          @update:model-value="((parts[b.id] = $event), (chosen = true))"
        />
      </div>
      <p
        class="mt-1 flex border-t border-line pt-2 font-semibold"
        :class="left < 0 ? 'text-rust' : ''"
        data-figure="left over"
        aria-live="polite"
      >
        {{ left < 0 ? 'Given to bills beyond what was paid' : 'Left over as a credit of the payer' }}
        <span class="ml-auto">{{ showMoney(Math.abs(left)) }}</span>
      </p>
      <p v-if="beyond" class="mt-1 text-ink-2">It goes on to the bills that are due after these, before anything is left over.</p>
      <p v-if="stands.credit" class="mt-1 text-ink-2">
        {{ showMoney(stands.credit) }} is left over from earlier payments; apply it under Bills, Credits.
      </p>
      <p class="mt-1 text-ink-2">
        Within a bill costs are paid first, then interest, then tax, then fees, unless the firm’s settings say otherwise.
      </p>
    </section>
  </SideSheet>
</template>
