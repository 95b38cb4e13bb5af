<script setup lang="ts">
import { computed, ref } from 'vue'
import ContactPicker from '../../people/ContactPicker.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import type { Choice } from '../../ui/Picker.vue'
import TextField from '../../ui/TextField.vue'
import { dayText, showMoney } from '../../ui/show'

/** One question that a template asks by itself, by its type. */
const model = defineModel<string | string[] | undefined>({ required: true })
const props = defineProps<{
  question: { key: string; text: string; type: string; choices: string[]; required: boolean; help: string }
  costs: readonly { id: number; day: string; text: string; amount: number }[]
  time: readonly { id: number; day: string; text: string; by: string; hours: number }[]
  fault: string
}>()
const text = computed({ get: () => (typeof model.value === 'string' ? model.value : ''), set: (t: string) => (model.value = t) })
const day = computed({ get: () => text.value || null, set: (d: string | null) => (model.value = d ?? '') })
const several = computed(() => (Array.isArray(model.value) ? model.value : []))
const contact = ref<Choice | null>(null)
const items = computed(() =>
  props.question.type === 'costs'
    ? props.costs.map((c) => ({ value: String(c.id), text: `${dayText(c.day)}: ${c.text}, ${showMoney(c.amount)}` }))
    : props.question.type === 'time'
      ? props.time.map((t) => ({ value: String(t.id), text: `${dayText(t.day)}: ${t.text}, ${t.by}, ${t.hours} h` }))
      : props.question.choices.map((c) => ({ value: c, text: c })),
)
const toggle = (v: string) => (model.value = several.value.includes(v) ? several.value.filter((x) => x !== v) : [...several.value, v])
const all = () => (model.value = several.value.length === items.value.length ? [] : items.value.map((i) => i.value))
const optional = computed(() => !props.question.required)
</script>

<template>
  <DayField
    v-if="question.type === 'date'"
    v-model="day"
    :label="question.text"
    :fault="fault"
    :hint="question.help"
    :optional="optional"
  />
  <ChoiceField
    v-else-if="question.type === 'choice'"
    v-model="text"
    :label="question.text"
    :fault="fault"
    :hint="question.help"
    :optional="optional"
    :options="[{ value: '', text: 'Choose' }, ...items]"
  />
  <ChoiceField
    v-else-if="question.type === 'yes/no'"
    v-model="text"
    :label="question.text"
    :fault="fault"
    :hint="question.help"
    :optional="optional"
    :options="[
      { value: '', text: 'Choose' },
      { value: 'yes', text: 'Yes' },
      { value: 'no', text: 'No' },
    ]"
  />
  <ContactPicker
    v-else-if="question.type === 'contact'"
    :model-value="contact"
    :label="question.text"
    :fault="fault"
    :hint="question.help"
    :optional="optional"
    @update:model-value="((contact = $event), (model = $event ? String($event.id) : ''))"
  />
  <fieldset v-else-if="['choices', 'costs', 'time'].includes(question.type)">
    <legend class="mb-1 text-sm font-medium text-ink-2">
      {{ question.text }}<span v-if="optional" class="font-normal text-ink-3"> (optional)</span>
    </legend>
    <p v-if="!items.length" class="text-ink-3">There are none on this matter.</p>
    <button v-else-if="items.length > 3" type="button" class="text-sm underline" @click="all()">
      All or none<span class="sr-only">: {{ question.text }}</span>
    </button>
    <div class="max-h-56 overflow-auto">
      <label v-for="i in items" :key="i.value" class="flex gap-2 py-[2px]"
        ><input type="checkbox" class="mt-[3px] accent-ink" :checked="several.includes(i.value)" @change="toggle(i.value)" />
        {{ i.text }}</label
      >
    </div>
    <p v-if="fault" class="text-sm text-rust">{{ fault }}</p>
    <p v-else-if="question.help" class="text-sm text-ink-3">{{ question.help }}</p>
  </fieldset>
  <TextField
    v-else
    v-model="text"
    :label="question.text"
    :fault="fault"
    :hint="question.help"
    :optional="optional"
    v-bind="question.type === 'text' ? { lines: 2 } : {}"
  />
</template>
