<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ApiProblem } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import { isMail, readMail } from './reading'

/** Takes a message that is dropped anywhere on the application. Other files are for pages that say so. */
const session = useSession()
const notes = useNotes()
const router = useRouter()
const route = useRoute()
const over = ref(false)
const hasFiles = (e: DragEvent) => [...(e.dataTransfer?.types ?? [])].includes('Files')
useEventListener(window, 'dragover', (e: DragEvent) => {
  if (!hasFiles(e) || !session.may('papers.change')) return
  e.preventDefault()
  over.value = true
})
useEventListener(window, 'dragleave', (e: DragEvent) => {
  if (!e.relatedTarget) over.value = false
})
useEventListener(window, 'drop', async (e: DragEvent) => {
  over.value = false
  if (!hasFiles(e) || e.defaultPrevented || !session.may('papers.change')) return
  e.preventDefault()
  const files = [...(e.dataTransfer?.files ?? [])]
  const mails = files.filter(isMail)
  if (!mails.length)
    return notes.say(
      files.length ? 'Open the papers of a matter, then drop files there. E-mail saved as .eml is taken anywhere.' : 'Nothing was dropped',
    )
  const matter = /^\/matters\/(\d+)/.exec(route.path)?.[1]
  try {
    const ids = []
    for (const m of mails) ids.push(await readMail(m))
    session.changed()
    void router.push(ids.length === 1 ? `/papers/mail/${ids[0]}${matter ? `?matter=${matter}` : ''}` : '/papers/mail')
  } catch (error) {
    notes.say(error instanceof ApiProblem ? error.message : 'The e-mail could not be read.')
  }
})
</script>

<template>
  <div
    v-if="over"
    class="pointer-events-none fixed inset-x-0 bottom-12 z-50 mx-auto w-fit rounded-sheet bg-crest px-5 py-3 text-crest-ink shadow-lg"
    aria-hidden="true"
  >
    Drop an e-mail to file it
  </div>
</template>
