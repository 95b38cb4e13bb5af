<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { showHours } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** A posted entry split into two that add up to it. */
const props = defineProps<{ entry: Answer<typeof api.time.list>['rows'][number] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const form = ref({ duration: '', text: props.entry.text, restText: props.entry.text })
const { state, fault, send } = useForm(() => api.time.split({ id: props.entry.id, ...form.value }))

async function save() {
  if (!(await send())) return
  notes.say('Split into two entries')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Split time"
    save="Split"
    :busy="state.busy"
    :message="state.said"
    :changed="form.duration !== ''"
    @save="save"
    @close="emit('close')"
  >
    <p>{{ showHours(entry.minutes) }} h of {{ entry.who }} on {{ entry.matter }}.</p>
    <TextField
      v-model="form.duration"
      label="Time of the first"
      hint="0.3, 0:20 or 20m; the rest is the second’s"
      :fault="fault('duration')"
      autofocus
    />
    <TextField v-model="form.text" label="Words of the first" :lines="2" :fault="fault('text')" />
    <TextField v-model="form.restText" label="Words of the second" :lines="2" :fault="fault('restText')" />
    <p class="text-ink-2">Both stay posted, and add up to what it was. Either can then go to another matter.</p>
  </SideSheet>
</template>
