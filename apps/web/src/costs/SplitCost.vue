<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { keyOf } from '../ui/rows'
import { searchMatters } from '../ui/search'
import { plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import CostFields from './CostFields.vue'
import { emptyCost } from './form'

/** One payment for several matters, such as a courier's bill of the month. */
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const form = ref(emptyCost(session.today))
const from = ref<'operating' | 'owed'>('operating')
interface Part {
  matter: Choice | null
  amount: number | null
}
const parts = ref<Part[]>([
  { matter: null, amount: null },
  { matter: null, amount: null },
])
const { state, fault, send } = useForm(() => {
  const { kindId, amount, day, payee, text } = form.value
  return api.costs.split({
    kindId,
    amount: amount ?? 0,
    day: day ?? '',
    payee,
    text,
    paidFrom: from.value,
    parts: parts.value.map((p) => ({ matterId: p.matter?.id ?? 0, amount: p.amount })),
  })
})

async function save() {
  const { amount } = form.value
  const done = await send()
  if (!done) return
  notes.say(`${showMoney(amount ?? 0)} recorded on ${plural(done.ids.length, 'matter')}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="One payment for several matters"
    save="Record costs"
    :busy="state.busy"
    :message="state.said"
    :changed="form.text !== '' || parts.some((p) => p.matter)"
    @save="save"
    @close="emit('close')"
  >
    <CostFields v-model="form" :fault="fault" total />
    <ChoiceField
      v-if="form.hard"
      v-model="from"
      label="Paid from"
      :options="[
        { value: 'operating', text: 'The operating account' },
        { value: 'owed', text: 'Not paid yet: owed to the vendor' },
      ]"
    />
    <fieldset>
      <legend class="font-semibold">Matters</legend>
      <p class="text-ink-2">Where no amount is given, the rest is shared alike, to the cent.</p>
      <div v-for="(p, i) in parts" :key="keyOf(p)" class="mt-2 grid grid-cols-[1fr_120px_auto] items-end gap-2">
        <Picker v-model="p.matter" :label="`Matter ${i + 1}`" :search="searchMatters" :fault="fault(`parts.${i}.matterId`)" />
        <MoneyField v-model="p.amount" label="Part" optional :fault="fault(`parts.${i}.amount`)" />
        <Btn small :disabled="parts.length < 3" :aria-label="`Take matter ${i + 1} away`" @click="parts.splice(i, 1)">Take away</Btn>
      </div>
      <p v-if="fault('parts')" role="alert" class="mt-1 text-rust">{{ fault('parts') }}</p>
      <Btn class="mt-2" @click="parts.push({ matter: null, amount: null })">Add a matter</Btn>
    </fieldset>
  </SideSheet>
</template>
