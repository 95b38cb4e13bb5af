<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { Menu as MenuIcon, Search } from '@lucide/vue'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { areas } from './areas'
import { useSession } from './session'

defineEmits<{ find: [] }>()
const session = useSession()
const route = useRoute()
const router = useRouter()
const shown = computed(() => areas.filter((a) => (!a.right || session.may(a.right)) && !(a.without && session.may(a.without))))
const here = (to: string) => route.path === to || route.path.startsWith(`${to}/`)

async function leave(everywhere: boolean) {
  await session.signOut(everywhere)
  await router.push('/sign-in')
}
</script>

<template>
  <header class="no-print flex h-[46px] items-center gap-4 max-[699px]:gap-3 max-[699px]:px-3 border-b border-line bg-paper px-5">
    <RouterLink to="/today" class="flex items-center gap-2 font-serif text-xl font-semibold whitespace-nowrap"
      ><img src="/heron.svg" alt="" width="22" height="24" /> Astute Heron</RouterLink
    >
    <Menu as="nav" aria-label="Areas, folded" class="relative order-first hidden max-[699px]:block">
      <MenuButton class="grid h-[32px] w-[32px] place-items-center rounded-control border border-line" aria-label="Areas"
        ><MenuIcon :size="18" aria-hidden="true"
      /></MenuButton>
      <MenuItems class="absolute left-0 z-40 mt-1 w-56 rounded-sheet border border-line bg-paper py-1 shadow-lg">
        <MenuItem v-for="a in shown" :key="a.to" v-slot="{ active }"
          ><RouterLink :to="a.to" class="block px-3 py-2.5" :class="[active && 'bg-lagoon-wash', here(a.to) && 'font-semibold']">{{
            a.name
          }}</RouterLink></MenuItem
        >
      </MenuItems>
    </Menu>
    <nav aria-label="Areas" class="flex h-full max-[699px]:hidden">
      <RouterLink
        v-for="a in shown"
        :key="a.to"
        :to="a.to"
        :aria-current="here(a.to) ? 'page' : undefined"
        class="flex items-center border-y-[3px] border-transparent px-[9px] font-medium text-ink-2 hover:text-ink xl:px-[11px]"
        :class="here(a.to) ? 'border-b-bill font-semibold text-ink' : ''"
        >{{ a.name }}</RouterLink
      >
    </nav>
    <button
      type="button"
      class="ml-auto flex h-[30px] w-[190px] items-center justify-between rounded-full border border-line bg-page px-3 text-ink-3 max-[699px]:w-auto xl:w-[236px]"
      aria-keyshortcuts="Control+K"
      aria-label="Find or do"
      @click="$emit('find')"
    >
      <Search :size="16" class="hidden max-[699px]:inline" aria-hidden="true" /><span class="max-[699px]:hidden">Find or do…</span>
      <kbd class="kbd max-[699px]:hidden" aria-hidden="true">Ctrl K</kbd>
    </button>
    <Menu as="div" class="relative">
      <MenuButton
        class="grid h-[30px] w-[30px] place-items-center rounded-full bg-plume-wash text-xs font-bold text-plume"
        :aria-label="`${session.me?.name}, own menu`"
        >{{ session.me?.initials }}</MenuButton
      >
      <MenuItems class="absolute right-0 z-40 mt-1 w-60 rounded-sheet border border-line bg-paper py-1 shadow-lg">
        <div class="border-b border-line-2 px-3 py-2">
          <b>{{ session.me?.name }}</b><br /><span class="text-ink-2">{{ session.me?.role }}</span>
        </div>
        <MenuItem v-if="session.may('firm.set-up')" v-slot="{ active }"
          ><RouterLink to="/set-up" class="block px-3 py-2" :class="active && 'bg-lagoon-wash'">Set-up</RouterLink></MenuItem
        >
        <MenuItem v-slot="{ active }"
          ><button type="button" class="block w-full px-3 py-2 text-left" :class="active && 'bg-lagoon-wash'" @click="leave(false)">
            Sign out
          </button></MenuItem
        >
        <MenuItem v-slot="{ active }"
          ><button type="button" class="block w-full px-3 py-2 text-left" :class="active && 'bg-lagoon-wash'" @click="leave(true)">
            Sign out everywhere
          </button></MenuItem
        >
      </MenuItems>
    </Menu>
  </header>
</template>
