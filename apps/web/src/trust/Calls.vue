<script setup lang="ts">
import { ref } from 'vue'
import { useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'
import { useAct } from '../use'
import CallSheet from './CallSheet.vue'

/** Calls on account: of the firm by state, or of one client or matter. */
const props = defineProps<{ clientId?: number; matter?: { id: number; clientId: number; client: string; name: string } }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
type State = '' | 'open' | Call['state']
const ofFirm = !props.clientId && !props.matter
const { only, page } = useFiltered({ only: (ofFirm ? 'open' : '') as State, page: 1 }, ofFirm)
const { data, problem, loading, reload } = useShown(() =>
  asks.calls.list.queryOptions({
    input: {
      state: only.value,
      page: page.value,
      size: 50,
      ...(props.clientId ? { clientId: props.clientId } : {}),
      ...(props.matter ? { matterId: props.matter.id } : {}),
    },
  }),
)
type Call = Answer<typeof api.calls.list>['rows'][number]
const editing = ref<{ call: Call | null } | null>(null)
const handed = ref('')
const taking = ref<Call | null>(null)
const receipts = useShown(() => (taking.value ? asks.calls.receipts.queryOptions({ input: { id: taking.value.id } }) : null))
async function send(c: Call) {
  const done = await act(() => api.calls.send({ id: c.id }))
  if (!done) return
  if (done.to) notes.say(`Sent to ${done.to}`)
  else handed.value = done.url
  session.changed()
}
async function link(c: Call) {
  const done = await act(() => api.calls.link({ id: c.id }))
  if (done) handed.value = done.url
}
async function withdraw(c: Call) {
  if (!(await sure('Withdraw the call', 'Its links end, and it is reminded of no more.', 'Withdraw it'))) return
  if (!(await act(() => api.calls.withdraw({ id: c.id })))) return
  notes.say('Withdrawn; its links have ended')
  session.changed()
}
async function took(receiptId: number) {
  if (!taking.value || !(await act(() => api.calls.took({ id: taking.value!.id, receiptId })))) return
  notes.say('Counted for the call')
  session.changed()
}
function acts(c: Call): Act[] {
  if (!session.may('trust.post')) return []
  if (c.state === 'draft')
    return [
      { text: c.email ? `Send to ${c.email}` : 'Send: make a link to hand over', act: () => send(c) },
      { text: 'Change', act: () => (editing.value = { call: c }) },
      { text: 'Withdraw', act: () => withdraw(c) },
    ]
  if (c.state === 'paid' || c.state === 'withdrawn') return [{ text: 'What came for it', act: () => (taking.value = c) }]
  return [
    { text: 'Remind now', act: () => send(c), disabled: !c.email },
    { text: 'A link to hand over', act: () => link(c) },
    { text: 'A receipt came for it', act: () => (taking.value = c) },
    { text: 'Withdraw', act: () => withdraw(c) },
  ]
}
const columns: Column<Call>[] = [
  { key: 'client', text: 'From', grow: 1.2, narrow: 'title' },
  { key: 'matter', text: 'Matter', grow: 1.2, quiet: true, value: (c) => c.matter ?? 'the client as a whole' },
  { key: 'sentOn', text: 'Sent', kind: 'day', quiet: true },
  { key: 'dueOn', text: 'Due', kind: 'day' },
  { key: 'state', text: 'State', size: 96 },
  { key: 'amount', text: 'Asked', kind: 'money', quiet: true },
  { key: 'paid', text: 'Paid', kind: 'money', quiet: true },
  { key: 'open', text: 'Open', kind: 'money', strong: true },
]
const tone = (s: Call['state']) =>
  s === 'late'
    ? 'bg-rust-wash text-rust'
    : s === 'paid'
      ? 'bg-lagoon-wash text-lagoon'
      : s === 'draft' || s === 'part paid'
        ? 'bg-bill-wash text-bill-ink'
        : 'bg-mist text-ink-2'
const states: { value: State; text: string }[] = [
  { value: 'open', text: 'Still asked for' },
  { value: '', text: 'All' },
  ...(['draft', 'sent', 'seen', 'part paid', 'late', 'paid', 'withdrawn'] as const).map((value) => ({ value, text: value })),
]
</script>

<template>
  <section class="sheet" aria-label="Calls on account">
    <div class="flex flex-wrap items-end gap-3 px-4 pt-3 pb-1">
      <h2 class="pb-1.5">Calls on account</h2>
      <div class="w-44"><ChoiceField v-model="only" label="Which" :options="states" /></div>
      <p v-if="data?.open" class="pb-1.5 text-ink-2">{{ showMoney(data.open) }} is still asked for</p>
      <Btn v-if="session.may('trust.post')" class="ml-auto" @click="editing = { call: null }">New call</Btn>
    </div>
    <p v-if="state.message" role="alert" class="bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
    <DataTable
      label="Calls on account"
      name="calls"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(c) => c.id"
      :acts="acts"
      :loading="loading"
      :problem="problem"
      @again="reload()"
    >
      <template #empty>No call of this kind. A call asks a client for money that is held in trust.</template>
      <template #cell-state="{ row: c }"
        ><span class="tag" :class="tone(c.state)" :title="c.fault || undefined">{{ c.state }}{{ c.fault ? ' !' : '' }}</span></template
      >
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="calls" /></template>
    </DataTable>
    <CallSheet
      v-if="editing"
      :call="editing.call"
      :from="
        props.matter
          ? { client: { id: props.matter.clientId, text: props.matter.client }, matter: { id: props.matter.id, text: props.matter.name } }
          : null
      "
      @close="editing = null"
    />
    <SideSheet v-if="handed" title="A link to hand over" @close="handed = ''">
      <p>Whoever has it sees the call and can pay it. It is shown once.</p>
      <input
        :value="handed"
        readonly
        class="w-full rounded-control border border-line px-3 py-2"
        aria-label="Address of the link"
        @focus="($event.target as HTMLInputElement).select()"
      />
    </SideSheet>
    <SideSheet v-if="taking" title="Receipts for the call" @close="taking = null">
      <p>{{ showMoney(taking.amount) }} from {{ taking.client }}: {{ showMoney(taking.open) }} open</p>
      <p v-if="state.message" role="alert" class="text-rust">{{ state.message }}</p>
      <p v-if="receipts.data.value && !receipts.data.value.length" class="text-ink-2">
        No receipt of this client, matter and account came since it was sent.
      </p>
      <div v-for="r in receipts.data.value ?? []" :key="r.id" class="flex items-center gap-3 border-t border-line-2 py-1.5">
        <span>Receipt {{ r.receiptNo }}, {{ dayText(r.day) }}, {{ r.depositor }}</span
        ><span class="ml-auto tabular-nums">{{ showMoney(r.amount) }}</span>
        <span v-if="r.taken" class="tag bg-lagoon-wash text-lagoon">counts</span>
        <Btn v-else small :busy="state.busy" :aria-label="`Receipt ${r.receiptNo} came for it`" @click="took(r.id)">It came for this</Btn>
      </div>
    </SideSheet>
  </section>
</template>
