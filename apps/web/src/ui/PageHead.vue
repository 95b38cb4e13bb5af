<script setup lang="ts">
defineProps<{ title: string; hint?: string }>()
</script>

<template>
  <div class="mb-3 flex flex-wrap items-baseline gap-x-3.5 gap-y-2">
    <h1>{{ title }}</h1>
    <p v-if="hint" class="text-ink-2">{{ hint }}</p>
    <div class="ml-auto flex flex-wrap items-center gap-2 print:hidden"><slot /></div>
  </div>
</template>
