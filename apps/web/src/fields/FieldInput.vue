<script setup lang="ts">
import type { FieldGroupOut } from '@heron/contract'
import TypedField from './TypedField.vue'

defineProps<{ field: FieldGroupOut['fields'][number]; item: number; modelValue: string | string[]; fault?: string }>()
const emit = defineEmits<{ 'update:modelValue': [string | string[]] }>()
</script>

<template>
  <TypedField
    :model-value="modelValue"
    :type="field.type"
    :label="`${field.name}${item > 1 ? ` ${item}` : ''}`"
    :choices="field.choices"
    :other-allowed="field.otherAllowed"
    :optional="!field.required"
    :fault="fault"
    none="Not said"
    @update:model-value="emit('update:modelValue', $event ?? '')"
  />
</template>
