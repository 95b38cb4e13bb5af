<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { receiptKinds } from '@heron/contract'
import { together } from '@heron/core/ledger'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import PageHead from '../ui/PageHead.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts, searchMatters } from '../ui/search'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useUnsaved } from '../ui/unsaved'
import { useForm } from '../ui/form'
import { useFirstField, useLoad } from '../use'
import DataTable from '../ui/DataTable.vue'
import type { Act } from '../ui/ActMenu.vue'
import type { Column } from '../ui/table/columns'
import PayOut from './PayOut.vue'

interface Line {
  id: number | null
  receiptNo: number | null
  client: Choice | null
  matter: Choice | null
  depositor: string
  kind: (typeof receiptKinds)[number]
  reference: string
  text: string
  amount: number | null
  fee: boolean
  /** Where it stood in the sheet as it was read; null for a new one. */
  from: number | null
}
const blank = (): Line => ({
  id: null,
  receiptNo: null,
  client: null,
  matter: null,
  depositor: '',
  kind: 'check',
  reference: '',
  text: '',
  amount: null,
  fee: true,
  from: null,
})

const session = useSession()
useFirstField()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const id = route.params['id'] === 'new' ? null : Number(route.params['id'])
type Read = Answer<typeof api.trust.sheet>
const { data: accounts } = useLoad(() => api.trust.accounts())
const sheet = useShown(() => (id ? asks.trust.sheet.queryOptions({ input: { id } }) : null))
const bankAccountId = ref(0)
const day = ref<Day | null>(session.today)
const control = ref<number | null>(null)
const lines = ref<Line[]>([blank()])

watch(accounts, (list) => (bankAccountId.value ||= list?.find((a) => a.kind === 'pooled')?.id ?? 0))
/** The sheet as it was read: what was typed since is not written over by a later reading. */
let asRead = ''
const version = ref<number | undefined>()
const changed = () => editable.value && JSON.stringify(input()) !== asRead
const lineOf = (r: Read['receipts'][number], from: number): Line => ({
  id: r.id,
  receiptNo: r.receiptNo,
  client: r.clientId ? { id: r.clientId, text: r.client } : null,
  matter: r.matterId ? { id: r.matterId, text: r.matter ?? '' } : null,
  depositor: r.depositor,
  kind: r.kind,
  reference: r.reference,
  text: r.text,
  amount: r.amount,
  // Without a matter there is none to leave out.
  fee: r.fee > 0 || !r.matterId,
  from,
})
/** What a line says, without where it stands. */
const said = ({ id: _i, receiptNo: _r, from: _f, ...own }: Line) => own
let base: { lines: Line[]; control: number | null; day: Day | null } = { lines: [], control: null, day: null }
function show(s: Read) {
  version.value = s.version
  bankAccountId.value = s.bankAccountId
  day.value = s.day
  control.value = s.controlTotal
  lines.value = s.receipts.map(lineOf)
  asRead = JSON.stringify(input())
  base = { lines: s.receipts.map(lineOf), control: s.controlTotal, day: s.day }
}
watch(sheet.data, (s) => {
  if (!s || (asRead && s.state === 'draft' && changed())) return
  show(s)
})
const mixed = ref('')
/** Another has changed the sheet since it was read: theirs and mine are put together, and nothing of either is written over. */
async function putTogether() {
  const s = await api.trust.sheet({ id: id! })
  const mine = { lines: lines.value, control: control.value, day: day.value }
  const { control: wasControl, day: wasDay } = base
  const put = together(base.lines.map(said), mine.lines.map((l) => ({ from: l.from, line: said(l) })), s.receipts.map(lineOf).map(said)) // prettier-ignore
  show(s)
  if (s.state === 'posted') return void (mixed.value = '')
  const theirs = lines.value
  lines.value = put.lines.map(({ line, at }) => ({ ...(at === null ? blank() : theirs[at]!), ...line, from: at }))
  if (mine.control !== wasControl) control.value = mine.control
  if (mine.day !== wasDay) day.value = mine.day
  state.message = ''
  mixed.value = `Somebody else changed this sheet meanwhile. Theirs and yours stand together here; look them through and keep them.${put.apart.length ? ` Both changed the same ${put.apart.length === 1 ? 'receipt' : 'receipts'}, and theirs stayed. Yours: ${put.apart.map((l) => `${l.depositor || 'no depositor'} ${showMoney(l.amount ?? 0)}`).join('; ')}.` : ''}` // prettier-ignore
}
const left = ref(false)
const posted = computed(() => sheet.data.value?.state === 'posted')
const editable = computed(() => !posted.value && session.may('trust.post'))
const entered = computed(() => typedSum(lines.value.map((l) => l.amount)))
const off = computed(() => (control.value ?? 0) - entered.value)

