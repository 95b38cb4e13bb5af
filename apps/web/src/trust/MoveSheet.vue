<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** Money goes to another ledger of the same client: another matter, the client as a whole, another trust account. */
const props = defineProps<{ from: Answer<typeof api.trust.ledger> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const { data: matters } = useLoad(() => api.matters.list({ partyId: props.from.clientId ?? 0, size: 200 }))
const whole = 'whole'
const matter = ref(props.from.matterId ? String(props.from.matterId) : whole)
const bank = ref(props.from.bankAccountId)
const amount = ref<number | null>(null)
const day = ref<Day | null>(session.today)
const reason = ref('')
const beforeTerm = ref(false)
const trustAccounts = computed(() => (accounts.value ?? []).filter((a) => a.kind !== 'operating'))
const choices = computed(() => [
  { value: whole, text: 'The client as a whole' },
  ...(matters.value?.rows ?? []).map((m) => ({ value: String(m.id), text: `${m.number} ${m.name}` })),
])
const { state, fault, send } = useForm(() =>
  api.trustActs.move({
    fromLedgerId: props.from.id,
    bankAccountId: bank.value,
    matterId: matter.value === whole ? null : Number(matter.value),
    day: day.value ?? '',
    amount: amount.value ?? 0,
    reason: reason.value,
    beforeTerm: beforeTerm.value,
  }),
)

async function save() {
  const done = await send()
  if (!done) return
  notes.say(`${showMoney(amount.value ?? 0)} moved`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Move within the client"
    :save="`Move ${showMoney(amount ?? 0)}`"
    :busy="state.busy"
    :message="state.said"
    :changed="amount !== null || reason !== ''"
    :waiting="!accounts || !matters"
    @save="save"
    @close="emit('close')"
  >
    <p class="rounded-control bg-mist px-3 py-2">
      From <b>{{ from.client }}</b>, {{ from.matter ?? 'the client as a whole' }}, {{ from.bank }}:
      {{ showMoney(from.available) }} available
    </p>
    <ChoiceField
      v-model="bank"
      label="To account"
      :options="trustAccounts.map((a) => ({ value: a.id, text: a.name }))"
      :fault="fault('bankAccountId')"
    />
    <ChoiceField v-model="matter" label="For" :options="choices" :fault="fault('matterId')" />
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" autofocus />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <TextField v-model="reason" label="Why" hint="Such as: as the client asked in her letter of 12 November." :fault="fault('reason')" />
    <label v-if="fault('beforeTerm') || beforeTerm" class="flex gap-2"
      ><input v-model="beforeTerm" type="checkbox" class="accent-ink" /> It leaves before the term ends</label
    >
    <p v-if="fault('beforeTerm')" role="alert" class="text-rust">{{ fault('beforeTerm') }}</p>
  </SideSheet>
</template>
