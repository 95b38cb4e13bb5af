<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import MoneyField from '../ui/MoneyField.vue'
import type { Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import { someMoney, type Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'
import AccountPicker from './AccountPicker.vue'

/** The firm's own rules: lines of the bank with certain words are booked to an account. */
type Rule = Answer<typeof api.bank.rules>[number]
const props = defineProps<{ words?: string; way?: 'in' | 'out' }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.bank.rules())
const id = ref<number | null>(null)
const words = ref(props.words ?? '')
const way = ref<'in' | 'out'>(props.way ?? 'out')
const amount = ref<number | null>(null)
const account = ref<Choice | null>(null)
const memo = ref('')
function begin(r: Rule | null) {
  id.value = r?.id ?? null
  words.value = r?.words ?? ''
  way.value = r?.way ?? 'out'
  amount.value = r?.amount ?? null
  account.value = r ? { id: r.accountId, text: r.account } : null
  memo.value = r?.memo ?? ''
}
const { state, act, fault, send } = useForm(() => {
  const rule = {
    id: id.value,
    words: words.value,
    way: way.value,
    amount: amount.value,
    accountId: account.value?.id ?? 0,
    memo: memo.value,
  }
  return api.bank.saveRule(rule)
})

async function save() {
  if (!(await send())) return
  notes.say('Rule kept')
  begin(null)
  session.changed()
  await reload()
}
async function remove(r: Rule) {
  if (!(await sure('Take the rule out', `Lines with “${r.words}” are proposed by it no more. What it booked stays.`, 'Take it out'))) return
  if (!(await act(() => api.bank.removeRule({ id: r.id })))) return
  if (id.value === r.id) begin(null)
  session.changed()
  await reload()
}
const columns: Column<Rule>[] = [
  { key: 'words', text: 'Words of the bank', grow: 1.2, narrow: 'title' },
  { key: 'way', text: 'Money', size: 76, value: (r) => (r.way === 'in' ? 'in' : 'out') },
  { key: 'amount', text: 'Only', kind: 'money', size: 96, show: (r) => someMoney(r.amount ?? 0) },
  { key: 'account', text: 'Booked to', grow: 1 },
  { key: 'memo', text: 'As', grow: 1, quiet: true },
]
</script>

<template>
  <SideSheet
    title="Rules for lines of the bank"
    wide
    :save="id ? 'Save the rule' : 'Add the rule'"
    :busy="state.busy"
    :message="state.said"
    :waiting="loading && !data"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-3 gap-3">
      <TextField v-model="words" label="Words of the bank" hint="All of them, in any order" :fault="fault('words')" autofocus />
      <ChoiceField
        v-model="way"
        label="Money"
        :options="[
          { value: 'out', text: 'goes out' },
          { value: 'in', text: 'comes in' },
        ]"
      />
      <MoneyField v-model="amount" label="Only this amount" optional :fault="fault('amount')" />
    </div>
    <div class="grid stacks grid-cols-2 gap-3">
      <AccountPicker v-model="account" :fault="fault('accountId')" />
      <TextField v-model="memo" label="What it is" :fault="fault('memo')" />
    </div>
    <p class="text-ink-2">The first rule that fits is taken. Nothing is booked until somebody says so.</p>
    <DataTable
      label="Rules for lines of the bank"
      name="bank-rules"
      :rows="data ?? []"
      :columns="columns"
      :row-id="(r) => r.id"
      :acts="
        (r) => [
          { text: 'Change', act: () => begin(r) },
          { text: 'Take out', act: () => remove(r) },
        ]
      "
      :open="begin"
      :problem="problem"
      plain
      @again="reload()"
    >
      <template #empty>No rules yet.</template>
    </DataTable>
  </SideSheet>
</template>
