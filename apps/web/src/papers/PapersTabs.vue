<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '../shell/session'
import PartTabs from '../ui/PartTabs.vue'

const session = useSession()
const tabs = computed(() =>
  [
    { to: '/papers', name: 'Find', shown: true },
    { to: '/papers/mail', name: 'E-mail to file', shown: session.may('papers.change') },
    { to: '/papers/to-read', name: 'To read', shown: true },
    { to: '/papers/templates', name: 'Templates', shown: true },
    { to: '/papers/fields', name: 'Fields', shown: true },
  ].filter((t) => t.shown),
)
</script>

<template>
  <PartTabs label="Papers" :tabs="tabs" />
</template>
