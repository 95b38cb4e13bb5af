<script setup lang="ts">
import { computed } from 'vue'
import ActMenu from '../ui/ActMenu.vue'

/** A statement as a file, as it is shown. */
const props = defineProps<{ what: string; query: Record<string, string | number | null | undefined> }>()
const acts = computed(() =>
  (['pdf', 'xlsx', 'csv'] as const).map((format) => {
    const all = new URLSearchParams({ what: props.what, format })
    for (const [k, v] of Object.entries(props.query)) if (v !== null && v !== undefined && v !== '') all.set(k, String(v))
    return { text: { pdf: 'PDF', xlsx: 'Workbook (XLSX)', csv: 'CSV' }[format], to: `/api/books/file?${all}`, out: true }
  }),
)
</script>

<template><ActMenu text="As a file" label="As a file" :acts="acts" /></template>
