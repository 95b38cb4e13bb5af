<script setup lang="ts">
import { useRoute } from 'vue-router'

/** The pages of one part of the application. The first is the part's own page: those below it have their own tabs. */
const props = defineProps<{ label: string; tabs: { to: string; name: string }[] }>()
const route = useRoute()
const here = (to: string) => route.path === to || (to !== props.tabs[0]?.to && route.path.startsWith(`${to}/`))
</script>

<template>
  <nav :aria-label="label" class="mb-3 flex gap-4 border-b border-line">
    <RouterLink
      v-for="t in tabs"
      :key="t.to"
      :to="t.to"
      :aria-current="here(t.to) ? 'page' : undefined"
      class="-mb-px border-b-2 pb-1.5"
      :class="here(t.to) ? 'border-b-bill font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'"
      >{{ t.name }}</RouterLink
    >
  </nav>
</template>
