<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { accountKinds } from '@heron/contract'
import { computed, reactive, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type All = Answer<typeof api.setUp.accounts>
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.setUp.accounts())
const title = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const whole = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : -1)

const noBank = {
  id: 0,
  name: '',
  bank: '',
  ending: '',
  nextCheck: '1001',
  lastCheck: null as number | null,
  kind: 'operating' as string,
  code: '',
  liabilityCode: '',
  usual: false,
  client: null as Choice | null,
  maturesOn: null as Day | null,
  hasLedgers: false,
  staleDays: '180',
  unclaimedDays: '1095',
  twoPeople: false,
  nearDays: '5',
  printAtOnce: false,
}
const bank = reactive({ ...noBank })
const adding = ref(false)
const noAccount = {
  id: -1,
  code: '',
  name: '',
  kind: 'expense' as (typeof accountKinds)[number],
  role: null as string | null,
  parentId: null as number | null,
  closed: false,
}
const account = reactive({ ...noAccount })
const before = ref('')
const changed = computed(() => before.value !== JSON.stringify(bank.id || adding.value ? bank : account))
function editBank(b: All['banks'][number] | null) {
  adding.value = !b
  Object.assign(
    bank,
    noBank,
    b
      ? {
          ...b,
          nextCheck: String(b.nextCheck),
          staleDays: String(b.staleDays),
          nearDays: String(b.nearDays),
          unclaimedDays: String(b.unclaimedDays),
          client: b.clientId ? { id: b.clientId, text: b.client ?? '' } : null,
        }
      : {},
  )
  before.value = JSON.stringify(bank)
}
function editAccount(a: All['chart'][number] | null) {
  Object.assign(account, noAccount, a ?? { id: 0 })
  before.value = JSON.stringify(account)
}
async function finish(done: unknown, words: string) {
  if (!done) return
  bank.id = 0
  adding.value = false
  account.id = -1
  notes.say(words)
  await reload()
}
/** What only an account of clients' money has. */
const ofTrust = () => ({
  clientId: bank.kind === 'separate' ? (bank.client?.id ?? null) : null,
  maturesOn: bank.kind === 'separate' ? bank.maturesOn : null,
  staleDays: whole(bank.staleDays),
  unclaimedDays: whole(bank.unclaimedDays),
  twoPeople: bank.twoPeople,
  nearDays: whole(bank.nearDays),
  printAtOnce: bank.printAtOnce,
})
const { state, act, fault, send } = useForm(() => {
  if (account.id >= 0) {
    const own = { code: account.code.trim(), name: account.name, parentId: account.parentId }
    return account.id
      ? api.setUp.changeAccount({ id: account.id, ...own, closed: account.closed })
      : api.setUp.makeAccount({ ...own, kind: account.kind })
  }
  const own = {
    name: bank.name,
    bank: bank.bank,
    ending: bank.ending,
    nextCheck: whole(bank.nextCheck),
    usual: bank.usual,
    ...ofTrust(),
  }
  if (!adding.value) return api.setUp.changeBank({ id: bank.id, ...own })
  const kind = bank.kind as 'pooled' | 'separate' | 'operating'
  return api.setUp.makeBank({
    ...own,
    kind,
    code: bank.code.trim(),
    ...(kind !== 'operating' ? { liabilityCode: bank.liabilityCode.trim() } : {}),
  })
})
const saveBank = async () => finish(await send(), `${bank.name} kept`)
const saveAccount = async () => finish(await send(), `${account.code} ${account.name} kept`)
const clearing = ref<{ kind: All['clearing'][number]['kind']; days: string }[]>([])
const clearingBefore = ref('')
watch(data, (d) => {
  if (!d || (clearingBefore.value && clearingBefore.value !== JSON.stringify(clearing.value))) return
  clearing.value = d.clearing.map((c) => ({ kind: c.kind, days: String(c.courtDays) }))
  clearingBefore.value = JSON.stringify(clearing.value)
})
async function saveClearing() {
  const list = clearing.value.map((c) => ({ kind: c.kind as 'check', courtDays: whole(c.days) }))
  if (!(await act(() => api.setUp.setClearing({ clearing: list })))) return
  clearingBefore.value = JSON.stringify(clearing.value)
  notes.say('Clearing days kept; they hold from the next receipt on')
}
const rules = reactive<All['rules']>({ viaPooled: true, advance: 'trust', receiptFee: 0, receiptFeeTo: '' })
const rulesBefore = ref('')
const levied = computed({ get: () => rules.receiptFee || null, set: (v: number | null) => (rules.receiptFee = v ?? 0) })
watch(data, (d) => {
  if (!d || (rulesBefore.value && rulesBefore.value !== JSON.stringify(rules))) return
  Object.assign(rules, d.rules)
  rulesBefore.value = JSON.stringify(rules)
})
async function saveRules() {
  if (!(await act(() => api.setUp.setTrustRules({ ...rules })))) return
  rulesBefore.value = JSON.stringify(rules)
  notes.say('Kept; it holds from the next payment on')
}
type SetUp = Answer<typeof api.setUp.accounts>
const bankColumns: Column<SetUp['banks'][number]>[] = [
  { key: 'name', text: 'Account', grow: 1.2, wrap: true, narrow: 'title' },
  {
    key: 'kind',
    text: 'Kind',
    size: 150,
    wrap: true,
    quiet: true,
    value: (b) => `${b.kind === 'operating' ? 'operating' : `${b.kind} trust`}${b.usual ? ', usual' : ''}`,
  },
  { key: 'bank', text: 'Bank', wrap: true, quiet: true, value: (b) => `${b.bank}, ends in ${b.ending}` },
  { key: 'account', text: 'Booked to', wrap: true, quiet: true },
  { key: 'nextCheck', text: 'Next check', kind: 'number', size: 96, show: (b) => String(b.nextCheck) },
]
const chartColumns: Column<SetUp['chart'][number]>[] = [
  { key: 'code', text: 'Number', size: 84, sort: true },
  { key: 'name', text: 'Name', grow: 1.6, narrow: 'title', sort: true },
  { key: 'kind', text: 'Kind', size: 96, quiet: true, sort: true },
  { key: 'role', text: 'Application posts as', size: 150, quiet: true },
  {
    key: 'parentId',
    text: 'Stands under',
    size: 130,
    quiet: true,
    value: (a) => data.value?.chart.find((p) => p.id === a.parentId)?.name ?? '',
  },
  { key: 'closed', text: 'Closed', size: 76, quiet: true, value: (a) => (a.closed ? 'closed' : '') },
]
/** Where it may stand: under an open one of its kind. */
const parents = computed(() => [
  { value: null, text: 'Nothing: it stands by itself' },
  ...(data.value?.chart ?? [])
    .filter((a) => a.kind === account.kind && a.id !== account.id && (!a.closed || a.id === account.parentId))
    .map((a) => ({ value: a.id, text: `${a.code} ${a.name}` })),
])
</script>

