<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'

/** The pages of one part of the application. The first is the part's own page: those below it have their own tabs. */
const props = defineProps<{ label: string; tabs: { to: string; name: string }[] }>()
const route = useRoute()
const here = (to: string) => route.path === to || (to !== props.tabs[0]?.to && route.path.startsWith(`${to}/`))
// On a narrow screen the tabs go on beyond its edge: the one that is open is seen.
const bar = ref<HTMLElement | null>(null)
onMounted(() => bar.value?.querySelector('[aria-current]')?.scrollIntoView?.({ block: 'nearest', inline: 'center' }))
</script>

<template>
  <nav ref="bar" :aria-label="label" class="mb-3 flex gap-4 overflow-x-auto border-b border-line whitespace-nowrap print:hidden">
    <RouterLink
      v-for="t in tabs"
      :key="t.to"
      :to="t.to"
      :aria-current="here(t.to) ? 'page' : undefined"
      class="border-b-2 pb-1.5"
      :class="here(t.to) ? 'border-b-bill font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'"
      >{{ t.name }}</RouterLink
    >
  </nav>
</template>
