<script setup lang="ts">
/** How far work in the background is, in percent. */
defineProps<{ label: string; percent: number }>()
</script>

<template>
  <span role="status"
    >{{ label }} … {{ percent }} %<progress class="ml-2 align-middle" max="100" :value="percent" :aria-label="label"></progress
  ></span>
</template>
