<script setup lang="ts">
import PartTabs from '../ui/PartTabs.vue'

const tabs = [
  { to: '/set-up', name: 'The firm' },
  { to: '/set-up/people', name: 'People and rates' },
  { to: '/set-up/leave', name: 'Leave and departure' },
  { to: '/set-up/areas', name: 'Areas and stages' },
  { to: '/set-up/fields', name: 'Fields' },
  { to: '/set-up/procedures', name: 'Procedures' },
  { to: '/set-up/lists', name: 'Lists and fees' },
]
</script>

<template>
  <PartTabs label="Parts of the set-up" :tabs="tabs" />
</template>
