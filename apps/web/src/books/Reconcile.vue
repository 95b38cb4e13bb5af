<script setup lang="ts">
import { addDays, dayOf, daysInMonth, parts, type Day, monthStart } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useAddress } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, monthText, plural, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import type { Column } from '../ui/table/columns'
import { typedSum } from '../ui/typed'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useOpening } from '../use'
import BankDid from '../trust/BankDid.vue'
import ByRules from './ByRules.vue'
import LineSheet from './LineSheet.vue'
import ReadStatement from './ReadStatement.vue'
import MonthsToClose from './MonthsToClose.vue'
import StartSheet from './StartSheet.vue'

/** A month of a bank account: three figures, and what lies between them. */
type Work = Answer<typeof api.bank.work>
type Line = Work['lines'][number]
type Entry = Work['entries'][number]
type Proposal = Answer<typeof api.bank.proposals>['rows'][number]
type Match = Work['matches'][number]
const session = useSession()
const notes = useNotes()
const id = Number(useRoute().params['id'])
const endOf = (month: string): Day => dayOf(Number(month.slice(0, 4)), Number(month.slice(5, 7)), daysInMonth(Number(month.slice(0, 4)), Number(month.slice(5, 7)))) // prettier-ignore
const [year, month] = parts(session.today)
/** The month that is over, unless the address says another. */
const lastMonth = addDays(dayOf(year, month, 1), -1).slice(0, 7)
const shown = useAddress({ month: lastMonth }, ['month'])
const to = computed(() => endOf(/^\d{4}-(0[1-9]|1[0-2])$/.test(shown.month) ? shown.month : lastMonth))
const step = (n: 1 | -1) => (shown.month = addDays(n > 0 ? to.value : monthStart(to.value), n).slice(0, 7))
const { data, problem, loading, reload } = useShown(() => asks.bank.work.queryOptions({ input: { id, to: to.value } }))
const { data: likely } = useShown(() => asks.bank.proposals.queryOptions({ input: { id } }))
const { state, act, fault } = useAct()
const may = session.may('books.post')
const reading = ref(false)
const starting = ref(false)
const reopening = ref(false)
const reopenWhy = ref('')
useOpening(reopening, () => (reopenWhy.value = ''))
async function reopen() {
  if (!(await act(() => api.bank.reopen({ id: data.value!.reconciliationId!, reason: reopenWhy.value })))) return
  notes.say('Asked for; somebody else agrees')
  reopening.value = false
  session.changed()
}
const bankDid = ref<Line | null>(null)
const doing = ref<{ line: Line; how: 'name' | 'book' } | null>(null)
const pairing = ref<{ lineIds: number[]; entryIds: number[]; difference: number } | null>(null)

