<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { Ellipsis } from '@lucide/vue'
import { useElementBounding, useWindowSize } from '@vueuse/core'
import { computed, ref, type ComponentPublicInstance } from 'vue'
import Btn from './Btn.vue'

export interface Act {
  text: string
  act?: () => unknown
  /** A link within the application, or with `out` a file to be opened. */
  to?: string
  out?: boolean
  disabled?: boolean
}
/** What else can be done to a row, or on a page, in one menu. With `text` it is a button that says so, else three dots. */
const props = defineProps<{ label: string; acts: readonly Act[]; text?: string }>()
const button = ref<ComponentPublicInstance | null>(null)
const at = useElementBounding(() => button.value?.$el as HTMLElement | undefined)
const { height, width } = useWindowSize()
// Fixed, so that a table that scrolls does not cut it off; upward where there is no room below.
const place = computed(() => {
  const below = at.bottom.value + 4 + props.acts.length * 36 + 10 < height.value
  return {
    right: `${Math.max(8, width.value - at.right.value)}px`,
    ...(below ? { top: `${at.bottom.value + 4}px` } : { bottom: `${height.value - at.top.value + 4}px` }),
  }
})
</script>

<template>
  <Menu v-if="acts.length" v-slot="{ open }" as="div" class="inline-block text-left">
    <MenuButton v-if="text" ref="button" :as="Btn" :aria-label="label">{{ text }}</MenuButton>
    <MenuButton
      v-else
      ref="button"
      class="grid h-[26px] w-[26px] place-items-center rounded-control text-ink-2 hover:bg-mist hover:text-ink"
      :aria-label="label"
      :title="label"
      ><Ellipsis :size="16" aria-hidden="true"
    /></MenuButton>
    <MenuItems
      v-if="open"
      static
      class="fixed z-30 w-max max-w-80 min-w-44 rounded-sheet border border-line bg-paper py-1 font-normal shadow-lg"
      :style="place"
    >
      <MenuItem v-for="a in acts" :key="a.text" v-slot="{ active }" :disabled="a.disabled ?? false">
        <a
          v-if="a.to && a.out"
          :href="a.to"
          target="_blank"
          rel="noopener"
          class="block px-3 py-[7px]"
          :class="active && 'bg-lagoon-wash'"
          >{{ a.text }}</a
        >
        <RouterLink v-else-if="a.to" :to="a.to" class="block px-3 py-[7px]" :class="active && 'bg-lagoon-wash'">{{ a.text }}</RouterLink>
        <button
          v-else
          type="button"
          class="block w-full px-3 py-[7px] text-left disabled:text-ink-3"
          :class="active && 'bg-lagoon-wash'"
          :disabled="a.disabled"
          @click="a.act?.()"
        >
          {{ a.text }}
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>
