<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** A word to a timekeeper. */
const props = defineProps<{ to: { id: number; name: string; text: string } }>()
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const text = ref(props.to.text)
const { state, fault, send } = useForm(() => api.oversight.note({ userId: props.to.id, text: text.value }))

async function save() {
  if (!(await send())) return
  notes.say(`${props.to.name} has it as a task for today, and a letter`)
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Write to ${to.name}`"
    save="Send"
    :busy="state.busy"
    :message="state.said"
    :changed="text !== to.text"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="text" label="What" :lines="4" :fault="fault('text') ?? fault('assigneeId')" autofocus />
    <p class="text-ink-2">It becomes a task for today, seen by you and {{ to.name }} alone, and a letter tells of it.</p>
  </SideSheet>
</template>
