<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import TextField from '../ui/TextField.vue'
import { useUnsaved } from '../ui/unsaved'
import { useForm } from '../ui/form'
import { useTimeSetUp } from './set-up'

/** Wordings under short codes, one's own or the firm's, kept together. */
const props = defineProps<{ firm: boolean }>()
const notes = useNotes()
const setUp = useTimeSetUp()
const list = ref<{ code: string; text: string }[]>([])
let read = ''
const standing = () => JSON.stringify(list.value)
void setUp.ready()
watch(
  () => setUp.phrases,
  (all) => {
    // What is being typed is not written over.
    if (read && standing() !== read) return
    list.value = all.filter((p) => p.own !== props.firm).map(({ code, text }) => ({ code, text }))
    read = standing()
  },
  { immediate: true },
)
useUnsaved({ changed: () => Boolean(read) && standing() !== read })
const { state, fault, send } = useForm(() =>
  api.time.setPhrases({ firm: props.firm, phrases: list.value.filter((p) => p.code.trim() || p.text.trim()) }),
)

async function save() {
  const done = await send()
  if (!done) return
  read = standing()
  notes.say('Phrases kept')
  await setUp.read()
}
</script>

<template>
  <form @submit.prevent="save">
    <p class="text-ink-2">
      Typed by its code, or found by its words, a phrase is taken with Tab. Places to fill stand between square brackets, and Tab goes from
      one to the next: <q>Call with [whom] about [what]</q>.
    </p>
    <div v-for="(p, i) in list" :key="i" class="mt-2 grid grid-cols-[110px_1fr_auto] items-end gap-2">
      <TextField v-model="p.code" :label="`Code ${i + 1}`" :fault="fault(`phrases.${i}.code`)" />
      <TextField v-model="p.text" :label="`Words ${i + 1}`" :fault="fault(`phrases.${i}.text`)" />
      <Btn small :aria-label="`Take ${p.code || 'this'} away`" @click="list.splice(i, 1)">Take away</Btn>
    </div>
    <p v-if="state.said" role="alert" class="mt-2 text-rust">{{ state.said }}</p>
    <div class="mt-3 flex gap-2">
      <Btn @click="list.push({ code: '', text: '' })">Add a phrase</Btn>
      <Btn main type="submit" :busy="state.busy">Save phrases</Btn>
    </div>
  </form>
</template>
