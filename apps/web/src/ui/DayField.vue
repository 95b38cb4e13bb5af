<script setup lang="ts">
import { readDay, showDay } from '@heron/core/calendar'
import { ref, watch } from 'vue'
import { useSession } from '../shell/session'
import Field from './Field.vue'

const model = defineModel<string | null>({ required: true })
const props = defineProps<{ label: string; fault?: string | undefined; hint?: string; optional?: boolean; autofocus?: boolean }>()
const session = useSession()
const shown = (day: string | null) => (day ? showDay(day) : '')
const text = ref(shown(model.value))
const wrong = ref('')

watch(model, (v) => {
  if (readDay(text.value, session.today) !== v) text.value = shown(v)
})
function take() {
  const day = text.value.trim() ? readDay(text.value, session.today) : null
  wrong.value = text.value.trim() && !day ? 'Give a date like 25 Nov, 11/25/2026, today or +30' : ''
  model.value = day
}
function settle() {
  take()
  if (model.value) text.value = shown(model.value)
}
const said = () => props.fault || wrong.value || undefined
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="said()" :hint="hint" :optional="optional">
    <input
      :id="id"
      v-model="text"
      class="control"
      autocomplete="off"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :data-autofocus="autofocus || undefined"
      @input="take"
      @change="settle"
      @focus="($event.target as HTMLInputElement).select()"
    />
  </Field>
</template>
