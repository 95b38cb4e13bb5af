<script setup lang="ts">
import { weekdayNames } from '@heron/core/calendar'

const days = defineModel<number[]>({ required: true })
defineProps<{ fault?: string }>()
</script>

<template>
  <fieldset>
    <legend class="mb-[3px] text-sm font-medium text-ink-2">The working week</legend>
    <div class="flex flex-wrap gap-3">
      <label v-for="(name, i) in weekdayNames" :key="name" class="flex items-center gap-1.5"
        ><input v-model="days" type="checkbox" :value="i + 1" class="accent-ink" /> {{ name }}</label
      >
    </div>
    <p v-if="fault" class="mt-1 text-sm text-rust">{{ fault }}</p>
  </fieldset>
</template>
