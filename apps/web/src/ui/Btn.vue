<script setup lang="ts">
/**
 * A button, or with `href` a link that looks like one, as for what is taken home as a file. While busy it keeps the focus and swallows further
 * presses: a button that goes to sleep under the finger would let the next key fall on the page.
 */
const props = defineProps<{
  main?: boolean
  small?: boolean
  keyName?: string
  busy?: boolean
  disabled?: boolean
  type?: 'button' | 'submit'
  href?: string
}>()
function whileBusy(event: Event) {
  if (!props.busy) return
  event.preventDefault()
  event.stopImmediatePropagation()
}
</script>

<template>
  <component
    :is="href ? 'a' : 'button'"
    :href="href"
    :type="href ? undefined : (type ?? 'button')"
    :disabled="disabled || undefined"
    :aria-disabled="busy || undefined"
    :aria-busy="busy || undefined"
    class="inline-flex items-center gap-1.5 rounded-control border font-semibold whitespace-nowrap disabled:opacity-60 aria-disabled:opacity-60"
    @click.capture="whileBusy"
    :class="[
      main ? 'border-lagoon bg-lagoon text-white hover:bg-[#0b544f]' : 'border-line bg-paper text-ink hover:bg-page',
      small ? 'h-[27px] px-2.5 text-sm' : 'h-[30px] px-3 text-[13px]',
    ]"
  >
    <slot />
    <kbd v-if="keyName" class="kbd" aria-hidden="true">{{ keyName }}</kbd>
  </component>
</template>
