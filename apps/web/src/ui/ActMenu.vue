<script setup lang="ts">
import { Menu, MenuButton } from '@headlessui/vue'
import { Ellipsis } from '@lucide/vue'
import { useElementBounding, useWindowSize } from '@vueuse/core'
import { ref, type ComponentPublicInstance } from 'vue'
import type { Act } from './act'
import ActItems from './ActItems.vue'
import Btn from './Btn.vue'

export type { Act }
/** What else can be done to a row, or on a page, in one menu. With `text` it is a button that says so, else three dots. */
defineProps<{ label: string; acts: readonly Act[]; text?: string }>()
const button = ref<ComponentPublicInstance | null>(null)
const at = useElementBounding(() => button.value?.$el as HTMLElement | undefined)
const { height, width } = useWindowSize()
// Fixed, so that a table that scrolls does not cut it off; upward where there is no room below.
function place(lines: number) {
  const below = at.bottom.value + 4 + lines * 36 + 10 < height.value
  return {
    right: `${Math.max(8, width.value - at.right.value)}px`,
    ...(below ? { top: `${at.bottom.value + 4}px` } : { bottom: `${height.value - at.top.value + 4}px` }),
  }
}
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
    <ActItems v-if="open" :acts="acts" :place="place" />
  </Menu>
</template>
