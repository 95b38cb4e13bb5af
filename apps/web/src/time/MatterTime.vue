<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { dayText, showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import RecordTime from './RecordTime.vue'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const unbilled = ref<'yes' | 'no'>('yes')
const { data, problem, loading, reload } = useLoad(
  () => api.time.ofMatter({ id: props.matter.id, unbilled: unbilled.value }),
  [unbilled, () => session.tick],
)
const recording = ref(false)
const costing = ref(false)
const reversing = ref<number | null>(null)
const reason = ref('')
const cost = ref({
  day: session.today as string | null,
  kind: 'soft cost' as 'soft cost' | 'hard cost',
  text: '',
  amount: null as number | null,
  payee: '',
})
const money = session.may('bills.see')
async function keepCost() {
  const c = cost.value
  const made = await act(() =>
    api.time.recordCost({ id: props.matter.id, day: c.day ?? '', kind: c.kind, text: c.text, amount: c.amount ?? 0, payee: c.payee }),
  )
  if (!made) return
  notes.say(`Cost of ${showMoney(c.amount ?? 0)} recorded`)
  costing.value = false
  cost.value = { ...c, text: '', amount: null, payee: '' }
  session.changed()
}
async function reverse() {
  const id = reversing.value
  if (id === null || !(await act(() => api.time.reverse({ id, reason: reason.value })))) return
  notes.say('Time reversed')
  reversing.value = null
  session.changed()
}
</script>

<template>
  <div class="flex items-center gap-2 px-4 py-3">
    <h2>Time & costs</h2>
    <Switch
      v-model="unbilled"
      label="Which"
      :options="[
        { value: 'yes', text: 'Unbilled' },
        { value: 'no', text: 'All' },
      ]"
    />
    <span class="ml-auto flex gap-2"
      ><Btn v-if="session.may('costs.record')" @click="costing = true">Record a cost</Btn
      ><Btn v-if="session.may('time.record')" main @click="recording = true">Record time</Btn></span
    >
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.time.length && !data?.costs.length" @again="reload()">
    <template #empty>Nothing here yet.</template>
    <table class="list-table">
      <thead>
        <tr>
          <th>Date</th>
          <th>Who</th>
          <th>Work</th>
          <th>State</th>
          <th class="num">Hours</th>
          <th class="num">Rate</th>
          <th class="num">Amount</th>
          <th><span class="sr-only">Acts</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in data?.time" :key="t.id" :class="t.state === 'reversed' && 'text-ink-3 line-through'">
          <td class="whitespace-nowrap text-ink-2">{{ dayText(t.day) }}</td>
          <td class="text-ink-2" :title="t.who">{{ t.initials }}</td>
          <td>{{ t.text }}</td>
          <td class="whitespace-nowrap text-ink-2">{{ t.billed ? `billed ${t.billed}` : t.state }}</td>
          <td class="num">{{ showHours(t.minutes) }}</td>
          <td class="num text-ink-2" :title="t.rateOrigin">{{ showMoney(t.rate) }}</td>
          <td class="num">{{ t.charge === 'billable' ? showMoney(t.amount) : t.charge }}</td>
          <td class="num">
            <Btn
              v-if="t.state === 'posted' && !t.billed && (money || t.userId === session.me?.id)"
              small
              @click="((reversing = t.id), (reason = ''))"
              >Reverse</Btn
            >
          </td>
        </tr>
        <tr v-if="unbilled === 'yes' && money">
          <td colspan="6" class="text-ink-2">
            Posted and unbilled<template v-if="data?.more"> (newest {{ data.time.length }} shown)</template>
          </td>
          <td class="num font-semibold">{{ showMoney(data?.unbilled ?? 0) }}</td>
          <td></td>
        </tr>
      </tbody>
      <tbody v-if="data?.costs.length">
        <tr>
          <th colspan="8" class="font-serif text-base text-ink">Costs</th>
        </tr>
        <tr v-for="c in data.costs" :key="c.id">
          <td class="whitespace-nowrap text-ink-2">{{ dayText(c.day) }}</td>
          <td></td>
          <td>{{ c.text }}</td>
          <td class="text-ink-2">{{ c.billed ? `billed ${c.billed}` : c.kind }}</td>
          <td></td>
          <td></td>
          <td class="num">{{ showMoney(c.amount) }}</td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </State>
  <RecordTime v-if="recording" :matter="{ id: matter.id, text: matter.name }" @close="recording = false" />
  <SideSheet
    v-if="costing"
    title="Record a cost"
    save="Record cost"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="cost.text !== ''"
    @save="keepCost"
    @close="costing = false"
  >
    <ChoiceField
      v-model="cost.kind"
      label="Kind"
      autofocus
      :options="[
        { value: 'soft cost', text: 'The firm’s own: copies, mileage' },
        { value: 'hard cost', text: 'Paid to someone from operating' },
      ]"
    />
    <MoneyField v-model="cost.amount" label="Amount" :fault="fault('amount')" />
    <DayField v-model="cost.day" label="On" :fault="fault('day')" />
    <TextField v-model="cost.text" label="For what" :fault="fault('text')" />
    <TextField v-if="cost.kind === 'hard cost'" v-model="cost.payee" label="Paid to" :fault="fault('payee')" />
  </SideSheet>
  <SideSheet
    v-if="reversing"
    title="Reverse time"
    save="Reverse"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    @save="reverse"
    @close="reversing = null"
  >
    <p>A mirrored entry is posted on the original’s date. The original stays on record, linked to it.</p>
    <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
  </SideSheet>
</template>
