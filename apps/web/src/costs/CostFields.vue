<script setup lang="ts">
import { computed, watch } from 'vue'
import { asks } from '../api'
import { recent } from '../shown'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'
import type { CostForm } from './form'

/** What every cost has: its kind, what it comes to, to whom it was paid, and what it was for. */
const form = defineModel<CostForm>({ required: true })
const props = defineProps<{ fault: (path: string) => string; total?: boolean; focus?: boolean; dayLabel?: string }>()
const { data: kinds } = useLoad(() => recent(asks.costs.kinds.queryOptions()))
const offered = computed(() => (kinds.value ?? []).filter((k) => !k.retired))
const kind = computed(() => offered.value.find((k) => k.id === form.value.kindId))
watch(
  offered,
  (list) => {
    if (!form.value.kindId && list[0]) form.value.kindId = list[0].id
  },
  { immediate: true },
)
// What the kind does not have is not kept behind it.
watch(kind, (k) => {
  if (!k) return
  form.value.hard = k.hard
  if (!k.unitRate || props.total) form.value.units = ''
  else form.value.amount = null
  if (!k.hard) form.value.payee = ''
  form.value.billable = k.billable
})
</script>

<template>
  <ChoiceField
    v-model="form.kindId"
    label="Kind"
    :autofocus="focus ?? true"
    :fault="fault('kindId')"
    :options="offered.map((k) => ({ value: k.id, text: k.unitRate ? `${k.name}, $${k.unitRate} a ${k.unit}` : k.name }))"
  />
  <div class="grid stacks grid-cols-2 gap-3">
    <TextField
      v-if="kind?.unitRate && !total"
      v-model="form.units"
      :label="`Number of ${kind.unit}s`"
      hint="12 or 36.4"
      :fault="fault('units')"
    />
    <MoneyField v-else v-model="form.amount" :label="total ? 'Paid together' : 'Amount'" :fault="fault('amount')" />
    <DayField v-model="form.day" :label="dayLabel ?? 'On'" :fault="fault('day')" />
  </div>
  <TextField v-if="kind?.hard" v-model="form.payee" label="Paid to" :fault="fault('payee')" />
  <TextField v-model="form.text" label="For what, as the bill says it" :fault="fault('text')" />
</template>
