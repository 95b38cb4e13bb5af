<script setup lang="ts" generic="T extends string | number | boolean | null">
import Field from './Field.vue'
const model = defineModel<T>({ required: true })
defineProps<{
  label: string
  options: readonly { value: T; text: string }[]
  fault?: string
  hint?: string
  optional?: boolean
  autofocus?: boolean
  /** In a table, where the head says what it is: the label is there for readers only. */
  bare?: boolean
}>()
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="fault" :hint="hint" :optional="optional" :bare="bare">
    <select
      :id="id"
      v-model="model"
      class="control"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :data-autofocus="autofocus || undefined"
    >
      <option v-for="o in options" :key="String(o.value)" :value="o.value">{{ o.text }}</option>
    </select>
  </Field>
</template>
