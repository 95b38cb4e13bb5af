<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { computed } from 'vue'
import LineOfTime from './LineOfTime.vue'

/** A line of time for each matter that has dates, the one whose next date is nearest first. */
const props = defineProps<{ rows: DocketRow[] }>()
defineEmits<{ open: [row: DocketRow] }>()
const lines = computed(() => {
  const by = new Map<number, DocketRow[]>()
  for (const r of props.rows) by.set(r.matterId, [...(by.get(r.matterId) ?? []), r])
  return [...by.values()]
})
</script>

<template>
  <section v-for="l in lines" :key="l[0]!.matterId" class="border-t border-line-2 px-4 py-3 first:border-t-0">
    <h2 class="mb-1">
      <RouterLink :to="`/matters/${l[0]!.matterId}/docket`" class="hover:underline">{{ l[0]!.matter }}</RouterLink>
    </h2>
    <LineOfTime :label="`Line of time, ${l[0]!.matter}`" :rows="l" @open="$emit('open', $event)" />
  </section>
  <p v-if="!lines.length" class="px-4 py-6 text-ink-2">No dates in these court days.</p>
</template>
