<script setup lang="ts">
import { ref } from 'vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import NewContact from './NewContact.vue'

/** Finds a contact by a few letters, or makes one without leaving what one is doing. */
const model = defineModel<Choice | null>({ required: true })
defineProps<{ label: string; as?: string; fault?: string; hint?: string; optional?: boolean; autofocus?: boolean }>()
const making = ref('')
function made(c: Choice) {
  model.value = c
  making.value = ''
}
</script>

<template>
  <Picker
    v-model="model"
    :label="label"
    :search="searchContacts"
    :fault="fault"
    :hint="hint"
    :optional="optional"
    :autofocus="autofocus"
    make="New person or organization"
    @make="making = $event"
  />
  <NewContact v-if="making" :name="making" :as="as ?? 'witness'" @made="made" @close="making = ''" />
</template>
