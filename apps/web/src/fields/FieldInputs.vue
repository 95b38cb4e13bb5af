<script setup lang="ts">
import type { FieldGroupOut, FieldValues } from '@heron/contract'
import { isShown } from '@heron/core/fields'
import { computed } from 'vue'
import Btn from '../ui/Btn.vue'
import FieldInput from './FieldInput.vue'

const values = defineModel<FieldValues>({ required: true })
const props = defineProps<{ groups: FieldGroupOut[]; areaId: number | null; fault?: (path: string) => string }>()

/** Groups with something to ask for this area, each with its items and what is shown in them. */
const shown = computed(() =>
  props.groups
    .map((group) => {
      const count = group.repeating ? Math.max(1, ...group.fields.map((f) => values.value[f.id]?.length ?? 0)) : 1
      const items = Array.from({ length: count }, (_, item) =>
        group.fields.filter((f) => isShown(f, group, item, props.groups, values.value, props.areaId)),
      )
      return { group, items }
    })
    .filter((g) => g.items.some((i) => i.length)),
)
function set(fieldId: number, item: number, value: string | string[]) {
  const list = [...(values.value[fieldId] ?? [])]
  while (list.length <= item) list.push('')
  list[item] = value
  values.value = { ...values.value, [fieldId]: list }
}
function add(group: FieldGroupOut) {
  const first = group.fields[0]
  if (!first) return
  const count = Math.max(1, ...group.fields.map((f) => values.value[f.id]?.length ?? 0))
  set(first.id, count, '')
}
function takeOut(group: FieldGroupOut, item: number) {
  const next = { ...values.value }
  for (const f of group.fields) if (next[f.id]) next[f.id] = next[f.id]!.filter((_, i) => i !== item)
  values.value = next
}
</script>

<template>
  <fieldset v-for="{ group, items } in shown" :key="group.id" class="border-t border-line-2 pt-2">
    <legend class="float-left mb-1 w-full font-serif text-base font-semibold">{{ group.name }}</legend>
    <div v-for="(fields, item) in items" :key="item" class="clear-both grid stacks grid-cols-2 gap-x-3 gap-y-2 pb-2">
      <FieldInput
        v-for="f in fields"
        :key="f.id"
        :field="f"
        :item="group.repeating ? item + 1 : 0"
        :model-value="values[f.id]?.[item] ?? ''"
        :fault="fault?.(`fields.${f.id}.${item}`)"
        @update:model-value="set(f.id, item, $event)"
      />
      <div v-if="group.repeating && items.length > 1" class="self-end">
        <Btn small @click="takeOut(group, item)">Take out {{ item + 1 }}</Btn>
      </div>
    </div>
    <Btn v-if="group.repeating" small @click="add(group)">Another</Btn>
  </fieldset>
</template>
