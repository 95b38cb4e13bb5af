<script setup lang="ts">
import Field from './Field.vue'
const model = defineModel<string>({ required: true })
defineProps<{
  label: string
  fault?: string
  hint?: string
  optional?: boolean
  lines?: number
  placeholder?: string
  type?: string
  autofocus?: boolean
  /** In a table, where the head says what it is: the label is there for readers only. */
  bare?: boolean
  list?: string[]
}>()
const listId = `list-${Math.random().toString(36).slice(2)}`
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="fault" :hint="hint" :optional="optional" :bare="bare">
    <textarea
      v-if="lines"
      :id="id"
      v-model="model"
      class="control"
      :rows="lines"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :placeholder="placeholder"
      :data-autofocus="autofocus || undefined"
      spellcheck="true"
    ></textarea>
    <input
      v-else
      :id="id"
      v-model="model"
      class="control"
      :type="type ?? 'text'"
      autocomplete="off"
      :list="list ? listId : undefined"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :placeholder="placeholder"
      :data-autofocus="autofocus || undefined"
    />
    <datalist v-if="list" :id="listId"><option v-for="x in list" :key="x" :value="x"></option></datalist>
  </Field>
</template>
