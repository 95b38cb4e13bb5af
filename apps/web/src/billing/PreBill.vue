<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, onBeforeUnmount, reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { dropPageKeys, usePageKeys } from '../shell/keys'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import MoneyField from '../ui/MoneyField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, momentDay, plural, showAmount, showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useUnsaved } from '../ui/unsaved'
import { useForm } from '../ui/form'
import { typedBasisPoints, useAct, useLoad, useOpening } from '../use'
import ReviewSheet from './ReviewSheet.vue'
import Totals from './Totals.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'

type Line = Answer<typeof api.billing.preBill>['lines'][number]
const session = useSession()
const notes = useNotes()
const router = useRouter()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.billing.preBill({ id }))
const editing = ref<Line | null>(null)
const wordsOf = (l: Line) => ({ text: l.text, charged: l.charged as number | null, noCharge: l.noCharge, heldBack: l.heldBack })
type Words = ReturnType<typeof wordsOf>
const edit = reactive<Words>({ text: '', charged: 0, noCharge: false, heldBack: false })
const meanwhile = useMeanwhile(edit, {
  text: 'Text on the bill',
  charged: ['Amount charged', (v) => showMoney(v ?? 0)],
  noCharge: 'No charge',
  heldBack: 'Hold back',
})
const discounting = ref(false)
const discount = ref({ amount: null as number | null, percent: '', target: null as number | null })
const issuing = ref(false)
const chosen = ref<number[]>([])
const reviewing = ref<{ how: 'split' | 'merge' | 'move' | 'add'; lines: Line[] } | null>(null)
const issueDay = ref<Day | null>(session.today)

const review = computed(() => data.value?.state === 'review' && session.may('bills.review'))
const groupOf = (l: Line) => (l.kind === 'time' ? 'Time' : l.kind === 'flat' ? 'Flat and other' : 'Costs')
const parts = ['Time', 'Costs', 'Flat and other']
const lines = computed(() => [...(data.value?.lines ?? [])].sort((a, b) => parts.indexOf(groupOf(a)) - parts.indexOf(groupOf(b))))
const columns: Column<Line>[] = [
  { key: 'day', text: 'Date', kind: 'day', size: 104, quiet: true },
  { key: 'who', text: 'Who', size: 56, quiet: true, value: (l) => l.timekeeper },
  { key: 'text', text: 'Work', grow: 3, wrap: true, narrow: 'title' },
  { key: 'minutes', text: 'Hours', kind: 'hours', show: (l) => (l.minutes ? showHours(l.minutes) : '') },
  { key: 'rate', text: 'Rate', kind: 'money', size: 90, quiet: true, show: (l) => (l.rate ? showAmount(l.rate) : '') },
  {
    key: 'charged',
    text: 'Amount',
    kind: 'money',
    size: 104,
    show: (l) => (l.heldBack ? 'held back' : l.told ? 'paid' : l.noCharge ? 'no charge' : showAmount(l.charged)),
  },
]
const actsOn = (l: Line): Act[] => [
  { text: 'Change', act: () => open(l) },
  {
    text: l.told ? 'Paid from trust' : l.noCharge ? 'Charge it' : 'No charge',
    disabled: l.told,
    act: () => saveLine(l, { noCharge: !l.noCharge }),
  },
  { text: l.heldBack ? 'Bill it' : 'Hold back', act: () => saveLine(l, { heldBack: !l.heldBack }) },
  ...(l.kind === 'time' && !l.carries ? [{ text: 'Split', act: () => (reviewing.value = { how: 'split', lines: [l] }) }] : []),
  ...(l.carries ? [{ text: 'Part', act: () => partOrTakeOut(() => api.billing.partLines({ id, lineId: l.id }), 'Parted') }] : []),
  ...(l.kind !== 'flat' && !l.carries && !l.told
    ? [{ text: 'Move to another matter', act: () => (reviewing.value = { how: 'move', lines: [l] }) }]
    : []),
  ...(l.added ? [{ text: 'Take out', act: () => partOrTakeOut(() => api.billing.takeLineOut({ id, lineId: l.id }), 'Taken out') }] : []),
]
const place = computed(() => {
  const p = data.value?.place
  return p && data.value?.state !== 'issued' ? `${p.at} of ${p.of} waiting · ` : ''
})

