<script setup lang="ts">
/** What an act of the log says, and what it changed: as it was, struck out, then as it is. */
defineProps<{ text: string; changes: { what: string; was: string; became: string }[] }>()
</script>

<template>
  {{ text }}
  <span v-for="c in changes" :key="c.what" class="block text-sm text-ink-2"
    >{{ c.what
    }}<template v-if="c.was"
      >: <s>{{ c.was }}</s></template
    ><template v-if="c.was && c.became"> → </template><template v-else-if="c.became">: </template>{{ c.became }}</span
  >
</template>
