<script setup lang="ts">
import PartTabs from '../ui/PartTabs.vue'

const tabs = [
  { to: '/docket', name: 'Dates' },
  { to: '/docket/free-hours', name: 'Free hours' },
  { to: '/docket/reports', name: 'Reports' },
  { to: '/docket/figures', name: 'Figures' },
  { to: '/docket/rules', name: 'Court rules' },
]
</script>

<template>
  <PartTabs label="Docket" :tabs="tabs" />
</template>
