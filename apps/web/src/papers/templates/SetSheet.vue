<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import ManyField from '../../ui/ManyField.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { useForm } from '../../ui/form'
import { sure } from '../../ui/question'

/** Templates that are made together, asked once. */
const props = defineProps<{
  set: { id: number; name: string; description: string; templates: { id: number; name: string }[] } | null
  templates: readonly { id: number; name: string }[]
}>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const name = ref(props.set?.name ?? '')
const description = ref(props.set?.description ?? '')
const ids = ref(props.set?.templates.map((t) => t.id) ?? [])
const finish = (done: unknown) => {
  if (!done) return
  session.changed()
  emit('close')
}
const { state, act, fault, send } = useForm(() =>
  api.templates.saveSet({ id: props.set?.id ?? null, name: name.value, description: description.value, templateIds: ids.value }),
)
const save = async () => finish(await send())
async function remove() {
  if (!(await sure('Take the set away', 'Its templates stay, each for itself.', 'Take it away'))) return
  await finish(await act(() => api.templates.removeSet({ id: props.set!.id })))
}
</script>

<template>
  <SideSheet
    :title="set ? set.name : 'New set'"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="name !== (set?.name ?? '')"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="name" label="Name" :fault="fault('name')" autofocus />
    <TextField v-model="description" label="What for" optional :fault="fault('description')" />
    <ManyField
      v-model="ids"
      label="Templates, in their order"
      :options="templates.map((t) => ({ id: t.id, text: t.name }))"
      :fault="fault('templateIds')"
    />
    <template #more><Btn v-if="set" :busy="state.busy" @click="remove">Take the set away</Btn></template>
  </SideSheet>
</template>
