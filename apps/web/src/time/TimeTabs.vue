<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '../shell/session'
import PartTabs from '../ui/PartTabs.vue'

const session = useSession()
const tabs = computed(() =>
  [
    { to: '/time', name: 'Entries', shown: session.may('time.record') },
    { to: '/time/day', name: 'Day sheet', shown: session.may('time.record') },
    { to: '/time/week', name: 'Week', shown: session.may('time.record') },
    { to: '/time/all', name: session.may('bills.see') ? 'All time' : 'All my time', shown: true },
    { to: '/time/phrases', name: 'Phrases', shown: session.may('time.record') },
    { to: '/time/rates', name: 'Rates', shown: session.may('bills.review') },
    { to: '/time/costs', name: 'Costs', shown: session.may('costs.record') },
  ].filter((t) => t.shown),
)
</script>

<template>
  <PartTabs v-if="tabs.length > 1" label="Time and costs" :tabs="tabs" />
</template>
