<script setup lang="ts">
defineProps<{ main?: boolean; small?: boolean; keyName?: string; busy?: boolean; disabled?: boolean; type?: 'button' | 'submit' }>()
</script>

<template>
  <button
    :type="type ?? 'button'"
    :disabled="disabled || busy"
    :aria-busy="busy || undefined"
    class="inline-flex items-center gap-1.5 rounded-control border font-semibold whitespace-nowrap disabled:opacity-60"
    :class="[
      main ? 'border-lagoon bg-lagoon text-white hover:bg-[#0b544f]' : 'border-line bg-paper text-ink hover:bg-page',
      small ? 'h-[27px] px-2.5 text-sm' : 'h-[30px] px-3 text-[13px]',
    ]"
  >
    <slot />
    <kbd v-if="keyName" class="kbd" aria-hidden="true">{{ keyName }}</kbd>
  </button>
</template>
