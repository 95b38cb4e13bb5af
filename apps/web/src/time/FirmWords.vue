<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { forgetKnown } from '../ui/spelling'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

/** Words that the spelling checker takes for right, one on a line. */
const notes = useNotes()
const { state, act } = useAct()
const text = ref('')
const read = ref(false)
useLoad(async () => {
  const { words } = await api.time.spelling({})
  if (!read.value) text.value = words.join('\n')
  read.value = true
})
async function save() {
  const words = text.value.split(/\s+/u).filter(Boolean)
  if (!(await act(() => api.time.setWords({ words })))) return
  forgetKnown()
  notes.say('Kept')
}
const said = () => state.message.replace(/^.*?: /u, '')
</script>

<template>
  <TextField v-model="text" label="Words, one on a line" :lines="6" />
  <p v-if="state.message" role="alert" class="mt-1 text-rust">{{ said() }}</p>
  <Btn class="mt-2" :busy="state.busy" :disabled="!read" @click="save">Keep the words</Btn>
</template>
