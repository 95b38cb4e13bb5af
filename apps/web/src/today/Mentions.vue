<script setup lang="ts">
import { useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'
import { momentText } from '../ui/show'
import { useLoad } from '../use'

const session = useSession()
const router = useRouter()
const { data } = useLoad(() => api.notes.mentions(), [() => session.tick])
type Mention = Answer<typeof api.notes.mentions>[number]
const place = (m: Mention) =>
  m.matterId ? `/matters/${m.matterId}/talk${m.topicId ? `?topic=${m.topicId}` : ''}` : `/people/${m.contactId}`
async function look(m: Mention) {
  await api.notes.seen({ id: m.noteId }).catch(() => undefined)
  await router.push(place(m))
}
</script>

<template>
  <section v-if="data?.length" class="sheet" aria-label="Mentions">
    <h2 class="px-3.5 pt-3 pb-2">Mentions</h2>
    <button
      v-for="m in data"
      :key="m.noteId"
      type="button"
      class="block w-full border-t border-line-2 px-3.5 py-1.5 text-left hover:bg-page"
      @click="look(m)"
    >
      <b class="font-semibold">{{ m.who }}</b> <span class="text-ink-2">on {{ m.place }}, {{ momentText(m.at) }}</span>
      <span class="line-clamp-2 block">{{ m.text }}</span>
    </button>
  </section>
</template>
