<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useEventListener } from '@vueuse/core'
import { nextTick, ref, watch } from 'vue'
import { useForgetting } from '../use'
import { useReturnFocus } from './focus'
import { question, useInFront } from './question'
import { useStanding } from './standing'
import { useUnsaved } from './unsaved'
import AskFirst from './AskFirst.vue'
import Btn from './Btn.vue'

const props = defineProps<{
  title: string
  save?: string
  busy?: boolean
  message?: string
  wide?: boolean
  changed?: boolean
  disabled?: boolean
  /** What is chosen here is chosen again in a moment: it is not missed, and leaving asks nothing. */
  light?: boolean
  /** What the fields hold is still being read: they are not shown, so that nothing typed is written over. */
  waiting?: boolean
}>()
const emit = defineEmits<{ save: []; close: [] }>()
const asking = ref(false)
const form = ref<HTMLElement | null>(null)
const standing = useStanding(form)
/** What is entered is lost by leaving: as the sheet says, or since a field stands otherwise. Where nothing is saved nothing is lost. */
const unsaved = () => Boolean(props.changed) || (Boolean(props.save) && !props.light && standing.changed())
// Saved meanwhile, nothing is left to ask about.
watch(
  () => [props.changed, props.busy],
  async ([changed, busy], [, wasBusy]) => {
    if (wasBusy && !busy && !props.message) {
      await nextTick()
      if (!form.value?.querySelector('[aria-invalid="true"]')) standing.begin()
    }
    if (!changed) seeAgain()
  },
)
/** What was put back as it stood is not asked about any more. */
function seeAgain() {
  if (!unsaved()) asking.value = false
}

function leave() {
  // A question stands over the sheet: Esc and a press beside it answer that.
  if (question.asked) return
  if (unsaved() && !asking.value) asking.value = true
  else emit('close')
}
// On the window, since a click on bare paper leaves the focus nowhere; only the topmost sheet answers.
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || !props.save) return
  const sheets = document.querySelectorAll('[role="dialog"]')
  if (!sheets[sheets.length - 1]?.contains(form.value)) return
  event.preventDefault()
  if (!props.disabled && !props.busy && !props.waiting) emit('save')
})
useReturnFocus()
useForgetting()
const inFront = useInFront()
useUnsaved({ changed: unsaved, close: leave })

/** Enter goes on to the next field; from the last it goes to the main act. */
function goOn(event: KeyboardEvent) {
  const at = event.target
  if (event.defaultPrevented || event.ctrlKey || event.metaKey || !(at instanceof HTMLInputElement || at instanceof HTMLSelectElement))
    return
  event.preventDefault()
  const fields = [...(form.value?.querySelectorAll<HTMLElement>('input:not([type="hidden"]):not(:disabled), select, textarea') ?? [])]
  const next = fields[fields.indexOf(at) + 1] ?? form.value?.parentElement?.querySelector<HTMLElement>('[data-main-act] button')
  next?.focus()
}
const vFirst = {
  mounted: (el: HTMLElement) => {
    const first = el.querySelector<HTMLElement>('[data-autofocus]') ?? el.querySelector<HTMLElement>('input, select, textarea')
    window.setTimeout(() => first?.focus(), 0)
  },
}
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="leave">
    <div class="fixed inset-0 bg-crest/25" aria-hidden="true"></div>
    <div class="fixed inset-y-0 right-0 flex max-w-full">
      <DialogPanel class="flex max-w-full flex-col border-l border-line bg-paper shadow-2xl" :class="wide ? 'w-[760px]' : 'w-[460px]'">
        <div class="flex items-center gap-3 border-b border-line-2 px-5 py-3.5">
          <DialogTitle as="h2" class="text-xl">{{ title }}</DialogTitle>
          <Btn small class="ml-auto" @click="leave">Leave <kbd class="kbd" aria-hidden="true">Esc</kbd></Btn>
        </div>
        <form
          :key="waiting ? 'waiting' : 'ready'"
          ref="form"
          v-first
          class="flex-1 space-y-3 overflow-auto px-5 py-4"
          novalidate
          @submit.prevent
          @input="seeAgain"
          @change="seeAgain"
          @keydown.enter="goOn"
        >
          <p v-if="waiting" class="text-ink-2">One moment …</p>
          <slot v-else />
        </form>
        <p v-if="asking" role="alert" class="mx-5 mb-2 rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
          What you entered is not saved.
          <button type="button" class="font-semibold underline" @click="emit('close')">Leave without saving</button>
        </p>
        <p v-if="message" role="alert" class="mx-5 mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ message }}</p>
        <div v-if="save" data-main-act class="flex items-center gap-2 border-t border-line-2 px-5 py-3">
          <Btn main :busy="busy" :disabled="disabled || waiting" key-name="Ctrl Enter" @click="emit('save')">{{ save }}</Btn>
          <slot name="more" />
        </div>
      </DialogPanel>
    </div>
    <AskFirst :here="inFront" />
  </Dialog>
</template>
