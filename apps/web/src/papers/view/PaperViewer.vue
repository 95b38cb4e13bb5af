<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { api, type Answer } from '../../api'
import { useReturnFocus } from '../../ui/focus'
import Btn from '../../ui/Btn.vue'
import { useUnsaved } from '../../ui/unsaved'
import { waitFor } from '../../wait'
import MailView from './MailView.vue'

/** A paper shown without leaving the page. The next and the one before by N and P, or the arrow keys. */
const props = defineProps<{ id: number; among?: readonly number[] }>()
const emit = defineEmits<{ close: []; go: [id: number]; details: [id: number] }>()
// Loaded when the first PDF is opened.
const PdfPages = defineAsyncComponent(() => import('./PdfPages.vue'))
const view = ref<Answer<typeof api.papers.view> | null>(null)
const problem = ref('')
let turn = 0
watch(
  () => props.id,
  async (id) => {
    const mine = ++turn
    problem.value = ''
    try {
      const found = await api.papers.view({ id })
      if (mine !== turn) return
      view.value = found
      if (found.as !== 'pdf' || found.ready) return
      const jobId = found.jobId ?? (await api.papers.startPdf({ id })).jobId
      const done = await waitFor(() => api.papers.job({ id: jobId }))
      if (mine !== turn) return
      view.value = done === true ? { ...found, ready: true } : { ...found, as: 'none', why: done }
    } catch (error) {
      if (mine === turn) problem.value = error instanceof Error ? error.message : 'This paper cannot be shown.'
    }
  },
  { immediate: true },
)
const at = computed(() => props.among?.indexOf(props.id) ?? -1)
const other = (step: number) => (at.value === -1 ? undefined : props.among?.[at.value + step])
const go = (step: number) => {
  const id = other(step)
  if (id) emit('go', id)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).closest('input, textarea, select')) return
  const step = event.key === 'ArrowRight' || event.key === 'n' ? 1 : event.key === 'ArrowLeft' || event.key === 'p' ? -1 : 0
  if (!step || !other(step)) return
  event.preventDefault()
  event.stopImmediatePropagation()
  go(step)
})
useReturnFocus()
useUnsaved({ changed: () => false, close: () => emit('close') })
/** Of the paper that stands there: until the next one is read, nothing of it is shown under the name of the one before. */
const shown = computed(() => view.value?.id ?? props.id)
const fileAddress = computed(() => `/api/papers/${shown.value}/file`)
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-crest/25" aria-hidden="true"></div>
    <div class="fixed inset-2 flex justify-center min-[900px]:inset-x-10 min-[900px]:inset-y-4">
      <DialogPanel class="flex w-full max-w-[1180px] flex-col rounded-sheet border border-line bg-paper shadow-2xl">
        <div class="flex flex-wrap items-center gap-2 border-b border-line-2 px-4 py-2.5">
          <DialogTitle as="h2" class="min-w-0 flex-1 truncate text-lg">{{ view?.name ?? 'Paper' }}</DialogTitle>
          <span v-if="view && view.version > 1" class="text-ink-2">version {{ view.version }}</span>
          <template v-if="at !== -1">
            <Btn small :disabled="!other(-1)" key-name="P" @click="go(-1)">Before</Btn>
            <Btn small :disabled="!other(1)" key-name="N" @click="go(1)">Next</Btn>
          </template>
          <Btn small :href="fileAddress" target="_blank">Download</Btn>
          <Btn small @click="emit('details', shown)">Details</Btn>
          <Btn small @click="emit('close')">Leave <kbd class="kbd" aria-hidden="true">Esc</kbd></Btn>
        </div>
        <div class="min-h-0 flex-1">
          <p v-if="problem" role="alert" class="px-5 py-6 text-rust">{{ problem }}</p>
          <p v-else-if="!view" role="status" class="px-5 py-6 text-ink-2">Opening …</p>
          <template v-else-if="view.as === 'pdf'">
            <PdfPages
              v-if="view.ready"
              :src="view.mediaType === 'application/pdf' ? fileAddress : `/api/papers/${shown}/pdf`"
              :label="view.name"
            />
            <p v-else role="status" class="px-5 py-6 text-ink-2">Its pages are being made …</p>
          </template>
          <div
            v-else-if="view.as === 'picture'"
            class="h-full overflow-auto bg-mist p-3 text-center"
            tabindex="0"
            role="region"
            :aria-label="view.name"
          >
            <img :src="fileAddress" :alt="view.name" class="mx-auto max-w-full bg-paper shadow" />
          </div>
          <MailView v-else-if="view.as === 'mail'" :id="shown" />
          <pre
            v-else-if="view.as === 'text'"
            class="h-full overflow-auto px-5 py-4 font-sans break-words whitespace-pre-wrap"
            tabindex="0"
            role="region"
            :aria-label="view.name"
            >{{ view.text || 'This file is empty.' }}</pre>
          <p v-else class="px-5 py-6">
            {{ view.why }} <a :href="fileAddress" target="_blank" rel="noopener" class="text-lagoon underline">Download it</a>
          </p>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
