<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

type Ledger = Answer<typeof api.trust.ledger>
const props = defineProps<{ ledger: Ledger; release?: Ledger['holds'][number] | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const kind = ref<'lien' | 'disputed' | 'other'>('lien')
const amount = ref<number | null>(null)
const reason = ref('')
const { state, fault, send } = useForm(() => {
  const { release } = props
  return release
    ? api.trustActs.release({ id: release.id, reason: reason.value })
    : api.trustActs.hold({ id: props.ledger.id, kind: kind.value, amount: amount.value ?? 0, reason: reason.value })
})

async function save() {
  const { release } = props
  const done = await send()
  if (!done) return
  notes.say(release ? 'Released; the money is available again' : 'Held; it is not paid out until it is released')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="release ? 'Release what is held' : 'Hold part of this ledger'"
    :save="release ? `Release ${showMoney(release.amount)}` : `Hold ${showMoney(amount ?? 0)}`"
    :busy="state.busy"
    :message="state.said"
    :changed="amount !== null || reason !== ''"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="release">{{ showMoney(release.amount) }}, {{ release.kind }}: {{ release.reason }}</p>
    <template v-else>
      <ChoiceField
        v-model="kind"
        label="What it is"
        :options="[
          { value: 'lien', text: 'A lien' },
          { value: 'disputed', text: 'A disputed sum' },
          { value: 'other', text: 'Something else' },
        ]"
      />
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" autofocus />
    </template>
    <TextField
      v-model="reason"
      label="Why"
      :hint="release ? 'Such as: the lien was paid by the insurer.' : 'Whose lien, or what is disputed and by whom.'"
      :fault="fault('reason')"
      :autofocus="Boolean(release)"
    />
  </SideSheet>
</template>