/** What of the proposals belongs to lines that are shown; one that is refused is not made again. */
const proposals = computed(() => {
  const ids = new Set((data.value?.lines ?? []).map((l) => l.id))
  return (likely.value?.rows ?? []).filter((p) => p.lines.some((l) => ids.has(l.id)))
})
const chosenProposals = ref<(number | string)[]>([])
const chosenLines = ref<(number | string)[]>([])
const chosenEntries = ref<(number | string)[]>([])
const unchoose = () => (chosenProposals.value = chosenLines.value = chosenEntries.value = [])
// What is chosen is of the lines that stand there.
watch([to, data, likely], unchoose)
const picked = <T extends { id: number }>(list: readonly T[], ids: readonly (number | string)[]) => list.filter((x) => ids.includes(x.id))
const pickedLines = computed(() => picked(data.value?.lines ?? [], chosenLines.value))
const pickedEntries = computed(() => picked(data.value?.entries ?? [], chosenEntries.value))
const apartBy = computed(() => typedSum(pickedLines.value.map((l) => l.amount)) - typedSum(pickedEntries.value.map((e) => e.amount)))
async function match(pairs: { lineIds: number[]; entryIds: number[] }[]) {
  const done = await act(() => api.bank.match({ id, pairs }))
  if (!done) return
  unchoose()
  notes.say(`${plural(done.matched, 'match', 'matches')} kept`)
  session.changed()
}
const pairOf = (p: Proposal) => ({ lineIds: p.lines.map((l) => l.id), entryIds: p.entries.map((e) => e.id), difference: p.difference })
/** So many matches are taken in one act. */
const mostTaken = 500
/** Takes what agrees to the cent; what does not is taken by itself, with the name of its difference. */
async function take(list: readonly Proposal[]) {
  const agree = list.filter((p) => p.difference === 0).slice(0, mostTaken)
  const [first] = list
  if (!agree.length) {
    if (first) pairing.value = pairOf(first)
    return
  }
  await match(agree.map(pairOf).map(({ lineIds, entryIds }) => ({ lineIds, entryIds })))
  const others = list.length - agree.length
  if (!others || state.message) return
  const rest = list.some((p) => p.difference) ? ': one with a difference is taken by itself, with a name for it' : ''
  notes.say(`${plural(others, 'proposal')} left${rest}`)
}
async function refuse(p: Proposal, refused: boolean) {
  const { lineIds, entryIds } = pairOf(p)
  if (!(await act(() => api.bank.refusePair({ id, lineIds, entryIds, refused })))) return
  notes.say(refused ? 'Not proposed any more' : 'Proposed again', refused ? { label: 'Undo', act: () => refuse(p, false) } : undefined)
  session.changed()
}
function matchChosen() {
  const pair = { lineIds: pickedLines.value.map((l) => l.id), entryIds: pickedEntries.value.map((e) => e.id) }
  if (apartBy.value) pairing.value = { ...pair, difference: apartBy.value }
  else void match([pair])
}
async function part(m: Match) {
  if (!(await act(() => api.bank.part({ id: m.id })))) return
  notes.say('Taken apart')
  session.changed()
}
async function close() {
  const f = data.value?.figures
  if (!f) return
  const done = await act(() => api.bank.close({ id, to: to.value, seen: { bank: f.bank, book: f.book } }))
  if (!done) return
  notes.say(done.id ? `${monthText(to.value.slice(0, 7))} is closed` : 'Prepared; somebody else closes it, under Trust, To settle')
  // Where months are behind, the next one follows.
  if (to.value.slice(0, 7) < lastMonth) step(1)
  session.changed()
}

