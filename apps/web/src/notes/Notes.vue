<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import Pager from '../ui/Pager.vue'
import State from '../ui/State.vue'
import { useUnsaved } from '../ui/unsaved'
import { useAct } from '../use'
import NoteItem from './NoteItem.vue'
import PaperChoice from './PaperChoice.vue'

const Editor = defineAsyncComponent(() => import('./Editor.vue'))
const props = defineProps<{ matterId?: number; contactId?: number }>()
const session = useSession()
const said = useNotes()
const page = ref(1)
const { data, problem, loading, reload } = useShown(() =>
  asks.notes.list.queryOptions({ input: { matterId: props.matterId, contactId: props.contactId, page: page.value, size: 20 } }),
)
const { state, act, fault } = useAct()
const html = ref('')
const writing = ref(false)
const paperId = ref<number | null>(null)
useUnsaved({ changed: () => html.value !== '' })
async function save() {
  if (
    !html.value ||
    !(await act(() =>
      api.notes.make({ matterId: props.matterId ?? null, contactId: props.contactId ?? null, html: html.value, paperId: paperId.value }),
    ))
  )
    return
  html.value = ''
  paperId.value = null
  writing.value = false
  said.say('Note kept')
  session.changed()
}
</script>

<template>
  <div class="flex items-center pb-1">
    <h2>Notes</h2>
    <Btn v-if="!writing" small class="ml-auto" @click="writing = true">Write a note</Btn>
  </div>
  <div v-if="writing" class="mb-2">
    <Editor v-model="html" label="Note" :matter-id="matterId" @send="save" />
    <PaperChoice v-if="matterId" v-model="paperId" :matter-id="matterId" />
    <p v-if="fault('html') || state.message" role="alert" class="text-sm text-rust">{{ fault('html') || state.message }}</p>
    <div class="mt-1 flex gap-2">
      <Btn small main :busy="state.busy" key-name="Ctrl Enter" @click="save">Keep note</Btn><Btn small @click="writing = false">Leave</Btn>
    </div>
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
    <template #empty>No notes yet.</template>
    <NoteItem v-for="n in data?.rows" :key="n.id" :note="n" :matter-id="matterId" @changed="reload()" />
    <Pager v-if="(data?.total ?? 0) > 20" v-model="page" :total="data?.total ?? 0" :size="20" what="notes" />
  </State>
</template>
