<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

const props = defineProps<{ billId: number; number: string; disputed: string | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const reason = ref('')
const { state, fault, send } = useForm(() => api.billing.dispute({ id: props.billId, disputed: !props.disputed, reason: reason.value }))

async function save() {
  if (!(await send())) return
  notes.say(props.disputed ? `${props.number} is no longer disputed` : `${props.number} is disputed: no reminder and no interest meanwhile`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="disputed ? `Bill ${number} is no longer disputed` : `Bill ${number} is disputed`"
    :save="disputed ? 'Take the mark off' : 'Mark as disputed'"
    :busy="state.busy"
    :message="state.said"
    :changed="reason !== ''"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="disputed">{{ disputed }}</p>
    <TextField
      v-model="reason"
      :label="disputed ? 'What came of it' : 'What is disputed'"
      :optional="disputed !== null"
      :lines="3"
      :fault="fault('reason')"
      autofocus
    />
    <p class="text-ink-2">While a bill is disputed, no reminder goes out and no interest is charged.</p>
  </SideSheet>
</template>
