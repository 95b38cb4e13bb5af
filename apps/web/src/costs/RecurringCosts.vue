<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { typedNumber, useOpening } from '../use'
import CostFields from './CostFields.vue'
import { emptyCost } from './form'

/** Costs that are recorded by themselves each month, until they end. */
const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useShown(() => asks.costs.recurring.queryOptions())
type Row = Answer<typeof api.costs.recurring>[number]
const columns = computed((): Column<Row>[] => [
  { key: 'matter', text: 'Matter', grow: 1.2 },
  { key: 'text', text: 'For what', grow: 2, narrow: 'title' },
  { key: 'kindName', text: 'Kind', size: 150, quiet: true },
  { key: 'payee', text: 'Paid to', size: 150, quiet: true },
  { key: 'nextOn', text: 'Next on', kind: 'day' },
  { key: 'until', text: 'Until', kind: 'day', quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money' },
])
const making = ref(false)
const matter = ref<Choice | null>(null)
const form = ref(emptyCost(session.today))
const dayOfMonth = ref(String(Number(session.today.slice(8))))
const until = ref<Day | null>(null)
const from = ref<'operating' | 'owed'>('operating')
useOpening(making, () => {
  form.value = emptyCost(session.today)
  matter.value = until.value = null
  dayOfMonth.value = String(Number(session.today.slice(8)))
  from.value = 'operating'
})
const { state, act, fault, send } = useForm(() => {
  const { kindId, units, amount, payee, text, day } = form.value
  return api.costs.makeRecurring({
    matterId: matter.value?.id ?? 0,
    kindId,
    units,
    amount,
    payee,
    text,
    firstOn: day ?? '',
    dayOfMonth: typedNumber(dayOfMonth.value) ?? 0,
    until: until.value,
    paidFrom: from.value,
  })
})

async function save() {
  const made = await send()
  if (!made) return
  notes.say('It is recorded each month from now on')
  making.value = false
  session.changed()
}
async function end(r: Row) {
  if (!(await sure('End the recurring cost', `${r.text} is recorded by itself no more. What was recorded stays.`, 'End it'))) return
  if (!(await act(() => api.costs.endRecurring({ id: r.id })))) return
  notes.say(`${r.text} recurs no more`)
  session.changed()
}
</script>

<template>
  <div class="flex items-center gap-2 px-3.5 py-3">
    <p class="text-ink-2">Recorded by themselves on their day of each month.</p>
    <Btn class="ml-auto" main @click="making = true">Let a cost recur</Btn>
  </div>
  <p v-if="state.message && !making" role="alert" class="mx-3.5 mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">
    {{ state.message }}
  </p>
  <DataTable
    label="Costs that recur"
    name="recurring-costs"
    :rows="data ?? []"
    :columns="columns"
    :row-id="(r) => r.id"
    :loading="loading && !data"
    :problem="problem"
    :acts="(r) => [{ text: 'End', act: () => end(r) }]"
    @again="reload()"
  >
    <template #empty>No cost recurs.</template>
    <template #cell-text="{ row: r }"
      >{{ r.text }} <span v-if="r.fault" class="tag bg-rust-wash text-rust" :title="r.fault">stopped: {{ r.fault }}</span></template
    >
    <template #cell-nextOn="{ row: r }">{{ r.nextOn ? dayText(r.nextOn) : '' }}</template>
  </DataTable>
  <SideSheet
    v-if="making"
    title="A cost that recurs each month"
    save="Let it recur"
    :busy="state.busy"
    :message="state.said"
    :changed="form.text !== ''"
    @save="save"
    @close="making = false"
  >
    <Picker v-model="matter" label="Matter" :search="searchMatters" :fault="fault('matterId')" autofocus />
    <CostFields v-model="form" :fault="(p) => fault(p === 'day' ? 'firstOn' : p)" :focus="false" day-label="First on" />
    <ChoiceField
      v-if="form.hard"
      v-model="from"
      label="Paid from"
      :options="[
        { value: 'operating', text: 'The operating account' },
        { value: 'owed', text: 'Not paid yet: owed to the vendor' },
      ]"
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="dayOfMonth" label="Date of the month" hint="31: the month’s last day" :fault="fault('dayOfMonth')" />
      <DayField v-model="until" label="Until" optional :fault="fault('until')" />
    </div>
  </SideSheet>
</template>
