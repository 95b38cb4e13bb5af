<script setup lang="ts">
import { defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { onLostSession } from '../api'
import AskFirst from '../ui/AskFirst.vue'
import { noSheet } from '../ui/question'
import { somethingUnsaved } from '../ui/unsaved'
import { useAwake } from './awake'
import { useLive } from './live'
import { useKeys } from './keys'
import KeySheet from './KeySheet.vue'
import NotThere from './NotThere.vue'
import Masthead from './Masthead.vue'
import { useNotes } from './notes'
import MailDrop from '../papers/filing/MailDrop.vue'
import { useSession } from './session'
import SignInAgain from './SignInAgain.vue'
import Waterline from './Waterline.vue'

// The first page does not wait for what is opened by a key; it is fetched once the page stands.
const findOrDo = () => import('./FindOrDo.vue')
const FindOrDo = defineAsyncComponent({
  loader: findOrDo,
  onError(_error, _again, fail) {
    finding.value = false
    notes.say('Find or do could not be fetched. Reload this page.')
    fail()
  },
})
onMounted(() => void findOrDo().catch(() => undefined))

const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const finding = ref(false)
const showingKeys = ref(false)
const said = ref('')

function lost() {
  if (session.me && somethingUnsaved()) {
    session.ended = true
    return
  }
  session.set(null)
  if (!route.meta['open']) void router.push({ path: '/sign-in', query: { next: route.fullPath } })
}
onLostSession(lost)
useAwake(lost)
useLive()
// A page that opens has loaded what there is.
watch(() => route.path, session.heard)
useKeys({ find: () => (finding.value = true), finding: () => finding.value, keys: () => (showingKeys.value = true) })
watch(
  () => notes.notes.at(-1),
  (note) => note && (said.value = note.text),
)
</script>

<template>
  <template v-if="session.me && !route.meta.bare">
    <a href="#main" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-paper focus:px-3 focus:py-2">To the page</a>
    <Masthead @find="finding = true" />
    <main id="main" tabindex="-1" class="min-h-[calc(100vh-86px)] pb-14 outline-none">
      <NotThere v-if="route.meta.right && !session.may(route.meta.right)" />
      <RouterView v-else :key="route.path.split('/').slice(0, 4).join('/')" />
    </main>
    <Waterline />
    <FindOrDo v-if="finding" @close="finding = false" />
    <KeySheet v-if="showingKeys" @close="showingKeys = false" />
    <AskFirst :here="noSheet" />
    <SignInAgain v-if="session.ended" />
    <MailDrop />
  </template>
  <RouterView v-else-if="route.meta['open']" />
  <div
    role="region"
    aria-label="What was done"
    class="no-print fixed right-4 bottom-14 z-50 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2"
  >
    <div v-for="n in notes.notes" :key="n.id" class="flex items-center gap-3 rounded-sheet bg-crest px-4 py-2.5 text-crest-ink shadow-lg">
      <span class="flex-1">{{ n.text }}</span>
      <button v-if="n.undo" type="button" class="font-semibold text-bill-light underline" @click="notes.undo(n)">
        {{ n.undo.label }}
      </button>
      <button type="button" class="text-crest-label" aria-label="Put away" @click="notes.drop(n.id)">×</button>
    </div>
  </div>
  <div class="sr-only" role="status" aria-live="polite">{{ said }}</div>
</template>