const proposalColumns: Column<Proposal>[] = [
  { key: 'day', text: 'Bank', kind: 'day', quiet: true, value: (p) => p.lines[0]!.day },
  { key: 'line', text: 'Line of the bank', grow: 1.2, value: (p) => p.lines.map((l) => [l.check && `check ${l.check}`, l.text].filter(Boolean).join(' ')).join('; ') }, // prettier-ignore
  {
    key: 'entry',
    text: 'Entry of the book',
    wrap: true,
    grow: 1.4,
    narrow: 'title',
    value: (p) => p.entries.map((e) => `${dayText(e.day)} ${e.text}`).join('; '),
  },
  { key: 'why', text: 'Why', wrap: true, grow: 1, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money', value: (p) => typedSum(p.lines.map((l) => l.amount)) },
]
const lineColumns: Column<Line>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  {
    key: 'text',
    text: 'Text',
    grow: 1.6,
    narrow: 'title',
    value: (l) =>
      [l.check && `check ${l.check}`, l.text || l.reference, l.countsOn !== l.day && `(counts on ${dayText(l.countsOn)})`]
        .filter(Boolean)
        .join(' '),
  },
  { key: 'named', text: 'Carried as', grow: 1, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money', total: '' },
]
const stale = 180
const entryColumns: Column<Entry>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'check', text: 'Check', size: 76 },
  { key: 'text', text: 'For', grow: 1.6, narrow: 'title' },
  { key: 'days', text: 'Days', kind: 'number', size: 96, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
const matchColumns: Column<Match>[] = [
  { key: 'day', text: 'Bank', kind: 'day', quiet: true, value: (m) => m.lines[0]?.day ?? '' },
  { key: 'text', text: 'Entry of the book', grow: 1.6, narrow: 'title', value: (m) => m.entries.map((e) => e.text).join('; ') },
  {
    key: 'why',
    text: 'Why',
    grow: 1.2,
    quiet: true,
    value: (m) => (m.difference ? `${m.why}: ${m.named}, ${showMoney(m.difference)}` : m.why),
  },
  { key: 'amount', text: 'Amount', kind: 'money', value: (m) => typedSum(m.lines.map((l) => l.amount)) },
]
const lineActs = (l: Line): Act[] =>
  may && !data.value?.closed
    ? [
        {
          text: l.named ? 'Carry under another name …' : 'Carry as a named item …',
          act: () => (doing.value = { line: l, how: 'name' as const }),
        },
        data.value?.kind === 'operating'
          ? { text: 'Book it …', act: () => (doing.value = { line: l, how: 'book' as const }) }
          : { text: 'The bank did …', act: () => (bankDid.value = l) },
      ]
    : []
const entryActs = (e: Entry): Act[] => [{ text: 'See the journal', to: `/books/journals/${e.journalId}` }]
const figures = computed(() => {
  const f = data.value?.figures
  if (!f) return []
  return [
    { key: 'bank', text: `Balance of the bank on ${dayText(to.value)}`, amount: f.bank, strong: true },
    { key: 'in', text: 'Deposits in transit', amount: f.depositsInTransit },
    { key: 'out', text: 'Checks and payments outstanding', amount: f.outstanding },
    { key: 'unbooked', text: 'Less what only the bank has', amount: -typedSum([f.unbookedIn, f.unbookedOut]) },
    ...(f.errors ? [{ key: 'errors', text: 'Less differences of amounts', amount: -f.errors }] : []),
    { key: 'adjusted', text: 'Adjusted balance of the bank', amount: f.adjusted, strong: true },
    { key: 'book', text: 'Balance of the book', amount: f.book, strong: true, apart: f.bankFromBook },
    ...(f.ledgers === null
      ? []
      : [{ key: 'ledgers', text: 'Client ledgers together', amount: f.ledgers, strong: true, apart: f.bookFromLedgers }]),
  ]
})
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      :title="data?.name ?? 'Account'"
      :hint="
        data?.request
          ? data.request.kind === 'close'
            ? `Prepared by ${data.request.by}; somebody else closes it`
            : `${data.request.by} asks to open it again; somebody else agrees`
          : data?.closed
            ? 'This month is closed'
            : data?.reopened
              ? 'This month was opened again; its old report stays'
              : ''
      "
    >
      <Btn small aria-label="The month before" @click="step(-1)">‹</Btn>
      <b class="w-24 text-center">{{ monthText(to.slice(0, 7)) }}</b>
      <Btn small aria-label="The month after" :disabled="to >= session.today" @click="step(1)">›</Btn>
      <Btn v-if="data?.reconciliationId" :href="`/api/bank/months/${data.reconciliationId}/report`">Report</Btn>
      <Btn v-if="may && data?.closed && data.to === data.closedTo && !data.request" @click="reopening = true">Open it again …</Btn>
      <Btn v-if="may && !data?.closedTo" @click="starting = true">At the start …</Btn>
      <Btn v-if="may" @click="reading = true">Read a statement …</Btn>
      <Btn
        v-if="may && data && !data.closed && !data.request"
        main
        :busy="state.busy"
        :disabled="data.stops.length > 0 || to >= session.today"
        @click="close"
        >Close {{ monthText(to.slice(0, 7)) }}</Btn
      >
    </PageHead>
    <p class="mb-3"><RouterLink to="/books?show=bank" class="text-lagoon hover:underline">All bank accounts</RouterLink></p>
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <MonthsToClose v-if="data" :id="id" :shown="to" @show="(t) => (shown.month = t.slice(0, 7))" />
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <div v-if="data" class="grid stacks grid-cols-[360px_minmax(0,1fr)] items-start gap-4">
        <section class="sheet px-4 py-3.5" aria-label="Three figures">
          <h2 class="mb-1">Three figures</h2>
          <p v-if="!figures.length" class="text-ink-2">Read the first statement; the account is reconciled from its first day on.</p>
          <dl v-else>
            <div v-for="f in figures" :key="f.key" class="flex gap-3 border-t border-line-2 py-1.5" :class="f.strong && 'font-semibold'">
              <dt>
                {{ f.text }}<span v-if="f.apart" class="block text-sm text-rust">differs by {{ showMoney(f.apart) }}</span>
              </dt>
              <dd class="ml-auto tabular-nums">{{ showMoney(f.amount) }}</dd>
            </div>
          </dl>
          <ul v-if="data.stops.length && !data.closed" class="mt-2 list-disc pl-5 text-rust" aria-label="What keeps the month open">
            <li v-for="s in data.stops" :key="s">{{ s }}</li>
          </ul>
          <p v-else-if="figures.length" class="mt-2 font-semibold text-lagoon">They agree, and every difference is named.</p>
        </section>
        <div class="space-y-4">
          <section v-if="proposals.length && may && !data.closed" class="sheet" aria-label="Proposals">
            <div class="flex items-center gap-3 px-3.5 py-2.5">
              <h2>Proposals</h2>
              <Btn
                small
                class="ml-auto"
                :disabled="!chosenProposals.length"
                :busy="state.busy"
                @click="take(proposals.filter((p) => chosenProposals.includes(p.key)))"
                >Take what is chosen</Btn
              >
            </div>
            <DataTable
              v-model:selected="chosenProposals"
              label="Proposals"
              name="bank-proposals"
              :rows="proposals"
              :columns="proposalColumns"
              :row-id="(p) => p.key"
              :acts="
                (p) => [
                  { text: p.difference ? 'Take, and name the difference …' : 'Take', act: () => void take([p]) },
                  { text: 'Refuse', act: () => void refuse(p, true) },
                ]
              "
              :open="(p) => void take([p])"
            />
          </section>
          <ByRules v-if="data.kind === 'operating' && may && !data.closed" :bank-id="id" :up-to="to" />
          <section class="sheet" aria-label="Only at the bank">
            <div class="flex items-center gap-3 px-3.5 py-2.5">
              <h2>Only at the bank</h2>
              <Btn
                v-if="may && !data.closed"
                small
                class="ml-auto"
                :disabled="!pickedLines.length || !pickedEntries.length"
                :busy="state.busy"
                @click="matchChosen"
                >Match what is chosen{{ pickedLines.length && pickedEntries.length && apartBy ? `, ${showMoney(apartBy)} apart` : '' }}</Btn
              >
            </div>
            <DataTable
              v-model:selected="chosenLines"
              label="Only at the bank"
              name="bank-lines"
              :rows="data.lines"
              :columns="lineColumns"
              :row-id="(l) => l.id"
              :acts="lineActs"
            >
              <template #empty>{{ figures.length ? 'Every line of the bank is in the book.' : 'No statement was read yet.' }}</template>
            </DataTable>
          </section>
          <section class="sheet" aria-label="Only in the book">
            <h2 class="px-3.5 py-2.5">Only in the book: in transit and outstanding</h2>
            <DataTable
              v-model:selected="chosenEntries"
              label="Only in the book"
              name="bank-entries"
              :rows="data.entries"
              :columns="entryColumns"
              :row-id="(e) => e.id"
              :acts="entryActs"
            >
              <template #empty>{{ figures.length ? 'The bank has seen everything.' : 'Told once a statement was read.' }}</template>
              <template #cell-days="{ row: e }"
                ><span :class="e.days > stale && e.check ? 'font-semibold text-rust' : ''">{{
                  e.days > stale && e.check ? `${e.days}, stale` : e.days
                }}</span></template
              >
            </DataTable>
          </section>
          <section v-if="data.matches.length" class="sheet" aria-label="Matched">
            <h2 class="px-3.5 py-2.5">Matched in this month</h2>
            <DataTable
              label="Matched"
              name="bank-matches"
              :rows="data.matches"
              :columns="matchColumns"
              :row-id="(m) => m.id"
              :acts="(m) => (may && !data!.closed ? [{ text: 'Take apart', act: () => void part(m) }] : [])"
            />
          </section>
        </div>
      </div>
    </State>
    <ReadStatement v-if="reading && data" :id="id" :name="data.name" @close="reading = false" />
    <StartSheet v-if="starting" :id="id" @close="starting = false" />
    <BankDid v-if="bankDid" :line="bankDid" :bank-account-id="id" @close="bankDid = null" />
    <SideSheet
      v-if="reopening && data?.reconciliationId"
      title="Open the month again"
      save="Ask for it"
      :busy="state.busy"
      :message="state.said"
      :changed="reopenWhy !== ''"
      @save="reopen"
      @close="reopening = false"
    >
      <p>A second person agrees under Trust, To settle. The report of the month stays as it was made, beside the one that is made anew.</p>
      <TextField v-model="reopenWhy" label="Why" :fault="fault('reason')" autofocus />
    </SideSheet>
    <LineSheet v-if="doing" :line="doing.line" :how="doing.how" @close="doing = null" />
    <LineSheet v-if="pairing" :pair="{ id, ...pairing }" how="difference" @close="pairing = null" />
  </div>
</template>
