<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { plural } from '../../ui/show'
import { useForm } from '../../ui/form'

/** A new folder, or another name and place for one. */
const props = defineProps<{ matterId: number; path: string; rename: boolean }>()
const emit = defineEmits<{ made: [path: string]; close: [] }>()
const session = useSession()
const notes = useNotes()
const start = props.rename ? props.path : props.path && props.path !== '/bin' ? `${props.path}/` : ''
const name = ref(start)
const { state, fault, send } = useForm(() =>
  props.rename
    ? api.papers.moveFolder({ id: props.matterId, from: props.path, to: name.value })
    : api.papers.addFolder({ id: props.matterId, path: name.value }),
)
async function save() {
  const to = name.value
  const done = await send()
  if (!done) return
  if ('moved' in done) notes.say(`${props.path} is now ${to}, with ${plural(done.moved, 'paper')}`)
  session.changed()
  emit('made', to)
}
</script>

<template>
  <SideSheet
    :title="rename ? 'Rename or move a folder' : 'New folder'"
    :save="rename ? 'Save' : 'Make it'"
    :busy="state.busy"
    :message="state.message"
    :changed="name !== start"
    @save="save"
    @close="emit('close')"
  >
    <TextField
      v-model="name"
      label="Folder"
      :fault="fault('path') || fault('to')"
      hint="A folder within another stands behind a slash: Discovery/Served on us"
      autofocus
    />
  </SideSheet>
</template>
