<script setup lang="ts" generic="T extends string">
const model = defineModel<T>({ required: true })
defineProps<{ label: string; options: readonly { value: T; text: string }[] }>()
</script>

<template>
  <div
    role="group"
    :aria-label="label"
    class="inline-flex max-w-full flex-wrap overflow-hidden rounded-control border border-line bg-paper"
  >
    <button
      v-for="o in options"
      :key="o.value"
      type="button"
      :aria-pressed="model === o.value"
      class="h-[28px] px-2.5 text-sm whitespace-nowrap"
      :class="model === o.value ? 'bg-mist font-semibold text-ink' : 'text-ink-2 hover:bg-page'"
      @click="model = o.value"
    >
      {{ o.text }}
    </button>
  </div>
</template>
