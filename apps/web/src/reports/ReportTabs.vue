<script setup lang="ts">
import { useRoute } from 'vue-router'
import { computed } from 'vue'
import PartTabs from '../ui/PartTabs.vue'
import { reports } from './reports'

const route = useRoute()
/** The report that is looked at stands behind the tab of reports; else the first of them. */
const report = computed(() => reports.find((r) => route.path === `/reports/${r.key}`)?.key ?? 'unbilled')
const tabs = computed(() => [
  { to: '/reports', name: 'For decision' },
  { to: '/reports/weeks', name: 'Weeks' },
  { to: '/reports/flow', name: 'Work to money' },
  { to: '/reports/owed', name: 'Receivables' },
  { to: `/reports/${report.value}`, name: 'More reports' },
  { to: '/reports/sent', name: 'Sent by themselves' },
])
</script>

<template><PartTabs label="Reports" :tabs="tabs" /></template>
