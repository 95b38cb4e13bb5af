<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import Btn from './Btn.vue'
import { question } from './question'

defineProps<{ here: boolean }>()

/** The one question over a page: what may be lost is not lost by a slip, so that what keeps it has the focus. */
</script>

<template>
  <Dialog v-if="here && question.asked" :open="true" class="relative z-50" @close="question.answer(false)">
    <div class="fixed inset-0 bg-crest/25" aria-hidden="true"></div>
    <div class="fixed inset-0 flex items-start justify-center pt-[18vh]">
      <DialogPanel class="w-[420px] max-w-[calc(100vw-2rem)] rounded-sheet border border-line bg-paper px-5 py-4 shadow-2xl">
        <DialogTitle as="h2" class="text-lg">{{ question.asked.title }}</DialogTitle>
        <p class="mt-1 text-ink-2">{{ question.asked.words }}</p>
        <div class="mt-4 flex gap-2">
          <Btn main data-autofocus @click="question.answer(false)">{{ question.asked.no }}</Btn>
          <Btn @click="question.answer(true)">{{ question.asked.yes }}</Btn>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
