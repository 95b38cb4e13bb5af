<script setup lang="ts">
/** A button, or with `href` a link that looks like one, as for what is taken home as a file. */
defineProps<{
  main?: boolean
  small?: boolean
  keyName?: string
  busy?: boolean
  disabled?: boolean
  type?: 'button' | 'submit'
  href?: string
}>()
</script>

<template>
  <component
    :is="href ? 'a' : 'button'"
    :href="href"
    :type="href ? undefined : (type ?? 'button')"
    :disabled="disabled || busy || undefined"
    :aria-busy="busy || undefined"
    class="inline-flex items-center gap-1.5 rounded-control border font-semibold whitespace-nowrap disabled:opacity-60"
    :class="[
      main ? 'border-lagoon bg-lagoon text-white hover:bg-[#0b544f]' : 'border-line bg-paper text-ink hover:bg-page',
      small ? 'h-[27px] px-2.5 text-sm' : 'h-[30px] px-3 text-[13px]',
    ]"
  >
    <slot />
    <kbd v-if="keyName" class="kbd" aria-hidden="true">{{ keyName }}</kbd>
  </component>
</template>
