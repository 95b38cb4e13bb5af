<script setup lang="ts">
import Btn from './Btn.vue'
defineProps<{ loading?: boolean; problem?: string; empty?: boolean }>()
defineEmits<{ again: [] }>()
</script>

<template>
  <div v-if="problem" role="alert" class="flex items-center gap-3 px-4 py-6 text-rust">
    {{ problem }}
    <Btn small @click="$emit('again')">Try again</Btn>
  </div>
  <p v-else-if="loading" class="px-4 py-6 text-ink-3" role="status">Loading …</p>
  <div v-else-if="empty" class="px-4 py-6 text-ink-2"><slot name="empty" /></div>
  <slot v-else />
</template>
