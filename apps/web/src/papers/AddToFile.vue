<script setup lang="ts">
import { folders } from '@heron/contract'
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import Field from '../ui/Field.vue'
import SideSheet from '../ui/SideSheet.vue'
import { useAct } from '../use'

const props = defineProps<{ matterId: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const folder = ref<(typeof folders)[number]>('Correspondence')
const file = ref<File | null>(null)

async function save() {
  const made = await act(() => api.papers.file({ id: props.matterId, folder: folder.value, file: file.value! }))
  if (!made) return
  notes.say(`${file.value?.name} filed in ${folder.value}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Add to file"
    save="File it"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="file !== null"
    @save="save"
    @close="emit('close')"
  >
    <Field v-slot="{ id, described, invalid }" label="File from this computer" :fault="fault('file')">
      <input
        :id="id"
        type="file"
        class="control"
        :aria-describedby="described"
        :aria-invalid="invalid"
        data-autofocus
        @change="file = ($event.target as HTMLInputElement).files?.[0] ?? null"
      />
    </Field>
    <ChoiceField v-model="folder" label="Folder" :options="folders.map((f) => ({ value: f, text: f }))" />
  </SideSheet>
</template>
