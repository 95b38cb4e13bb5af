<script setup lang="ts">
import { computed, defineAsyncComponent, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { momentText, plural } from '../ui/show'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useUnsaved } from '../ui/unsaved'
import { useAct } from '../use'
import NoteItem from './NoteItem.vue'
import Notes from './Notes.vue'
import PaperChoice from './PaperChoice.vue'

const Editor = defineAsyncComponent(() => import('./Editor.vue'))
const props = defineProps<{ matterId: number }>()
const session = useSession()
const said = useNotes()
const route = useRoute()
const router = useRouter()
const { state, act, fault } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.notes.topics.queryOptions({ input: { id: props.matterId } }))
type Topic = Answer<typeof api.notes.topic>
const topic = ref<Topic | null>(null)
const title = ref('')
const beginning = ref(false)
/** What is typed and not said yet, for each topic its own; under 0 the first words of a new one. */
const typed = reactive<Record<number, { html: string; paperId: number | null }>>({})
const here = computed(() => topic.value?.id ?? 0)
const own = (part: { html?: string; paperId?: number | null }) =>
  (typed[here.value] = { html: '', paperId: null, ...typed[here.value], ...part })
const html = computed({ get: () => typed[here.value]?.html ?? '', set: (text) => own({ html: text }) })
const paperId = computed({ get: () => typed[here.value]?.paperId ?? null, set: (id) => own({ paperId: id }) })
useUnsaved({ changed: () => Object.values(typed).some((t) => t.html !== '') })
const topicId = computed(() => Number(route.query['topic'] ?? 0))
const read = useShown(() => (topicId.value ? asks.notes.topic.queryOptions({ input: { id: topicId.value } }) : null))
// Earlier messages that were asked for before stay above the latest.
watch(read.data, (latest) => {
  const was = topic.value
  const from = latest?.messages[0]?.id
  const above = was && latest && was.id === latest.id && from ? was.messages.filter((n) => n.id < from) : []
  topic.value = latest && { ...latest, messages: [...above, ...latest.messages], earlier: above.length ? was!.earlier : latest.earlier }
})
async function readEarlier() {
  const before = topic.value?.messages[0]?.id
  const found = before ? await act(() => api.notes.topic({ id: topic.value!.id, before })) : null
  if (!found || topic.value?.id !== found.id || topic.value.messages[0]?.id !== before) return
  topic.value = { ...topic.value, messages: [...found.messages, ...topic.value.messages], earlier: found.earlier }
}
async function begin() {
  const made = await act(() => api.notes.makeTopic({ id: props.matterId, title: title.value, html: html.value }))
  if (!made) return
  title.value = ''
  delete typed[0]
  beginning.value = false
  said.say('Topic begun')
  session.changed()
  void router.replace({ query: { topic: made.id } })
}
async function answer() {
  if (!html.value || !topic.value) return
  const { id } = topic.value
  if (!(await act(() => api.notes.make({ topicId: id, html: html.value, paperId: paperId.value })))) return
  delete typed[id]
  session.changed()
}
</script>

<template>
  <div class="grid stacks gap-x-8 gap-y-4 px-4 py-3 xl:grid-cols-2">
    <section aria-label="Talk">
      <div class="flex items-center pb-1">
        <h2>
          <template v-if="topic">{{ topic.title }}</template><template v-else>Talk of the team</template>
        </h2>
        <Btn v-if="topic" small class="ml-auto" @click="router.replace({ query: {} })">All topics</Btn>
        <Btn v-else-if="!beginning" small class="ml-auto" @click="beginning = true">Begin a topic</Btn>
      </div>
      <template v-if="topic">
        <Btn v-if="topic.earlier" small class="mb-1" :busy="state.busy" @click="readEarlier">Earlier messages</Btn>
        <NoteItem v-for="n in topic.messages" :key="n.id" :note="n" :matter-id="matterId" @changed="session.changed()" />
        <div class="border-t border-line-2 pt-2">
          <Editor v-model="html" label="Answer" :matter-id="matterId" @send="answer" />
          <PaperChoice v-model="paperId" :matter-id="matterId" />
          <p v-if="fault('html') || state.message" role="alert" class="text-sm text-rust">{{ fault('html') || state.message }}</p>
          <Btn small main class="mt-1" :busy="state.busy" key-name="Ctrl Enter" @click="answer">Say it</Btn>
        </div>
      </template>
      <template v-else>
        <div v-if="beginning" class="mb-2 space-y-2">
          <TextField v-model="title" label="Topic" :fault="fault('title')" autofocus />
          <Editor v-model="html" label="First words" :matter-id="matterId" @send="begin" />
          <p v-if="fault('html')" role="alert" class="text-sm text-rust">{{ fault('html') }}</p>
          <div class="flex gap-2">
            <Btn small main :busy="state.busy" @click="begin">Begin it</Btn><Btn small @click="beginning = false">Leave</Btn>
          </div>
        </div>
        <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
          <template #empty>Nothing said yet. What is said here stays for those who join later.</template>
          <RouterLink
            v-for="t in data"
            :key="t.id"
            :to="{ query: { topic: t.id } }"
            class="flex gap-3 border-t border-line-2 py-2 hover:bg-page"
          >
            <b class="font-semibold">{{ t.title }}</b><span class="text-ink-2">{{ plural(t.messages, 'message') }}</span
            ><span class="ml-auto text-sm text-ink-2">{{ t.lastBy }}, {{ momentText(t.lastAt) }}</span>
          </RouterLink>
        </State>
      </template>
    </section>
    <section aria-label="Notes"><Notes :matter-id="matterId" /></section>
  </div>
</template>
