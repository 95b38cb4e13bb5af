<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '../shell/session'
import PartTabs from '../ui/PartTabs.vue'

const session = useSession()
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
  <PartTabs label="Parts of people" :tabs="tabs" />
</template>
