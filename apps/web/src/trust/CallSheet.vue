<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts, searchMatters } from '../ui/search'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

type Call = Answer<typeof api.calls.list>['rows'][number]
const props = defineProps<{ call: Call | null; from: { client: Choice; matter: Choice } | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const c = props.call
const client = ref<Choice | null>(c ? { id: c.clientId, text: c.client } : (props.from?.client ?? null))
const matter = ref<Choice | null>(c?.matterId ? { id: c.matterId, text: c.matter ?? '' } : (props.from?.matter ?? null))
const bank = ref(c?.bankAccountId ?? 0)
const amount = ref<number | null>(c?.amount ?? null)
const dueOn = ref<Day | null>(c?.dueOn ?? null)
const message = ref(c?.message ?? '')
const minimum = ref<number | null>(c?.minimum ?? null)
const every = ref(c?.everyDays ? String(c.everyDays) : '')
watch(accounts, (list) => (bank.value ||= list?.find((a) => a.kind === 'pooled')?.id ?? 0))
watch(matter, async (m) => {
  if (!m) return
  const found = await api.matters.get({ id: m.id }).catch(() => null)
  if (found && matter.value?.id === m.id) client.value = { id: found.clientId, text: found.client }
})
const input = () => ({
  bankAccountId: bank.value,
  clientId: client.value?.id ?? 0,
  matterId: matter.value?.id ?? null,
  amount: amount.value ?? 0,
  dueOn: dueOn.value,
  message: message.value,
  minimum: minimum.value,
  everyDays: every.value.trim() ? (/^\d+$/.test(every.value.trim()) ? Number(every.value) : 0) : null,
})
const before = JSON.stringify([amount.value, message.value, minimum.value, every.value])
const changed = () => before !== JSON.stringify([amount.value, message.value, minimum.value, every.value])
const { state, fault, send } = useForm(() => (c ? api.calls.change({ id: c.id, version: c.version, ...input() }) : api.calls.make(input())))

async function save() {
  const done = await send()
  if (!done) return
  notes.say('Kept as a draft; send it from its row')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="c ? 'Change a call' : 'Call on account'"
    save="Keep as draft"
    :busy="state.busy"
    :message="state.said"
    :changed="changed()"
    :waiting="!accounts"
    @save="save"
    @close="emit('close')"
  >
    <Picker v-model="matter" label="Matter" optional :search="searchMatters" :fault="fault('matterId')" :autofocus="!from && !c" />
    <Picker v-model="client" label="From" :search="searchContacts" :fault="fault('clientId')" />
    <ChoiceField
      v-model="bank"
      label="Into"
      :options="(accounts ?? []).filter((a) => a.kind !== 'operating').map((a) => ({ value: a.id, text: a.name }))"
      :fault="fault('bankAccountId')"
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" :autofocus="Boolean(from || c)" />
      <DayField v-model="dueOn" label="Due on" optional :fault="fault('dueOn')" />
    </div>
    <TextField
      v-model="message"
      label="Message"
      optional
      :lines="4"
      hint="It stands in the letter and on the page of the link."
      :fault="fault('message')"
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="every" label="Remind every, days" optional :fault="fault('everyDays')" />
      <MoneyField v-model="minimum" label="Ask again below" optional :fault="fault('minimum')" />
    </div>
    <p v-if="minimum && amount" class="text-ink-2">
      Once it is paid and less than {{ showMoney(minimum) }} is available, what fills it up to {{ showMoney(amount) }} is asked for again.
    </p>
  </SideSheet>
</template>
