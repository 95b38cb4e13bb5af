<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

export interface Letter {
  name: string
  email: string
  subject: string
  body: string
}
/** A bill, a statement or a receipt by e-mail: to whom and in which words is proposed, and may be changed. */
const props = defineProps<{ title: string; what: string; load: () => Promise<Letter>; send: (letter: Letter) => Promise<unknown> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data, problem } = useLoad(() => props.load())
const form = ref<Letter>({ name: '', email: '', subject: '', body: '' })
watch(data, (d) => d && (form.value = { ...d }))
const changed = computed(() => data.value !== null && JSON.stringify(form.value) !== JSON.stringify(data.value))
const { state, fault, send } = useForm(() => props.send({ ...form.value }))

async function sendIt() {
  if (!(await send())) return
  notes.say(`${props.what} goes to ${form.value.email}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="title"
    save="Send"
    :busy="state.busy"
    :message="problem || state.said"
    :changed="changed"
    :waiting="!data"
    @save="sendIt"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-[1fr_1.5fr] gap-3">
      <TextField v-model="form.name" label="To" :fault="fault('name')" />
      <TextField
        v-model="form.email"
        label="E-mail"
        :fault="fault('email')"
        :hint="data?.email ? '' : 'The contact has no address yet'"
        autofocus
      />
    </div>
    <TextField v-model="form.subject" label="Subject" :fault="fault('subject')" />
    <TextField
      v-model="form.body"
      label="Letter"
      :lines="9"
      :fault="fault('body')"
      :hint="`${what} goes with it as PDF.${form.body.includes('{link}') ? ' {link} becomes a link to pay when it is sent.' : ''}`"
    />
  </SideSheet>
</template>
