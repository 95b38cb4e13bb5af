<script setup lang="ts">
import type { FieldGroupOut } from '@heron/contract'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import ContactPicker from '../people/ContactPicker.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import Field from '../ui/Field.vue'
import type { Choice } from '../ui/Picker.vue'
import TextField from '../ui/TextField.vue'

const props = defineProps<{ field: FieldGroupOut['fields'][number]; item: number; modelValue: string | string[]; fault?: string }>()
const emit = defineEmits<{ 'update:modelValue': [string | string[]] }>()
const label = computed(() => `${props.field.name}${props.item > 1 ? ` ${props.item}` : ''}`)
const one = computed({
  get: () => (Array.isArray(props.modelValue) ? (props.modelValue[0] ?? '') : props.modelValue),
  set: (v: string) => emit('update:modelValue', v),
})
const many = computed({
  get: () => (Array.isArray(props.modelValue) ? props.modelValue : props.modelValue ? [props.modelValue] : []),
  set: (v: string[]) => emit('update:modelValue', v),
})
const own = computed({
  get: () => many.value.find((x) => !props.field.choices.includes(x)) ?? '',
  set: (v: string) => (many.value = [...many.value.filter((x) => props.field.choices.includes(x)), ...(v ? [v] : [])]),
})
const day = computed({ get: () => one.value || null, set: (v: string | null) => emit('update:modelValue', v ?? '') })
const contact = ref<Choice | null>(null)
watch(
  one,
  async (id) => {
    if (props.field.type !== 'contact' || !id || String(contact.value?.id) === id) return
    const found = await api.people.get({ id: Number(id) }).catch(() => null)
    contact.value = found && { id: found.id, text: found.name }
  },
  { immediate: true },
)
watch(contact, (c) => props.field.type === 'contact' && emit('update:modelValue', c ? String(c.id) : ''))
</script>

<template>
  <DayField v-if="field.type === 'date'" v-model="day" :label="label" :optional="!field.required" :fault="fault" />
  <ContactPicker v-else-if="field.type === 'contact'" v-model="contact" :label="label" :optional="!field.required" :fault="fault" />
  <ChoiceField
    v-else-if="field.type === 'yes/no'"
    v-model="one"
    :label="label"
    :fault="fault"
    :options="[
      { value: '', text: 'Not said' },
      { value: 'yes', text: 'Yes' },
      { value: 'no', text: 'No' },
    ]"
  />
  <ChoiceField
    v-else-if="field.type === 'choice' && !field.otherAllowed"
    v-model="one"
    :label="label"
    :fault="fault"
    :options="[{ value: '', text: 'Not said' }, ...field.choices.map((c) => ({ value: c, text: c }))]"
  />
  <Field v-else-if="field.type === 'choices'" v-slot="{ id, described }" :label="label" :fault="fault">
    <div :id="id" role="group" :aria-label="label" :aria-describedby="described" class="flex flex-wrap gap-x-3">
      <label v-for="c in field.choices" :key="c" class="flex items-center gap-1.5"
        ><input v-model="many" type="checkbox" :value="c" class="accent-ink" /> {{ c }}</label
      >
      <input v-if="field.otherAllowed" v-model="own" class="control mt-1" :aria-label="`${label}, other`" placeholder="Other" />
    </div>
  </Field>
  <TextField
    v-else
    v-model="one"
    :label="label"
    :optional="!field.required"
    :fault="fault"
    :list="field.type === 'choice' ? field.choices : undefined"
    :placeholder="field.type === 'money' ? '$' : undefined"
  />
</template>
