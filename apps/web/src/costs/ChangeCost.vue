<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

export type CostRow = Pick<
  Answer<typeof api.costs.list>['rows'][number],
  'id' | 'matterId' | 'matter' | 'text' | 'amount' | 'billable' | 'paidFrom' | 'receiptId' | 'receipt'
>
/** A cost that is not billed yet: corrected, moved to another matter, or reversed. */
const props = defineProps<{ cost: CostRow; how: 'correct' | 'reverse' }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const matter = ref<Choice | null>({ id: props.cost.matterId, text: props.cost.matter })
const text = ref(props.cost.text)
const billable = ref(props.cost.billable)
const receipt = ref<Choice | null>(props.cost.receiptId ? { id: props.cost.receiptId, text: props.cost.receipt ?? 'Receipt' } : null)
const reason = ref('')
const day = ref<Day | null>(null)
const papersOf = async (q: string): Promise<Choice[]> =>
  matter.value
    ? (await api.papers.list({ matterId: matter.value.id, q, size: 8 })).rows.map((p) => ({ id: p.id, text: p.name, hint: p.folder }))
    : []
const { state, fault, send } = useForm(() => {
  const { id } = props.cost
  return props.how === 'reverse'
    ? api.costs.reverse({ id, reason: reason.value, day: day.value })
    : api.costs.correct({
        id,
        matterId: matter.value?.id ?? 0,
        text: text.value,
        billable: billable.value,
        receiptId: matter.value?.id === props.cost.matterId ? (receipt.value?.id ?? null) : null,
        reason: reason.value,
      })
})

async function save() {
  const done = await send()
  if (!done) return
  notes.say(props.how === 'reverse' ? 'Cost reversed' : 'Corrected; what it was stays in the log')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="how === 'reverse' ? `Reverse ${showMoney(cost.amount)}` : `Cost of ${showMoney(cost.amount)}`"
    :save="how === 'reverse' ? 'Reverse' : 'Correct'"
    :busy="state.busy"
    :message="state.said"
    :changed="reason !== '' || text !== cost.text"
    @save="save"
    @close="emit('close')"
  >
    <template v-if="how === 'reverse'">
      <p>What it booked is turned round. The entry stays on record, struck out. To change the sum, reverse it and record it anew.</p>
      <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
      <DayField v-model="day" label="On" optional hint="Empty: the original’s date" :fault="fault('day')" />
    </template>
    <template v-else>
      <Picker v-model="matter" label="Matter" :search="searchMatters" :fault="fault('matterId')" />
      <TextField v-model="text" label="For what, as the bill says it" :fault="fault('text')" autofocus />
      <Picker
        v-if="matter?.id === cost.matterId"
        v-model="receipt"
        label="Receipt, a paper of the matter"
        optional
        :search="papersOf"
        :fault="fault('receiptId')"
      />
      <label v-if="cost.paidFrom !== 'trust'" class="flex items-center gap-2"
        ><input v-model="billable" type="checkbox" class="accent-ink" /> To be billed to the client</label
      >
      <p v-if="fault('billable')" role="alert" class="text-rust">{{ fault('billable') }}</p>
      <TextField v-model="reason" label="Why it is corrected" :fault="fault('reason')" />
    </template>
  </SideSheet>
</template>
