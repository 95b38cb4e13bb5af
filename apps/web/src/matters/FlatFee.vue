<script setup lang="ts">
import Btn from '../ui/Btn.vue'
import MoneyField from '../ui/MoneyField.vue'
import TextField from '../ui/TextField.vue'

/** Portions of a flat fee that add up to the whole. */
const portions = defineModel<{ label: string; amount: number | null }[]>({ required: true })
defineProps<{ fault: (path: string) => string }>()
</script>

<template>
  <div class="mt-2">
    <div v-for="(p, i) in portions" :key="i" class="mt-1 grid stacks grid-cols-[1fr_140px_auto] items-end gap-3">
      <TextField v-model="p.label" :label="portions.length > 1 ? `Portion ${i + 1}` : 'Portion'" :fault="fault(`flatFee.${i}.label`)" />
      <MoneyField v-model="p.amount" :label="portions.length > 1 ? `Amount ${i + 1}` : 'Flat fee'" :fault="fault(`flatFee.${i}.amount`)" />
      <Btn small @click="portions.splice(i, 1)">Take out</Btn>
    </div>
    <Btn small class="mt-2" @click="portions.push({ label: '', amount: null })">Another portion</Btn>
  </div>
</template>
