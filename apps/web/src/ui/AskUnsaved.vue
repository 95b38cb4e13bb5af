<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import Btn from './Btn.vue'
import { question } from './unsaved'
</script>

<template>
  <Dialog v-if="question.asked" :open="true" class="relative z-50" @close="question.answer(false)">
    <div class="fixed inset-0 bg-crest/25" aria-hidden="true"></div>
    <div class="fixed inset-0 flex items-start justify-center pt-[18vh]">
      <DialogPanel class="w-[420px] max-w-[calc(100vw-2rem)] rounded-sheet border border-line bg-paper px-5 py-4 shadow-2xl">
        <DialogTitle as="h2" class="text-lg">What you entered is not saved</DialogTitle>
        <p class="mt-1 text-ink-2">It is lost if you leave now.</p>
        <div class="mt-4 flex gap-2">
          <Btn main data-autofocus @click="question.answer(false)">Stay</Btn>
          <Btn @click="question.answer(true)">Leave without saving</Btn>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
