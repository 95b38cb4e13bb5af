<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts, searchMatters } from '../ui/search'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** Whose money it is: of a receipt without an owner, or of an entry that stands on the wrong ledger. */
type Receipt = Answer<typeof api.trustActs.unidentified>[number]
type Entry = Answer<typeof api.trust.ledger>['entries'][number]
const props = defineProps<{ receipt?: Receipt; entry?: Entry }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const client = ref<Choice | null>(null)
const matter = ref<Choice | null>(null)
const amount = ref<number | null>(props.entry ? Math.abs(props.entry.amount) : null)
const day = ref<Day | null>(session.today)
const reason = ref('')
/** A matter brings its client along. */
watch(matter, async (m) => {
  if (!m) return
  const found = await api.matters.get({ id: m.id }).catch(() => null)
  if (found && matter.value?.id === m.id) client.value = { id: found.clientId, text: found.client }
})
const title = computed(() => (props.receipt ? `Owner of receipt ${props.receipt.receiptNo}` : 'Correct, ledger to ledger'))
const { state, fault, send } = useForm(() => {
  const own = { clientId: client.value?.id ?? 0, matterId: matter.value?.id ?? null, day: day.value ?? '', reason: reason.value }
  return props.receipt
    ? api.trustActs.creditOwner({ id: props.receipt.id, ...own })
    : api.trustActs.correct({ entryId: props.entry!.id, amount: amount.value ?? 0, ...own })
})

async function save() {
  const done = await send()
  if (!done) return
  notes.say(
    props.receipt ? `Credited to ${client.value?.text}` : 'Asked for; it is posted when somebody else agrees, under Trust, To settle',
  )
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="title"
    :save="receipt ? `Credit ${showMoney(receipt.amount)}` : 'Ask for the correction'"
    :busy="state.busy"
    :message="state.said"
    :changed="client !== null || reason !== ''"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="receipt" class="rounded-control bg-mist px-3 py-2">
      {{ dayText(receipt.day) }}, sheet {{ receipt.sheet }}, {{ receipt.bank }}: {{ showMoney(receipt.amount) }} by {{ receipt.kind }} from
      {{ receipt.depositor }}{{ receipt.text ? `, ${receipt.text}` : '' }}
    </p>
    <template v-if="entry">
      <p class="rounded-control bg-mist px-3 py-2">{{ dayText(entry.day) }}, {{ entry.text }}: {{ showMoney(entry.amount) }}</p>
      <p class="text-ink-2">
        {{
          entry.amount > 0
            ? 'What came in on this ledger goes to the right one.'
            : 'What was paid from this ledger is made good by the right one.'
        }}
        No bank moves, and a second person agrees before it is posted.
      </p>
    </template>
    <Picker v-model="matter" label="Matter" optional :search="searchMatters" :fault="fault('matterId')" autofocus />
    <Picker v-model="client" label="Client" :search="searchContacts" :fault="fault('clientId')" />
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-if="entry" v-model="amount" label="Amount" :fault="fault('amount')" />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <TextField
      v-model="reason"
      label="Why"
      :hint="receipt ? 'How the owner was found.' : 'What went wrong, and how it is known.'"
      :fault="fault('reason')"
    />
  </SideSheet>
</template>
