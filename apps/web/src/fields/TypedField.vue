<script setup lang="ts">
import { dayOr } from '../address'
import { type Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import ContactPicker from '../people/ContactPicker.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import Field from '../ui/Field.vue'
import type { Choice } from '../ui/Picker.vue'
import TextField from '../ui/TextField.vue'

/** The field of a type: for what the firm defined for its records, and for what a template asks. Answers are texts. */
const model = defineModel<string | string[] | undefined>({ required: true })
const props = defineProps<{
  type: string
  label: string
  choices: readonly string[]
  otherAllowed?: boolean | undefined
  optional?: boolean | undefined
  hint?: string | undefined
  fault?: string | undefined
  /** What stands in a list where nothing is chosen. */
  none: string
  lines?: number | undefined
}>()
const one = computed({
  get: () => (Array.isArray(model.value) ? (model.value[0] ?? '') : (model.value ?? '')),
  set: (v: string) => (model.value = v),
})
const many = computed({
  get: () => (Array.isArray(model.value) ? model.value : model.value ? [model.value] : []),
  set: (v: string[]) => (model.value = v),
})
const own = computed({
  get: () => many.value.find((x) => !props.choices.includes(x)) ?? '',
  set: (v: string) => (many.value = [...many.value.filter((x) => props.choices.includes(x)), ...(v ? [v] : [])]),
})
const day = computed({ get: () => dayOr(one.value, null), set: (v: Day | null) => (model.value = v ?? '') })
const contact = ref<Choice | null>(null)
watch(
  one,
  async (id) => {
    if (props.type !== 'contact' || String(contact.value?.id ?? '') === id) return
    if (!id) return (contact.value = null)
    const found = await api.people.get({ id: Number(id) }).catch(() => null)
    // Another may have been chosen before this one was found.
    if (one.value === id) contact.value = found && { id: found.id, text: found.name }
  },
  { immediate: true },
)
const choose = (c: Choice | null) => {
  contact.value = c
  model.value = c ? String(c.id) : ''
}
const options = computed(() =>
  props.type === 'yes/no'
    ? [
        { value: 'yes', text: 'Yes' },
        { value: 'no', text: 'No' },
      ]
    : props.choices.map((c) => ({ value: c, text: c })),
)
const about = computed(() => ({ label: props.label, fault: props.fault, hint: props.hint, optional: props.optional }))
</script>

<template>
  <DayField v-if="type === 'date'" v-model="day" v-bind="about" />
  <ContactPicker v-else-if="type === 'contact'" :model-value="contact" v-bind="about" @update:model-value="choose" />
  <ChoiceField
    v-else-if="type === 'yes/no' || (type === 'choice' && !otherAllowed)"
    v-model="one"
    v-bind="about"
    :options="[{ value: '', text: none }, ...options]"
  />
  <Field v-else-if="type === 'choices'" v-slot="{ id, described }" v-bind="about">
    <div :id="id" role="group" :aria-label="label" :aria-describedby="described" class="flex flex-wrap gap-x-3">
      <label v-for="c in choices" :key="c" class="flex items-center gap-1.5"
        ><input v-model="many" type="checkbox" :value="c" class="accent-ink" /> {{ c }}</label
      >
      <input v-if="otherAllowed" v-model="own" class="control mt-1" :aria-label="`${label}, other`" placeholder="Other" />
    </div>
  </Field>
  <TextField
    v-else
    v-model="one"
    v-bind="about"
    :list="type === 'choice' ? [...choices] : undefined"
    :placeholder="type === 'money' ? '$' : undefined"
    :lines="type === 'text' ? lines : undefined"
  />
</template>
