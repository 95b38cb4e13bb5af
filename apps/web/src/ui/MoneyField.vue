<script setup lang="ts">
import { ref, watch } from 'vue'
import Field from './Field.vue'
import { readMoney, showAmount } from './show'

const model = defineModel<number | null>({ required: true })
const props = defineProps<{
  label: string
  fault?: string | undefined
  hint?: string
  optional?: boolean
  autofocus?: boolean
  bare?: boolean
}>()
const text = ref(model.value === null ? '' : showAmount(model.value))
const wrong = ref('')

watch(model, (v) => {
  if (readMoney(text.value) !== v && !wrong.value) text.value = v === null ? '' : showAmount(v)
})
function take() {
  const cents = text.value.trim() ? readMoney(text.value) : null
  wrong.value = text.value.trim() && cents === null ? 'Give an amount like 1,250.00' : ''
  model.value = cents
}
function settle() {
  take()
  if (model.value !== null) text.value = showAmount(model.value)
}
const said = () => wrong.value || props.fault || undefined
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="said()" :hint="hint" :optional="optional" :bare="bare">
    <input
      :id="id"
      v-model="text"
      class="control text-right"
      inputmode="decimal"
      autocomplete="off"
      :aria-describedby="described"
      :aria-invalid="invalid"
      :data-unread="wrong ? label : undefined"
      :data-autofocus="autofocus || undefined"
      @input="take"
      @change="settle"
    />
  </Field>
</template>
