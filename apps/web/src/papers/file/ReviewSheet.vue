<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { useForm } from '../../ui/form'
import { options } from '../show'
import { useStaff } from './useStaff'

/** Asks a colleague to read a draft by a day. */
const props = defineProps<{ id: number; matterId: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { others } = useStaff()
const toId = ref<number | null>(null)
const dueOn = ref<Day | null>(null)
const message = ref('')
const { state, fault, send } = useForm(() =>
  api.papers.review({ id: props.id, toId: toId.value ?? 0, dueOn: dueOn.value, message: message.value }),
)

async function save() {
  if (!(await send())) return
  notes.say('Your colleague is asked, and answers here')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Ask a colleague to read it"
    save="Ask"
    :busy="state.busy"
    :message="state.said"
    :changed="Boolean(message || toId)"
    @save="save"
    @close="emit('close')"
  >
    <ChoiceField
      v-model="toId"
      label="Who"
      :options="[{ value: null, text: 'Choose' }, ...options(others)]"
      :fault="fault('toId')"
      autofocus
    />
    <DayField v-model="dueOn" label="By" optional :fault="fault('dueOn')" />
    <TextField v-model="message" label="What to look at" optional :lines="4" :fault="fault('message')" />
  </SideSheet>
</template>
