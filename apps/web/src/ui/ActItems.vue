<script setup lang="ts">
import { MenuItem, MenuItems } from '@headlessui/vue'
import type { Act } from './act'

/**
 * The acts of an open menu, as they stood when it opened: a page that is read anew meanwhile does not move them under a hand
 * that is about to press one. The server judges each act anyway.
 */
const props = defineProps<{ acts: readonly Act[]; place: (lines: number) => Record<string, string> }>()
const held = [...props.acts]
</script>

<template>
  <MenuItems
    static
    class="fixed z-30 w-max max-w-80 min-w-44 rounded-sheet border border-line bg-paper py-1 font-normal shadow-lg"
    :style="place(held.length)"
  >
    <MenuItem v-for="a in held" :key="a.text" v-slot="{ active }" :disabled="a.disabled ?? false">
      <a v-if="a.to && a.out" :href="a.to" target="_blank" rel="noopener" class="block px-3 py-[7px]" :class="active && 'bg-lagoon-wash'">{{
        a.text
      }}</a>
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
</template>
