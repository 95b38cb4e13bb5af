<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { plural } from '../../ui/show'
import { useAct } from '../../use'

/** A new folder, or another name and place for one. */
const props = defineProps<{ matterId: number; path: string; rename: boolean }>()
const emit = defineEmits<{ made: [path: string]; close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const start = props.rename ? props.path : props.path && props.path !== '/bin' ? `${props.path}/` : ''
const name = ref(start)
async function save() {
  const to = name.value
  if (props.rename) {
    const moved = await act(() => api.papers.moveFolder({ id: props.matterId, from: props.path, to }))
    if (!moved) return
    notes.say(`${props.path} is now ${to}, with ${plural(moved.moved, 'paper')}`)
  } else if (!(await act(() => api.papers.addFolder({ id: props.matterId, path: to })))) return
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
