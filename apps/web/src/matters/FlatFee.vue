<script setup lang="ts">
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { keyOf } from '../ui/rows'
import TextField from '../ui/TextField.vue'
import type { TypedPortion } from './arranging'

/** Portions of a flat fee that add up to the whole; where `stages` is given, each says when it is charged. */
const portions = defineModel<TypedPortion[]>({ required: true })
defineProps<{ fault: (path: string) => string; stages?: readonly { id: number; name: string }[] }>()
/** `opening`, `reached` when a person says so, or by a stage of the matter. */
const whenOf = (p: TypedPortion) => (p.stageId ? `stage ${p.stageId}` : (p.due ?? 'opening'))
function setWhen(p: TypedPortion, when: string) {
  p.due = when === 'opening' ? 'opening' : 'reached'
  p.stageId = when.startsWith('stage ') ? Number(when.slice(6)) : null
}
</script>

<template>
  <div class="mt-2">
    <div
      v-for="(p, i) in portions"
      :key="keyOf(p)"
      class="mt-1 grid stacks items-end gap-3"
      :class="stages ? 'grid-cols-[1fr_120px_190px_auto]' : 'grid-cols-[1fr_140px_auto]'"
    >
      <TextField v-model="p.label" :label="portions.length > 1 ? `Portion ${i + 1}` : 'Portion'" :fault="fault(`flatFee.${i}.label`)" />
      <MoneyField v-model="p.amount" :label="portions.length > 1 ? `Amount ${i + 1}` : 'Flat fee'" :fault="fault(`flatFee.${i}.amount`)" />
      <ChoiceField
        v-if="stages"
        :model-value="whenOf(p)"
        :label="portions.length > 1 ? `Charged ${i + 1}` : 'Charged'"
        :options="[
          { value: 'opening', text: 'At opening' },
          { value: 'reached', text: 'When it is reached' },
          ...stages.map((s) => ({ value: `stage ${s.id}`, text: `At stage: ${s.name}` })),
        ]"
        :fault="fault(`flatFee.${i}.stageId`)"
        @update:model-value="setWhen(p, String($event))"
      />
      <Btn small :aria-label="`Take out portion ${i + 1}`" @click="portions.splice(i, 1)">Take out</Btn>
    </div>
    <p v-if="fault('flatFee')" class="mt-1 text-sm text-rust">{{ fault('flatFee') }}</p>
    <Btn small class="mt-2" @click="portions.push({ label: '', amount: null })">Another portion</Btn>
  </div>
</template>
