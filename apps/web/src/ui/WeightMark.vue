<script setup lang="ts">
import type { Weight } from '@heron/core/docket'
defineProps<{ weight: Weight }>()
const shapes: Record<Weight, string> = {
  strict: 'mark-strict',
  rule: 'mark-rule',
  'court order': 'mark-order',
  'firm practice': 'mark-practice',
  appointment: 'mark-appointment',
}
</script>

<template>
  <span class="mark" :class="shapes[weight]"
    ><span class="sr-only">{{ weight }}:</span></span
  >
</template>
