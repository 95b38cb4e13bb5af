<script setup lang="ts">
import { ref } from 'vue'
import Btn from './Btn.vue'
import ViewSheet from './table/ViewSheet.vue'
import { useFilters, type ViewState } from './views'

/** Named views of a page: of its filters, or of what it keeps itself (`state`). Lists have theirs in their own menu. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{ list: string; state?: ViewState }>()
const emit = defineEmits<{ choose: [ViewState] }>()
const filters = useFilters()
const choose = (view: ViewState) => (props.state ? emit('choose', view) : filters.choose(view))
const open = ref(false)
</script>

<template>
  <Btn v-bind="$attrs" @click="open = true">Views</Btn>
  <ViewSheet v-if="open" :list="list" :state="state ?? filters.read()" @choose="choose" @close="open = false" />
</template>