<template>
  <SetUpPage hint="Where money is, what it is booked to, and when it counts as there.">
    <template #acts><Btn main @click="editAccount(null)">New account</Btn></template>
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <div v-if="data" class="grid stacks items-start gap-[18px] xl:grid-cols-[minmax(0,1fr)_280px]">
        <section class="sheet" aria-label="Bank accounts">
          <div class="flex items-center px-4 pt-3 pb-1">
            <h2>Bank accounts</h2>
            <Btn small class="ml-auto" @click="editBank(null)">New bank account</Btn>
          </div>
          <DataTable
            label="Bank accounts"
            name="banks"
            plain
            :rows="data.banks"
            :columns="bankColumns"
            :row-id="(b) => b.id"
            :open="editBank"
            :acts="(b) => [{ text: `Change ${b.name}`, act: () => editBank(b) }]"
          />
        </section>
        <div class="space-y-[18px] xl:row-span-2">
          <form
            class="sheet space-y-2.5 px-4 py-3"
            aria-label="Clearing days"
            @submit.prevent="saveClearing"
            @keydown.ctrl.enter="saveClearing"
          >
            <h2>Clears after, court days</h2>
            <TextField
              v-for="(c, i) in clearing"
              :key="c.kind"
              v-model="c.days"
              :label="title(c.kind)"
              :fault="fault(`clearing.${i}.courtDays`)"
            />
            <Btn :busy="state.busy" @click="saveClearing">Save</Btn>
          </form>
          <form
            class="sheet space-y-2.5 px-4 py-3"
            aria-label="Rules of trust money"
            @submit.prevent="saveRules"
            @keydown.ctrl.enter="saveRules"
          >
            <h2>Rules of trust money</h2>
            <label class="flex gap-2"
              ><input v-model="rules.viaPooled" type="checkbox" class="accent-ink" /> Money of a separate account is moved to the pooled one
              before a check is drawn</label
            >
            <ChoiceField
              v-model="rules.advance"
              label="A flat fee billed in advance"
              :options="[
                { value: 'trust', text: 'stays in trust until earned' },
                { value: 'income', text: 'is the firm’s once billed' },
              ]"
            />
            <MoneyField v-model="levied" label="Fee of each receipt" optional :fault="fault('receiptFee')" />
            <TextField v-model="rules.receiptFeeTo" label="Owed to" optional :fault="fault('receiptFeeTo')" />
            <p v-if="rules.receiptFee" class="text-ink-2">
              Charged to the matter as a cost when a receipt is posted, unless it is left out there;
              {{ rules.receiptFeeTo ? 'the firm owes it to those named' : 'owed to nobody, it is the firm’s own' }}.
            </p>
            <Btn :busy="state.busy" @click="saveRules">Save</Btn>
          </form>
        </div>
        <section class="sheet" aria-label="Chart of accounts">
          <h2 class="px-4 pt-3 pb-1">Chart of accounts</h2>
          <DataTable
            label="Chart of accounts"
            name="chart"
            :rows="data.chart"
            :columns="chartColumns"
            :row-id="(a) => a.id"
            :open="editAccount"
            :acts="(a) => [{ text: `Change ${a.code} ${a.name}`, act: () => editAccount(a) }]"
          />
        </section>
      </div>
    </State>
    <SideSheet
      v-if="bank.id || adding"
      :title="adding ? 'New bank account' : 'Bank account'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      :changed="changed"
      @save="saveBank"
      @close="((bank.id = 0), (adding = false))"
    >
      <ChoiceField
        v-if="adding"
        v-model="bank.kind"
        label="Kind"
        :options="[
          { value: 'operating', text: 'Operating: the firm’s own money' },
          { value: 'pooled', text: 'Pooled trust: money of many clients' },
          { value: 'separate', text: 'Separate trust: money of one client, with interest' },
        ]"
      />
      <TextField v-model="bank.name" label="Name" :fault="fault('name')" autofocus />
      <TextField v-model="bank.bank" label="Bank" :fault="fault('bank')" />
      <TextField v-model="bank.ending" label="Last four digits" :fault="fault('ending')" />
      <TextField
        v-model="bank.nextCheck"
        label="Next check"
        :fault="fault('nextCheck')"
        :hint="bank.lastCheck ? `The last one used is ${bank.lastCheck}.` : 'No check was used yet.'"
      />
      <template v-if="adding">
        <TextField
          v-model="bank.code"
          label="Number of its account in the chart"
          :fault="fault('code')"
          hint="Such as 1015; the account is made with it."
        />
        <TextField
          v-if="bank.kind !== 'operating'"
          v-model="bank.liabilityCode"
          label="Number of what is owed to clients"
          :fault="fault('liabilityCode')"
          hint="Such as 2015; a liability of its own."
        />
      </template>
      <template v-if="bank.kind === 'separate'">
        <Picker
          v-model="bank.client"
          label="Client"
          optional
          :search="searchContacts"
          :fault="fault('clientId')"
          hint="Left out, whoever’s money first comes there. No other client’s is taken."
        />
        <DayField v-model="bank.maturesOn" label="Its term ends on" optional :fault="fault('maturesOn')" />
      </template>
      <div class="grid stacks grid-cols-2 gap-3">
        <TextField v-model="bank.staleDays" label="A check is stale after, days" :fault="fault('staleDays')" />
        <TextField
          v-if="bank.kind !== 'operating'"
          v-model="bank.unclaimedDays"
          label="Unclaimed money is due after, days"
          :fault="fault('unclaimedDays')"
        />
        <TextField
          v-model="bank.nearDays"
          class="col-span-full"
          label="Near on a statement is within, days"
          :fault="fault('nearDays')"
          hint="Movements of the bank further apart are not taken for one of the book by their amount alone."
        />
      </div>
      <label class="flex gap-2"
        ><input v-model="bank.printAtOnce" type="checkbox" class="accent-ink" /> Checks go to print as soon as they are posted</label
      >
      <label v-if="bank.kind !== 'operating'" class="flex gap-2"
        ><input v-model="bank.twoPeople" type="checkbox" class="accent-ink" /> What is paid out of it is approved by a second person</label
      >
      <label class="flex gap-2"
        ><input v-model="bank.usual" type="checkbox" class="accent-ink" /> The usual one of its kind: offered first, and taken where nothing
        is said</label
      >
    </SideSheet>
    <SideSheet
      v-if="account.id >= 0"
      :title="account.id ? `${account.code} ${account.name}` : 'New account'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      :changed="changed"
      @save="saveAccount"
      @close="account.id = -1"
    >
      <TextField v-model="account.code" label="Number" :fault="fault('code')" autofocus />
      <TextField v-model="account.name" label="Name" :fault="fault('name')" />
      <ChoiceField
        v-if="!account.id"
        v-model="account.kind"
        label="Kind"
        :options="accountKinds.map((k) => ({ value: k, text: title(k) }))"
      />
      <ChoiceField v-model="account.parentId" label="Stands under" :options="parents" :fault="fault('parentId')" />
      <label v-if="account.id && !account.role" class="flex gap-2"
        ><input v-model="account.closed" type="checkbox" class="accent-ink" /> Closed: nothing more is posted to it</label
      >
      <p v-if="fault('closed')" role="alert" class="text-rust">{{ fault('closed') }}</p>
      <p v-if="account.role" class="text-ink-2">
        The application posts here by itself as {{ account.role }}; renaming it changes no figure.
      </p>
      <p v-else-if="account.id" class="text-ink-2">Its kind stays: reports of years that are closed stand on it.</p>
    </SideSheet>
  </SetUpPage>
</template>
