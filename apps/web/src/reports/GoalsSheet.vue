<script setup lang="ts">
import { weekdayNames, monthStart, type Day } from '@heron/core/calendar'
import { ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import SideSheet from '../ui/SideSheet.vue'
import { dayText } from '../ui/show'
import { someMoney, type Column } from '../ui/table/columns'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'

/** What timekeepers are to reach, and what their hours cost the firm, each from a day on. */
type Row = Answer<typeof api.oversight.goals>['rows'][number]
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.oversight.goals())
const userId = ref(0)
const from = ref<Day | null>(monthStart(session.today))
const basis = ref<'billable' | 'collected'>('billable')
const weekly = ref<number | null>(null)
const monthly = ref<number | null>(null)
const costRate = ref<number | null>(null)
const weekEnds = ref('5')
watch(data, (d) => d && (weekEnds.value = String(d.weekEnds)))
async function setWeekEnd() {
  if (!(await act(() => api.oversight.setWeekEnd({ weekEnds: Number(weekEnds.value) })))) return
  notes.say(`Weeks end on ${weekdayNames[Number(weekEnds.value) - 1]}`)
  session.changed()
  await reload()
}
const { state, act, fault, send } = useForm(() =>
  api.oversight.setGoal({
    userId: userId.value,
    from: from.value ?? '',
    basis: basis.value,
    weekly: weekly.value,
    monthly: monthly.value,
    costRate: costRate.value,
  }),
)

async function save() {
  if (!(await send())) return
  notes.say(`Goal of ${data.value?.people.find((p) => p.id === userId.value)?.name ?? ''} set`)
  userId.value = 0
  weekly.value = monthly.value = costRate.value = null
  session.changed()
  await reload()
}
function take(r: Row) {
  userId.value = r.userId
  from.value = r.from
  basis.value = r.basis
  weekly.value = r.weekly
  monthly.value = r.monthly
  costRate.value = r.costRate
}
async function remove(r: Row) {
  if (
    !(await sure(
      'Take the goal out',
      `The goal of ${r.name} from ${dayText(r.from)} on counts no more; the one before it holds again.`,
      'Take it out',
    ))
  )
    return
  if (!(await act(() => api.oversight.removeGoal({ userId: r.userId, from: r.from })))) return
  session.changed()
  await reload()
}
const columns: Column<Row>[] = [
  { key: 'name', text: 'Timekeeper', grow: 1.4, narrow: 'title' },
  { key: 'from', text: 'From', kind: 'day', size: 104 },
  { key: 'basis', text: 'Counts', size: 84, value: (r) => (r.basis === 'billable' ? 'value' : 'money') },
  { key: 'weekly', text: 'Week', kind: 'money', size: 100, show: (r) => someMoney(r.weekly ?? 0) },
  { key: 'monthly', text: 'Month', kind: 'money', size: 104, show: (r) => someMoney(r.monthly ?? 0) },
  { key: 'costRate', text: 'Hour costs', kind: 'money', size: 92, show: (r) => someMoney(r.costRate ?? 0) },
]
</script>

<template>
  <SideSheet
    title="Goals and weeks"
    wide
    save="Set the goal"
    :busy="state.busy"
    :message="state.said"
    :waiting="loading && !data"
    :changed="userId > 0"
    @save="save"
    @close="emit('close')"
  >
    <div class="flex items-end gap-2">
      <div class="w-44">
        <ChoiceField
          v-model="weekEnds"
          label="The firm’s week ends on"
          :options="weekdayNames.map((text, i) => ({ value: String(i + 1), text }))"
        />
      </div>
      <Btn v-if="data && weekEnds !== String(data.weekEnds)" @click="setWeekEnd">Set</Btn>
    </div>
    <div class="grid stacks grid-cols-3 gap-3">
      <ChoiceField
        v-model="userId"
        label="Timekeeper"
        :options="[{ value: 0, text: 'Choose' }, ...(data?.people ?? []).map((p) => ({ value: p.id, text: p.name }))]"
        :fault="fault('userId')"
        autofocus
      />
      <DayField v-model="from" label="From" :fault="fault('from')" />
      <ChoiceField
        v-model="basis"
        label="What counts"
        :options="[
          { value: 'billable', text: 'Value recorded' },
          { value: 'collected', text: 'Money collected' },
        ]"
      />
      <MoneyField v-model="weekly" label="Goal of a week" optional :fault="fault('weekly')" />
      <MoneyField v-model="monthly" label="Goal of a month" optional :fault="fault('monthly')" />
      <MoneyField v-model="costRate" label="What an hour costs" optional :fault="fault('costRate')" />
    </div>
    <p class="text-ink-2">
      Where only one of both is given, the other follows by working days. What an hour costs is used for profit by matter.
    </p>
    <DataTable
      label="Goals"
      name="goals"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(r) => `${r.userId} ${r.from}`"
      :acts="
        (r) => [
          { text: 'Take into the form', act: () => take(r) },
          { text: 'Take out', act: () => remove(r) },
        ]
      "
      :open="take"
      :problem="problem"
      plain
      @again="reload()"
    >
      <template #empty>No goals yet.</template>
    </DataTable>
  </SideSheet>
</template>
