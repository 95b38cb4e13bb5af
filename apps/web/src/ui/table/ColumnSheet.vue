<script setup lang="ts" generic="R">
import Btn from '../Btn.vue'
import SideSheet from '../SideSheet.vue'
import type { Column } from './columns'

/** Which columns a list shows; they stand in the order of the list of them, whatever was ticked first. */
const props = defineProps<{ columns: readonly Column<R>[]; keys: readonly string[] }>()
const emit = defineEmits<{ choose: [keys: string[] | null]; close: [] }>()
function toggle(key: string) {
  const next = props.keys.includes(key) ? props.keys.filter((k) => k !== key) : [...props.keys, key]
  emit(
    'choose',
    props.columns.map((c) => c.key).filter((k) => next.includes(k)),
  )
}
</script>

<template>
  <SideSheet title="Columns" @close="emit('close')">
    <label v-for="c in columns" :key="c.key" class="flex gap-2 border-t border-line-2 py-1">
      <input
        type="checkbox"
        class="accent-ink"
        :checked="c.fixed || keys.includes(c.key)"
        :disabled="c.fixed ?? false"
        @change="toggle(c.key)"
      />
      {{ c.text }}
    </label>
    <Btn @click="emit('choose', null)">The usual ones</Btn>
    <p class="text-ink-2">A column’s edge in the head can be dragged; a double click gives it back its own width.</p>
  </SideSheet>
</template>
