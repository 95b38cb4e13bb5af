<script setup lang="ts">
import { hasContingentFee, hasPortions } from '@heron/core/billing'
import { watch } from 'vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { showMoney } from '../ui/show'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { arrangementOptions, type TypedArrangement } from './arranging'
import FlatFee from './FlatFee.vue'

/** How a matter is paid for: the arrangement, its fees of set amounts, and its part of what is recovered. */
const model = defineModel<TypedArrangement>({ required: true })
const props = defineProps<{
  fault: (path: string) => string
  stages: readonly { id: number; name: string }[]
  /** The firm's list of fees. */
  fees: readonly { id: number; name: string; portions: { label: string; amount: number }[] }[]
  autofocus?: boolean
}>()
function takeFee(id: number) {
  const fee = props.fees.find((f) => f.id === id)
  if (fee) model.value.flatFee = fee.portions.map((p) => ({ ...p }))
}
watch(
  () => model.value.billing,
  (b) => b === 'flat' && !model.value.flatFee.length && model.value.flatFee.push({ label: 'Flat fee', amount: null }),
)
</script>

<template>
  <div>
    <div class="grid stacks grid-cols-3 gap-3">
      <ChoiceField
        v-model="model.billing"
        label="Arrangement"
        :options="arrangementOptions"
        :fault="fault('billing')"
        :autofocus="autofocus"
      />
      <ChoiceField
        v-if="hasPortions(model.billing)"
        :model-value="0"
        label="From the list of fees"
        :options="[{ value: 0, text: 'Typed below' }, ...fees.map((f) => ({ value: f.id, text: f.name }))]"
        @update:model-value="takeFee(Number($event))"
      />
      <ChoiceField
        v-if="hasContingentFee(model.billing)"
        v-model="model.contingent.feeOf"
        label="The fee is a part of"
        :options="[
          { value: 'gross', text: 'What is recovered' },
          { value: 'net of costs', text: 'What is left after costs' },
        ]"
      />
    </div>
    <template v-if="hasPortions(model.billing)">
      <FlatFee v-model="model.flatFee" :fault="fault" :stages="stages" />
      <p v-if="model.flatFee.length > 1" class="mt-1 text-ink-2">Together {{ showMoney(typedSum(model.flatFee.map((p) => p.amount))) }}</p>
    </template>
    <div v-if="hasContingentFee(model.billing)" class="mt-2" role="group" aria-label="Contingent fee">
      <div v-for="(s, i) in model.contingent.stages" :key="i" class="mt-1 grid stacks grid-cols-[1fr_140px_auto] items-end gap-3">
        <TextField v-model="s.label" :label="`Stage ${i + 1} of the recovery`" :fault="fault(`contingent.stages.${i}.label`)" />
        <TextField
          v-model="s.share"
          :label="`Its part ${i + 1}`"
          placeholder="1/3 or 40 %"
          :fault="fault(`contingent.stages.${i}.share`)"
        />
        <Btn small :aria-label="`Take out stage ${i + 1}`" @click="model.contingent.stages.splice(i, 1)">Take out</Btn>
      </div>
      <p v-if="fault('contingent')" class="mt-1 text-sm text-rust">{{ fault('contingent') }}</p>
      <Btn small class="mt-2" @click="model.contingent.stages.push({ label: '', share: '' })">Another stage</Btn>
    </div>
    <p v-if="model.billing === 'no charge' || model.billing === 'grant'" class="mt-2 text-ink-2">
      Time is recorded with its value and stands on no bill; costs are billed as each says.
    </p>
  </div>
</template>
