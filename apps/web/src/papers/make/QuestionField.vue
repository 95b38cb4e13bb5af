<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed } from 'vue'
import TypedField from '../../fields/TypedField.vue'
import { dayText, showMoney } from '../../ui/show'

/** One question that a template asks by itself, by its type; items of the matter are chosen from its lists. */
const model = defineModel<string | string[] | undefined>({ required: true })
const props = defineProps<{
  question: { key: string; text: string; type: string; choices: string[]; required: boolean; help: string }
  costs: readonly { id: number; day: Day; text: string; amount: number }[]
  time: readonly { id: number; day: Day; text: string; by: string; hours: number }[]
  fault: string
}>()
const several = computed(() => (Array.isArray(model.value) ? model.value : []))
const items = computed(() =>
  props.question.type === 'costs'
    ? props.costs.map((c) => ({ value: String(c.id), text: `${dayText(c.day)}: ${c.text}, ${showMoney(c.amount)}` }))
    : props.time.map((t) => ({ value: String(t.id), text: `${dayText(t.day)}: ${t.text}, ${t.by}, ${t.hours} h` })),
)
const toggle = (v: string) => (model.value = several.value.includes(v) ? several.value.filter((x) => x !== v) : [...several.value, v])
const all = () => (model.value = several.value.length === items.value.length ? [] : items.value.map((i) => i.value))
</script>

<template>
  <fieldset v-if="question.type === 'costs' || question.type === 'time'">
    <legend class="mb-1 text-sm font-medium text-ink-2">
      {{ question.text }}<span v-if="!question.required" class="font-normal text-ink-3"> (optional)</span>
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
  <TypedField
    v-else
    v-model="model"
    :type="question.type"
    :label="question.text"
    :choices="question.choices"
    :optional="!question.required"
    :hint="question.help"
    :fault="fault"
    none="Choose"
    :lines="2"
  />
</template>
