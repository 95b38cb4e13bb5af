<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** Puts the firm's own money for bank charges into a trust account. */
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const trust = computed(() => (accounts.value ?? []).filter((a) => a.kind !== 'operating'))
const operating = computed(() => (accounts.value ?? []).filter((a) => a.kind === 'operating'))
const into = ref(0)
const from = ref(0)
watch(accounts, () => {
  into.value ||= trust.value[0]?.id ?? 0
  from.value ||= operating.value[0]?.id ?? 0
})
const day = ref<Day | null>(session.today)
const amount = ref<number | null>(null)
const { state, fault, send } = useForm(() =>
  api.trustActs.firmMoney({ id: into.value, operatingAccountId: from.value || null, day: day.value ?? '', amount: amount.value ?? 0 }),
)

async function save() {
  const done = await send()
  if (!done) return
  notes.say(`${showMoney(amount.value ?? 0)} of the firm’s own money put into trust`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Firm money into trust"
    save="Post it"
    :busy="state.busy"
    :message="state.said"
    :changed="amount !== null"
    :waiting="!accounts"
    @save="save"
    @close="emit('close')"
  >
    <ChoiceField
      v-model="into"
      label="Into"
      :options="trust.map((a) => ({ value: a.id, text: a.name }))"
      :fault="fault('bankAccountId')"
      autofocus
    />
    <ChoiceField v-model="from" label="Out of" :options="operating.map((a) => ({ value: a.id, text: a.name }))" />
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <p class="text-ink-2">It has a ledger of its own there and bears the bank’s charges. Keep no more than the bank asks for.</p>
  </SideSheet>
</template>
