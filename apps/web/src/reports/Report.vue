<script setup lang="ts">
import type { ReportKey } from '@heron/contract'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import ReportPage from './ReportPage.vue'
import { reports } from './reports'

const route = useRoute()
const key = computed(() => (reports.find((r) => r.key === route.params['key'])?.key ?? 'unbilled') as ReportKey)
</script>

<template><ReportPage :key="key" :what="key" /></template>
