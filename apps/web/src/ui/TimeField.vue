<script setup lang="ts">
import { readTime, showTime } from '@heron/core/calendar'
import { ref, watch } from 'vue'
import Field from './Field.vue'

/** An hour of the day, typed as people write it: `14:00`, `2pm`, `2:30 pm`. The model is `HH:MM`, or empty. */
const model = defineModel<string>({ required: true })
const props = defineProps<{ label: string; fault?: string | undefined; hint?: string; optional?: boolean }>()
const shown = (time: string) => (time ? showTime(time) : '')
const text = ref(shown(model.value))
const wrong = ref('')

watch(model, (v) => {
  if (!wrong.value && (readTime(text.value) ?? '') !== v) text.value = shown(v)
})
function take() {
  const read = text.value.trim() ? readTime(text.value) : ''
  wrong.value = read === null ? 'Give an hour like 2:30 pm or 14:30' : ''
  model.value = read ?? ''
}
function settle() {
  take()
  if (!wrong.value) text.value = shown(model.value)
}
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="wrong || fault || undefined" :hint="hint" :optional="optional">
    <input
      :id="id"
      v-model="text"
      class="control"
      autocomplete="off"
      placeholder="2:00 pm"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :data-unread="wrong ? props.label : undefined"
      @input="take"
      @change="settle"
    />
  </Field>
</template>