/** A matter brings its client along; the depositor is the client unless said otherwise. */
async function tookMatter(line: Line) {
  const id = line.matter?.id
  if (!id) return
  const found = await api.matters.get({ id }).catch(() => null)
  // Another matter may stand there by now.
  if (!found || line.matter?.id !== id) return
  line.client = { id: found.clientId, text: found.client }
  line.depositor ||= found.client
}
const input = () => ({
  bankAccountId: bankAccountId.value,
  day: day.value ?? '',
  controlTotal: control.value ?? 0,
  receipts: lines.value.map((l) => ({
    clientId: l.client?.id ?? null,
    matterId: l.matter?.id ?? null,
    depositor: l.depositor,
    kind: l.kind,
    reference: l.reference,
    text: l.text,
    amount: l.amount ?? 0,
    fee: l.fee,
  })),
})
/** Nothing typed is lost by a link, Back or a command without asking. The account alone is not typing: it is put there. */
const typed = () => JSON.stringify({ ...input(), bankAccountId: 0 })
const begun = typed()
useUnsaved({ changed: () => (id ? Boolean(asRead) && changed() : typed() !== begun && !left.value) })
const { state, act, fault, send } = useForm(() =>
  id ? api.trust.changeSheet({ id, ...input(), version: version.value }) : api.trust.makeSheet(input()),
)
async function keep(): Promise<number | null> {
  if (id) {
    const sent = JSON.stringify(input())
    const rows = [...lines.value]
    const asSent = { lines: rows.map((l) => ({ ...l })), control: control.value, day: day.value }
    mixed.value = ''
    if (!(await send())) {
      // Where theirs cannot be read just now, what was refused stays said, and what was typed stays there.
      if (state.code === 'changed-meanwhile') await putTogether().catch(() => undefined)
      return null
    }
    asRead = sent
    version.value = (version.value ?? 0) + 1
    // What was typed while it went out stands on top of what went.
    rows.forEach((l, i) => (l.from = i))
    base = asSent
    return id
  }
  const made = await send()
  if (made && 'id' in made) left.value = true
  return made && 'id' in made ? made.id : null
}
async function save() {
  const kept = await keep()
  if (!kept) return
  notes.say('Deposit sheet kept as a draft')
  session.changed()
  if (!id) await router.replace(`/trust/sheets/${kept}`)
}
async function post() {
  const kept = await keep()
  if (!kept) return
  if (await act(() => api.trust.postSheet({ id: kept }))) notes.say(`Deposit sheet posted, ${showMoney(entered.value)}`)
  session.changed()
  if (!id) await router.replace(`/trust/sheets/${kept}`)
}
async function addLine() {
  lines.value.push(blank())
  await nextTick()
  document.querySelector<HTMLElement>(`[data-line="${lines.value.length - 1}"] input`)?.focus()
}
useEventListener(window, 'keydown', (e: KeyboardEvent) => {
  if (e.key === 'Enter' && (e.ctrlKey || e.metaKey) && editable.value && off.value === 0) {
    e.preventDefault()
    void post()
  }
})
const { data: before } = useLoad(() => (session.may('trust.post') ? api.trust.remembered() : Promise.resolve(null)))
const openFile = (path: string) => window.open(path, '_blank', 'noopener')
const refunding = ref<{ receiptId: number; receiptNo: number; depositor: string; amount: number } | null>(null)
const refundFrom = ref<Ledger | null>(null)
type Ledger = Answer<typeof api.trust.ledgers>['rows'][number]
/** The ledger on which a receipt stands is offered as the one that gives it back. */
async function refund(l: Line) {
  const found = await act(() => api.trust.ledgers({ bankAccountId: bankAccountId.value, q: l.client?.text.slice(0, 80) ?? '', size: 50 }))
  refundFrom.value = found?.rows.find((x) => x.clientId === l.client?.id && x.matterId === (l.matter?.id ?? null)) ?? null
  refunding.value = { receiptId: l.id!, receiptNo: l.receiptNo!, depositor: l.depositor, amount: l.amount ?? 0 }
}
const receiptActs = (l: Line): Act[] =>
  l.id && posted.value
    ? [
        { text: `Receipt ${l.receiptNo} as PDF`, to: `/api/trust/receipts/${l.id}/pdf`, out: true },
        ...(session.may('trust.post') && l.client ? [{ text: 'Refund to the depositor …', act: () => refund(l) }] : []),
      ]
    : []
