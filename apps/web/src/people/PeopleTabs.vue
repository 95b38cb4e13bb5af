<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useSession } from '../shell/session'

const session = useSession()
const route = useRoute()
const tabs = computed(() =>
  [
    { to: '/people', name: 'Contacts', shown: true },
    { to: '/people/enquiries', name: 'Enquiries', shown: true },
    { to: '/people/conflicts', name: 'Conflict checks', shown: session.may('matters.open') },
    { to: '/people/import', name: 'Import', shown: session.may('people.change') },
  ].filter((t) => t.shown),
)
</script>

<template>
  <nav aria-label="Parts of people" class="mb-3 flex gap-4 border-b border-line">
    <RouterLink
      v-for="t in tabs"
      :key="t.to"
      :to="t.to"
      :aria-current="route.path === t.to ? 'page' : undefined"
      class="-mb-px border-b-2 pb-1.5"
      :class="route.path === t.to ? 'border-b-bill font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'"
      >{{ t.name }}</RouterLink
    >
  </nav>
</template>