function open(line: Line) {
  if (!review.value) return
  editing.value = line
  Object.assign(edit, wordsOf(line))
  meanwhile.begin()
}
/** Only what was changed goes out, with the line as it was read: an amount that is empty is refused at its field. */
const changeLine = (line: Line, change: Partial<Words>) =>
  api.billing.changeLine({
    id,
    lineId: line.id,
    ...(change as { charged?: number }),
    seen: wordsOf(line) as Words & { charged: number },
  })
const changed = (line: Line) => Object.fromEntries(Object.entries(edit).filter(([k, v]) => v !== wordsOf(line)[k as keyof Words]))
const issueNow = () => api.billing.issue({ id, day: issueDay.value ?? '', seen: data.value!.totals.total })
// One sheet stands open at a time: what it would send is judged as it is filled in.
const { state, act, fault, send } = useForm(() => {
  const d = discount.value
  if (editing.value) return changeLine(editing.value, changed(editing.value))
  if (discounting.value)
    return api.billing.setDiscount({ id, amount: d.amount ?? 0, basisPoints: typedBasisPoints(d.percent) ?? 0, target: d.target })
  return issueNow()
})
async function saveLine(line: Line, change: Partial<Words>) {
  await act(() => changeLine(line, change))
  await reload()
}
async function saveEdit() {
  const line = () => editing.value!
  const done = await meanwhile.save<unknown>(state, send, async () => {
    await reload()
    const now = data.value?.lines.find((l) => l.id === line().id)
    if (!now) throw new Error('The line is not on this pre-bill any more.')
    editing.value = now
    return wordsOf(now)
  })
  if (!done) return
  editing.value = null
  await reload()
}
async function partOrTakeOut(how: () => Promise<unknown>, words: string) {
  if (!(await act(how))) return
  notes.say(words)
  await reload()
}
async function reviewed() {
  reviewing.value = null
  chosen.value = []
  session.changed()
  await reload()
}
async function saveDiscount() {
  if (!(await send())) return
  discounting.value = false
  await reload()
}
const words = ref('')
const { state: saying, act: sayAct } = useAct()
useUnsaved({ changed: () => words.value.trim() !== '' })
async function say() {
  if (!(await sayAct(() => api.billing.comment({ id, text: words.value })))) return
  words.value = ''
  await reload()
}
async function approve(approved: boolean) {
  if (!(await act(() => api.billing.approve({ id, approved, ...(approved ? { seen: data.value!.totals.total } : {}) })))) {
    // What it comes to by now is shown beside the words that say why.
    if (state.code === 'changed-meanwhile') await reload()
    return
  }
  notes.say(
    approved ? `Approved, ${showMoney(data.value!.totals.total)}` : 'Back in review',
    approved ? { label: 'Undo', act: () => api.billing.approve({ id, approved: false }).then(reload) } : undefined,
  )
  session.changed()
  await reload()
}
useOpening(issuing, () => (issueDay.value = session.today))
async function issue() {
  const bill = await act(issueNow)
  if (!bill) {
    if (state.code === 'changed-meanwhile') await reload()
    return
  }
  const numbers = [bill, ...bill.others].map((b) => b.number)
  notes.say(`${numbers.length > 1 ? 'Bills' : 'Bill'} ${numbers.join(', ')} issued`)
  session.changed()
  await router.push(`/bills/${bill.id}`)
}
async function drop() {
  if (!(await sure('Drop the pre-bill', 'What was changed in review is lost. Its lines stay unbilled as they were recorded.', 'Drop it')))
    return
  if (!(await act(() => api.billing.drop({ id })))) return
  notes.say('Pre-bill dropped; its lines stay unbilled')
  session.changed()
  await router.push('/bills')
}
function next() {
  const other = data.value?.place.next
  if (other) void router.push(`/bills/pre/${other}`)
}
/** The line whose row, or what stands in it, has the focus. */
const focusedLine = () => Number(document.activeElement?.closest('[data-row]')?.querySelector<HTMLElement>('[data-line]')?.dataset['line'])
// J goes on to the next pre-bill; H holds back the line that has the focus.
usePageKeys({
  j: next,
  h: () => {
    const line = data.value?.lines.find((l) => l.id === focusedLine())
    if (line && review.value) void saveLine(line, { heldBack: !line.heldBack })
  },
})
onBeforeUnmount(dropPageKeys)
const tagOf = (l: Line) =>
  l.heldBack ? 'held back' : l.noCharge ? '' : l.charged < l.worked ? `written down from ${showMoney(l.worked)}` : ''
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`Pre-bill, ${data.matter}`" :hint="`${place}work to ${dayText(data.workTo)}`">
          <Btn key-name="J" @click="next">Next</Btn>
          <Btn v-if="review" :busy="state.busy" @click="drop">Drop</Btn>
          <Btn v-if="review && chosen.length > 1" @click="reviewing = { how: 'merge', lines: lines.filter((l) => chosen.includes(l.id)) }"
            >Make one line of {{ chosen.length }}</Btn
          >
          <Btn v-if="review" @click="reviewing = { how: 'add', lines: [] }">Add a fee</Btn>
          <Btn
            v-if="review"
            @click="
              ((discounting = true),
              (discount = {
                amount: data.discountAmount || null,
                percent: data.discountBasisPoints ? String(data.discountBasisPoints / 100) : '',
                target: null,
              }))
            "
            >Discount</Btn
          >
          <Btn v-if="review" main :busy="state.busy" @click="approve(true)">Approve {{ showMoney(data.totals.total) }}</Btn>
          <Btn v-if="data.state === 'approved' && session.may('bills.review')" :busy="state.busy" @click="approve(false)"
            >Take back for review</Btn
          >
          <Btn v-if="data.state === 'approved' && session.may('bills.issue')" main @click="issuing = true"
            >Issue {{ showMoney(data.totals.total) }}</Btn
          >
        </PageHead>
        <p
          v-if="state.message && !editing && !discounting && !issuing && !reviewing"
          role="alert"
          class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust"
        >
          {{ state.message }}
        </p>
        <p v-if="data.state === 'approved'" class="mb-3 rounded-control bg-lagoon-wash px-3 py-2 text-lagoon">
          Approved. {{ session.may('bills.issue') ? 'It can be issued.' : 'The bookkeeper issues it.' }}
        </p>
        <div class="grid stacks grid-cols-[minmax(0,1fr)_280px] gap-[18px] xl:grid-cols-[minmax(0,1fr)_300px]">
          <section class="sheet self-start" aria-label="Lines">
            <DataTable
              label="Lines"
              name="pre-bill-lines"
              :rows="lines"
              :columns="columns"
              :row-id="(l) => l.id"
              :group-of="groupOf"
              :group="(name) => ({ text: String(name) })"
              :row-class="(l) => [tagOf(l) && 'bg-[#fdfaf2]', (l.noCharge || l.heldBack) && 'text-ink-3'].filter(Boolean).join(' ')"
              :open="review ? open : undefined"
              :acts="review ? actsOn : undefined"
              :selected="review ? chosen : undefined"
              @update:selected="chosen = ($event ?? []).map(Number)"
            >
              <template #cell-who="{ row: l }"
                ><span :title="l.timekeeper">{{ l.initials }}</span></template
              >
              <template #cell-text="{ row: l }"
                ><button
                  v-if="review"
                  type="button"
                  class="text-left underline-offset-2 hover:underline"
                  :data-line="l.id"
                  @click="open(l)"
                >
                  {{ l.text }}</button
                ><template v-else>{{ l.text }}</template>
                <span v-if="l.carries" class="tag ml-1 bg-mist">{{ l.carries + 1 }} entries</span>
                <span v-if="tagOf(l)" class="tag ml-1 bg-bill-wash text-bill-ink">{{ tagOf(l) }}</span></template
              >
            </DataTable>
          </section>
          <div class="space-y-3.5">
            <Totals :totals="data.totals" title="This bill" />
            <section
              class="sheet px-4 py-3.5 [&_div]:flex [&_div]:py-1 [&_dt]:text-ink-2 [&_dd]:ml-auto"
              aria-label="Where the matter stands"
            >
              <h2 class="mb-1">Where the matter stands</h2>
              <dl>
                <div>
                  <dt>Owed before</dt>
                  <dd>{{ showMoney(data.owedBefore) }}</dd>
                </div>
                <div>
                  <dt>Held in trust</dt>
                  <dd class="text-lagoon">{{ showMoney(data.held) }}</dd>
                </div>
                <div v-if="data.budget">
                  <dt>{{ data.budget.capped ? 'Cap' : 'Budget' }} of {{ showMoney(data.budget.budget) }}</dt>
                  <dd :class="data.budget.percent > 100 ? 'text-rust' : ''">{{ data.budget.percent }} % used</dd>
                </div>
                <div v-if="data.last">
                  <dt>
                    Last bill <RouterLink :to="`/bills/${data.last.id}`" class="underline">{{ data.last.number }}</RouterLink>,
                    {{ dayText(data.last.issuedOn) }}
                  </dt>
                  <dd :title="`${showMoney(data.last.fees)} fees, ${showMoney(data.last.costs)} costs`">
                    {{ showMoney(data.last.total) }}
                  </dd>
                </div>
              </dl>
            </section>
            <section class="sheet px-4 py-3.5" aria-label="Comments">
              <h2 class="mb-1">Comments</h2>
              <p v-if="data.liesWith" class="text-ink-2">Lies with {{ data.liesWith.who }} since {{ momentDay(data.liesWith.since) }}.</p>
              <p v-for="c in data.comments" :key="c.id" class="border-t border-line-2 py-1.5">
                <b class="font-semibold">{{ c.by }}</b> <span class="text-sm text-ink-3">{{ momentDay(c.at) }}</span>
                <span class="block whitespace-pre-line">{{ c.text }}</span>
              </p>
              <form v-if="session.may('bills.review')" class="mt-2 space-y-2" @submit.prevent="say">
                <TextField v-model="words" label="Say something" :lines="2" :fault="saying.fields[0]?.message ?? ''" />
                <Btn type="submit" :busy="saying.busy" :disabled="!words.trim()">Say it</Btn>
              </form>
            </section>
            <section class="sheet px-4 py-3.5" aria-label="Goes to">
              <h2 class="mb-1">Goes to</h2>
              <p v-for="p in data.parts" :key="p.name" class="flex gap-2 border-t border-line-2 py-1">
                <span
                  >{{ p.name }} <span class="text-ink-2">{{ p.share }}</span></span
                ><b class="ml-auto font-normal">{{ showMoney(p.total) }}</b>
              </p>
              <p v-if="!data.parts.length" class="flex">
                {{ data.payer }}<b class="ml-auto font-normal">{{ showMoney(data.totals.total) }}</b>
              </p>
            </section>
          </div>
        </div>
      </template>
    </State>
    <ReviewSheet v-if="reviewing" :id="id" v-bind="reviewing" @close="reviewing = null" @done="reviewed" />
    <SideSheet
      v-if="editing"
      :title="`${editing.kind === 'time' ? 'Line' : 'Cost'} of ${editing.day ? dayText(editing.day) : data?.matter}`"
      save="Save line"
      :busy="state.busy"
      :message="state.said"
      :changed="meanwhile.changed.value"
      @save="saveEdit"
      @close="editing = null"
    >
      <Meanwhile :of="meanwhile" />
      <TextField v-model="edit.text" label="Text on the bill" :lines="4" :fault="fault('text')" autofocus />
      <MoneyField
        v-if="editing.kind !== 'hard cost'"
        v-model="edit.charged"
        label="Amount charged"
        :hint="`Recorded: ${showMoney(editing.worked)}`"
        :fault="fault('charged')"
      />
      <label class="flex items-center gap-2"
        ><input v-model="edit.noCharge" type="checkbox" /> No charge: shown on the bill at nothing</label
      >
      <label class="flex items-center gap-2"
        ><input v-model="edit.heldBack" type="checkbox" /> Hold back: not on this bill, stays unbilled</label
      >
    </SideSheet>
    <SideSheet
      v-if="discounting"
      title="Discount on fees"
      save="Set discount"
      :busy="state.busy"
      :message="state.said"
      @save="saveDiscount"
      @close="discounting = false"
    >
      <MoneyField v-model="discount.amount" label="Amount" optional :fault="fault('amount')" autofocus />
      <TextField v-model="discount.percent" label="or percent" optional :fault="fault('basisPoints')" />
      <MoneyField
        v-model="discount.target"
        label="or so much that the bill comes to"
        optional
        hint="With its tax"
        :fault="fault('target')"
      />
      <p class="text-ink-2">It lessens fees, never costs, and is shared out over the lines to the cent.</p>
    </SideSheet>
    <SideSheet
      v-if="issuing && data"
      title="Issue the bill"
      :save="`Issue ${showMoney(data.totals.total)}`"
      :busy="state.busy"
      :message="state.said"
      @save="issue"
      @close="issuing = false"
    >
      <DayField v-model="issueDay" label="Date of the bill" :fault="fault('day')" autofocus />
      <p>
        {{ plural(data.lines.filter((l) => !l.heldBack).length, 'line') }} to
        {{ data.parts.length ? data.parts.map((p) => `${p.name} (${showMoney(p.total)})`).join(', ') : data.payer }}.
        {{
          data.parts.length
            ? 'Each gets a bill with a number of its own, which does not change'
            : 'The bill gets the next number and does not change'
        }}
        afterwards.
      </p>
    </SideSheet>
  </div>
</template>