const receiptColumns: Column<(typeof lines.value)[number]>[] = [
  { key: 'receiptNo', text: 'Receipt', size: 84 },
  { key: 'client', text: 'Client', grow: 1.4, narrow: 'title', value: (l) => l.client?.text ?? 'Owner not known' },
  { key: 'matter', text: 'Matter', grow: 1.4, quiet: true, value: (l) => l.matter?.text ?? '' },
  { key: 'depositor', text: 'Depositor' },
  { key: 'kind', text: 'By', size: 110, quiet: true },
  { key: 'reference', text: 'Reference', size: 130, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money' },
  { key: 'fee', text: 'Fee', size: 84, quiet: true, value: (l) => (l.fee && l.matter ? 'charged' : '') },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      :title="sheet.data.value ? `Deposit sheet ${sheet.data.value.number}` : 'New deposit sheet'"
      :hint="posted ? 'Posted; it does not change' : 'Receipts that go to the bank together'"
    >
      <Btn v-if="id" @click="openFile(`/api/trust/sheets/${id}/slip`)">Deposit slip</Btn>
      <template v-if="editable">
        <Btn :busy="state.busy" @click="save">Keep as draft</Btn>
        <Btn main key-name="Ctrl Enter" :busy="state.busy" :disabled="off !== 0 || entered === 0" @click="post"
          >Post {{ showMoney(entered) }}</Btn
        >
      </template>
    </PageHead>
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <p v-if="mixed" role="alert" class="mb-3 rounded-control bg-bill-wash px-3 py-2 text-bill-ink">{{ mixed }}</p>
    <State :loading="id !== null && !sheet.data.value && sheet.loading.value" :problem="sheet.problem.value" @again="sheet.reload()">
      <div class="sheet mb-3.5 flex flex-wrap items-end gap-4 px-4 py-3">
        <template v-if="editable">
          <div class="w-56">
            <ChoiceField
              v-model="bankAccountId"
              label="Into"
              autofocus
              :options="
                (accounts ?? []).filter((a) => a.kind !== 'operating').map((a) => ({ value: a.id, text: `${a.name} ··${a.ending}` }))
              "
            />
          </div>
          <div class="w-40"><DayField v-model="day" label="On" :fault="fault('day')" /></div>
          <div class="w-40"><MoneyField v-model="control" label="Control total" :fault="fault('controlTotal')" /></div>
        </template>
        <p v-else class="text-ink-2">{{ sheet.data.value?.bank }} · {{ day ? dayText(day) : '' }}</p>
        <p
          class="ml-auto flex items-center gap-3 font-serif text-xl font-semibold [&_small]:block [&_small]:font-sans [&_small]:text-xs [&_small]:font-normal [&_small]:text-ink-2"
          aria-label="Sheet against the book"
        >
          <span data-figure="entered">{{ showMoney(entered) }}<small>entered here</small></span
          ><span :class="off ? 'text-rust' : 'text-lagoon'">{{ off ? '≠' : '=' }}</span
          ><span data-figure="control">{{ showMoney(control ?? 0) }}<small>control total in the book</small></span>
          <span v-if="off" class="font-sans text-base font-medium text-rust"
            >{{ showMoney(Math.abs(off)) }} {{ off > 0 ? 'missing' : 'too much' }}</span
          >
        </p>
      </div>
      <section class="sheet" aria-label="Receipts">
        <template v-if="editable">
          <fieldset
            v-for="(l, i) in lines"
            :key="i"
            class="grid stacks grid-cols-[1.4fr_1.1fr_1fr_110px_90px_1fr_120px_auto] items-start gap-2 border-b border-line-2 px-3.5 py-2.5"
            :data-line="i"
          >
            <legend class="sr-only">Receipt {{ i + 1 }}</legend>
            <Picker
              v-model="l.matter"
              label="Matter"
              :search="searchMatters"
              optional
              :fault="fault(`receipts.${i}.matterId`)"
              @update:model-value="tookMatter(l)"
            />
            <Picker v-model="l.client" label="Client" :search="searchContacts" optional :fault="fault(`receipts.${i}.clientId`)" />
            <TextField v-model="l.depositor" label="Depositor" :fault="fault(`receipts.${i}.depositor`)" />
            <ChoiceField v-model="l.kind" label="By" :options="receiptKinds.map((k) => ({ value: k, text: k }))" />
            <TextField v-model="l.reference" label="Reference" />
            <TextField v-model="l.text" label="For" :list="before?.texts ?? []" :fault="fault(`receipts.${i}.text`)" />
            <MoneyField v-model="l.amount" label="Amount" :fault="fault(`receipts.${i}.amount`)" />
            <button
              type="button"
              class="mt-6 px-2 text-ink-3"
              :aria-label="`Take out receipt ${i + 1}`"
              :disabled="lines.length === 1"
              @click="lines.splice(i, 1)"
            >
              ×
            </button>
            <label v-if="before?.receiptFee && l.matter" class="col-span-full flex items-center gap-2 text-ink-2">
              <input v-model="l.fee" type="checkbox" class="accent-ink" /> Charge the matter the administration fee of
              {{ showMoney(before.receiptFee) }}
            </label>
          </fieldset>
          <div class="flex items-center gap-3 px-3.5 py-2.5">
            <Btn @click="addLine">Next receipt</Btn
            ><span class="text-ink-2">Without a client the money is unidentified: it cannot be spent until its owner is known.</span>
          </div>
        </template>
        <DataTable
          v-else
          label="Receipts"
          name="receipts"
          :rows="lines"
          :columns="receiptColumns"
          :row-id="(l) => l.receiptNo ?? 0"
          :acts="receiptActs"
        />
      </section>
    </State>
    <PayOut v-if="refunding" :refund="refunding" v-bind="refundFrom ? { from: refundFrom } : {}" @close="refunding = null" />
  </div>
</template>
