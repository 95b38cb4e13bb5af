<script setup lang="ts">
import { ref } from 'vue'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import type { Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

const props = defineProps<{ name?: string; as?: string }>()
const emit = defineEmits<{ made: [Choice]; close: [] }>()
const session = useSession()
const notes = useNotes()
const name = ref(props.name ?? '')
const kind = ref<'person' | 'organization'>('person')
const what = ref(props.as ?? 'client')
const { data: kindsKnown } = useLoad(() => recent(asks.people.kinds.queryOptions()))
const greeting = ref('')
const email = ref('')
const phone = ref('')
const address = ref('')

const { state, fault, send } = useForm(() =>
  api.people.make({
    kind: kind.value,
    name: name.value,
    greeting: greeting.value,
    email: email.value,
    phone: phone.value,
    address: address.value,
    kinds: [what.value],
  }),
)

async function save() {
  const made = await send()
  if (!made) return
  notes.say(`${name.value} is on record`)
  session.changed()
  emit('made', { id: made.id, text: name.value })
}
</script>

<template>
  <SideSheet
    title="New contact"
    save="Make contact"
    :busy="state.busy"
    :message="state.said"
    :changed="name !== (props.name ?? '')"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="name" label="Name" :fault="fault('name')" autofocus />
    <ChoiceField
      v-model="kind"
      label="Is a"
      :options="[
        { value: 'person', text: 'Person' },
        { value: 'organization', text: 'Organization' },
      ]"
    />
    <ChoiceField v-model="what" label="Kind" :options="(kindsKnown ?? [what]).map((k) => ({ value: k, text: k }))" />
    <TextField v-model="greeting" label="Greeting in letters" optional placeholder="Ms. Ostergaard" />
    <TextField v-model="email" label="E-mail" optional :fault="fault('email')" />
    <TextField v-model="phone" label="Phone" optional />
    <TextField v-model="address" label="Address" optional :lines="3" />
  </SideSheet>
</template>
