<script setup lang="ts">
import { parts, type Part } from '@heron/contract'

const grants = defineModel<Record<Part, number>>({ required: true })
defineProps<{ fault?: string }>()
const names: Record<Part, string> = {
  file: 'The file and its people',
  docket: 'Docket',
  papers: 'Papers',
  money: 'Time and bills',
  trust: 'Trust',
}
const levels = [
  { value: 0, text: 'nothing' },
  { value: 1, text: 'see' },
  { value: 2, text: 'change' },
]
</script>

<template>
  <fieldset>
    <legend class="mb-1 text-sm font-medium text-ink-2">Access by part</legend>
    <div v-for="p in parts" :key="p" class="flex items-center gap-4 border-t border-line-2 py-1">
      <span class="flex-1">{{ names[p] }}</span>
      <label v-for="l in levels" :key="l.value" class="flex items-center gap-1">
        <input
          type="radio"
          :name="`grant-${p}`"
          :checked="grants[p] === l.value"
          class="accent-ink"
          :aria-label="`${names[p]}: ${l.text}`"
          @change="grants = { ...grants, [p]: l.value }"
        />
        {{ l.text }}
      </label>
    </div>
    <p v-if="fault" class="text-sm text-rust">{{ fault }}</p>
  </fieldset>
</template>
