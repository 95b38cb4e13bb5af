<script setup lang="ts">
import PageHead from '../ui/PageHead.vue'
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="There is no such page" />
    <p>
      The address may be mistyped, or what it named is not open to you.
      <RouterLink to="/today" class="text-lagoon underline">Go to Today</RouterLink>
    </p>
  </div>
</template>
