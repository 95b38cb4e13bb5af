<script setup lang="ts">
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { momentText } from '../ui/show'

const router = useRouter()
const { data } = useShown(() => asks.notes.mentions.queryOptions())
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
