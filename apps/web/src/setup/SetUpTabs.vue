<script setup lang="ts">
import { useRoute } from 'vue-router'

const route = useRoute()
const tabs = [
  { to: '/set-up', name: 'The firm' },
  { to: '/set-up/people', name: 'People and rates' },
  { to: '/set-up/leave', name: 'Leave and departure' },
  { to: '/set-up/areas', name: 'Areas and stages' },
  { to: '/set-up/fields', name: 'Fields' },
  { to: '/set-up/procedures', name: 'Procedures' },
  { to: '/set-up/lists', name: 'Lists and fees' },
]
const here = (to: string) => route.path === to || (to !== '/set-up' && route.path.startsWith(`${to}/`))
</script>

<template>
  <nav aria-label="Parts of the set-up" class="mb-3 flex gap-4 border-b border-line">
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
