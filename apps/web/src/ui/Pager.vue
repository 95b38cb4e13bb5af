<script setup lang="ts">
import { watch } from 'vue'
import Btn from './Btn.vue'
const page = defineModel<number>({ required: true })
const props = defineProps<{ total: number; size: number; what: string }>()
// The last row of the last page may have gone: whoever stands there goes to the page that is the last now. Before anything was
// counted there is no last page.
watch(
  () => props.total,
  (total, was) => {
    const last = Math.max(1, Math.ceil(total / props.size))
    if ((total || was) && page.value > last) page.value = last
  },
  { immediate: true },
)
</script>

<template>
  <div class="flex items-center gap-2 border-t border-line-2 px-3.5 py-2 text-sm text-ink-2">
    <span>{{
      total ? `${(page - 1) * size + 1}–${Math.min(page * size, total)} of ${total.toLocaleString('en-US')} ${what}` : `No ${what}`
    }}</span>
    <span class="ml-auto flex gap-1.5" v-if="total > size">
      <Btn small :disabled="page <= 1" @click="page -= 1">Earlier</Btn>
      <Btn small :disabled="page * size >= total" @click="page += 1">Further</Btn>
    </span>
  </div>
</template>
