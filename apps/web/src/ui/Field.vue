<script setup lang="ts">
import { useId } from 'vue'
defineProps<{ label: string; fault?: string | undefined; hint?: string | undefined; optional?: boolean; bare?: boolean }>()
const id = useId()
</script>

<template>
  <div>
    <label :for="id" :class="bare ? 'sr-only' : 'mb-[3px] block text-sm font-medium text-ink-2'">
      {{ label }}<span v-if="optional" class="font-normal text-ink-3"> (optional)</span>
    </label>
    <slot :id="id" :described="fault || hint ? `${id}-said` : undefined" :invalid="fault ? true : undefined" />
    <!-- A fault may come when the field is left: whoever does not see it hears of it then. -->
    <div aria-live="polite">
      <p v-if="fault" :id="`${id}-said`" class="mt-1 text-sm text-rust">{{ fault }}</p>
    </div>
    <p v-if="hint && !fault" :id="`${id}-said`" class="mt-1 text-sm text-ink-3">{{ hint }}</p>
  </div>
</template>
