<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** What the bank did by itself on a trust account; of a line of its statement, with its day and amount. */
type Line = Answer<typeof api.bank.work>['lines'][number]
const props = defineProps<{ line?: Line; bankAccountId?: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
type What = 'returned' | 'charge' | 'interest'
const words: Record<What, string> = {
  returned: 'It took a deposit back',
  charge: 'It charged the account',
  interest: 'It paid interest',
}
const offered = computed(() => (Object.keys(words) as What[]).filter((w) => !props.line || (w === 'interest') === props.line.amount > 0))
const what = ref<What>(props.line && props.line.amount > 0 ? 'interest' : 'returned')
const bank = ref(props.bankAccountId ?? 0)
watch(accounts, (list) => (bank.value ||= list?.find((a) => a.kind === 'pooled')?.id ?? 0))
const receipt = ref<Choice | null>(null)
const ledger = ref<Choice | null>(null)
const day = ref<Day | null>(props.line?.countsOn ?? session.today)
const typed = ref<number | null>(null)
const text = ref('')
const amount = computed(() => (props.line ? Math.abs(props.line.amount) : typed.value))
const ahead = ref<Answer<typeof api.trustActs.returnAhead> | null>(null)
watch([receipt, day], async () => {
  const id = receipt.value?.id
  const on = day.value
  ahead.value = null
  if (!id || !on) return
  const found = await api.trustActs.returnAhead({ id, day: on }).catch(() => null)
  if (receipt.value?.id === id && day.value === on) ahead.value = found
})
const kindOf = computed(() => accounts.value?.find((a) => a.id === bank.value)?.kind)
async function searchReceipts(q: string): Promise<Choice[]> {
  const found = await api.trustActs.receipts({ q, ...(props.line ? { bankAccountId: bank.value } : {}) })
  return found.map((r) => ({
    id: r.id,
    text: `Receipt ${r.receiptNo}, ${r.depositor}`,
    hint: `${showMoney(r.amount)}, ${dayText(r.day)}, ${r.client}`,
  }))
}
async function searchLedgers(q: string): Promise<Choice[]> {
  const found = await api.trust.ledgers({ q, size: 50 })
  return found.rows
    .filter((l) => l.bankAccountId === bank.value && l.kind === 'client')
    .map((l) => ({ id: l.id, text: `${l.client}${l.matter ? `, ${l.matter}` : ''}`, hint: showMoney(l.book) }))
}
const trustAccounts = computed(() => (accounts.value ?? []).filter((a) => a.kind !== 'operating'))
const { state, fault, send } = useForm(() => {
  const own = { day: day.value ?? '', text: text.value }
  if (props.line)
    return api.bank.bookTrust({
      id: props.line.id,
      what: what.value,
      text: text.value,
      receiptId: receipt.value?.id ?? null,
      ledgerId: ledger.value?.id ?? null,
    })
  if (what.value === 'returned') return api.trustActs.returned({ id: receipt.value?.id ?? 0, ...own })
  if (what.value === 'charge') return api.trustActs.charge({ id: bank.value, amount: amount.value ?? 0, ...own })
  return api.trustActs.interest({ id: bank.value, amount: amount.value ?? 0, ...own, ledgerId: ledger.value?.id ?? null })
})
async function save() {
  const done = await send()
  if (!done) return
  notes.say(
    'cover' in done && done.cover ? `Posted; ${showMoney(done.cover)} is covered from operating. Send it to the trust account` : 'Posted',
  )
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="What the bank did"
    save="Post it"
    :busy="state.busy"
    :message="state.said"
    :changed="text !== '' || typed !== null || receipt !== null"
    :waiting="!accounts"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="line" class="rounded-control bg-mist px-3 py-2">
      {{ dayText(line.day) }}, {{ showMoney(line.amount) }}: {{ line.text || line.reference || 'without words' }}
    </p>
    <ChoiceField v-model="what" label="What" :options="offered.map((value) => ({ value, text: words[value] }))" :fault="fault('what')" />
    <ChoiceField
      v-if="!line && what !== 'returned'"
      v-model="bank"
      label="Account"
      :options="trustAccounts.map((a) => ({ value: a.id, text: a.name }))"
      :fault="fault('bankAccountId')"
    />
    <Picker
      v-if="what === 'returned'"
      v-model="receipt"
      label="Receipt"
      hint="By its number, whoever paid, the client or the amount."
      :search="searchReceipts"
      :fault="fault(line ? 'receiptId' : 'id')"
    />
    <Picker
      v-if="what === 'interest' && kindOf === 'separate'"
      v-model="ledger"
      label="Ledger"
      optional
      hint="Asked only where the client has several ledgers there."
      :search="searchLedgers"
      :fault="fault('ledgerId')"
    />
    <div v-if="!line" class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-if="what !== 'returned'" v-model="typed" label="Amount" :fault="fault('amount')" />
      <DayField v-model="day" label="On the bank’s day" :fault="fault('day')" />
    </div>
    <TextField
      v-model="text"
      :label="what === 'returned' ? 'The bank’s reason' : 'What it is for'"
      :optional="what === 'interest' || Boolean(line)"
      :fault="fault('text')"
    />
    <div v-if="what === 'returned' && ahead" class="rounded-control bg-mist px-3 py-2" aria-live="polite">
      <p>{{ showMoney(ahead.amount) }} leaves {{ ahead.ledger }}.</p>
      <p v-if="ahead.cover" class="text-rust">
        The ledger would lack {{ showMoney(ahead.cover) }}. The firm covers it from operating in the same act; the client owes it to the
        firm.
      </p>
      <p v-else>The ledger holds enough; nothing is covered.</p>
    </div>
    <p v-if="what === 'charge'" class="text-ink-2">
      The firm’s own money in the account bears it. What that lacks is covered from operating in the same act.
    </p>
    <p v-if="what === 'interest'" class="text-ink-2">
      {{ kindOf === 'separate' ? 'It is the client’s.' : 'On a pooled account it is the bar foundation’s, until it is remitted.' }}
    </p>
  </SideSheet>
</template>
