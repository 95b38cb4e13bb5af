<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { momentText } from '../ui/show'
import { sure } from '../ui/question'
import { useUnsaved } from '../ui/unsaved'
import { useAct } from '../use'

const Editor = defineAsyncComponent(() => import('./Editor.vue'))
const props = defineProps<{ note: Answer<typeof api.notes.list>['rows'][number]; matterId?: number }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const said = useNotes()
const { state, act, fault } = useAct()
const editing = ref(false)
const html = ref('')
useUnsaved({ changed: () => editing.value && html.value !== props.note.html })
async function save() {
  if (!(await act(() => api.notes.change({ id: props.note.id, html: html.value })))) return
  editing.value = false
  emit('changed')
}
async function takeOut() {
  if (!(await sure('Take the note out', 'Its words are gone for everybody.', 'Take it out'))) return
  if (!(await act(() => api.notes.remove({ id: props.note.id })))) return
  said.say('Note taken out')
  session.changed()
  emit('changed')
}
</script>

<template>
  <article class="border-t border-line-2 py-2" :aria-label="`${note.author}, ${momentText(note.at)}`">
    <p class="flex items-center gap-2 text-sm text-ink-2">
      <span class="grid h-6 w-6 place-items-center rounded-full bg-plume-wash text-xs font-bold text-plume" aria-hidden="true">{{
        note.initials
      }}</span>
      <b class="text-ink">{{ note.author }}</b> {{ momentText(note.at) }}<template v-if="note.changedAt">, changed</template>
      <span v-if="note.mine && !editing" class="ml-auto flex gap-2">
        <button type="button" class="text-lagoon underline" @click="((html = note.html), (editing = true))">Change</button>
        <button type="button" class="text-lagoon underline" @click="takeOut">Take out</button>
      </span>
    </p>
    <template v-if="editing">
      <Editor v-model="html" label="Note" :matter-id="matterId" @send="save" />
      <p v-if="fault('html') || state.message" role="alert" class="text-sm text-rust">{{ fault('html') || state.message }}</p>
      <div class="mt-1 flex gap-2">
        <Btn small main :busy="state.busy" @click="save">Save</Btn><Btn small @click="editing = false">Leave</Btn>
      </div>
    </template>
    <!-- What a note may hold is decided by the server, which takes everything else out before it keeps it. -->
    <!-- eslint-disable-next-line vue/no-v-html -->
    <div v-else class="note-text mt-1" v-html="note.html"></div>
    <a v-if="note.paper" :href="`/api/papers/${note.paper.id}/file`" target="_blank" rel="noopener" class="text-lagoon underline">{{
      note.paper.name
    }}</a>
  </article>
</template>
