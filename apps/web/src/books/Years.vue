<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** Periods that are closed, and years whose result went to the partners. */
type Year = Answer<typeof api.books.years>['years'][number]
const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useShown(() => asks.books.years.queryOptions())
const doing = ref<'period' | 'shares' | { close: Year } | { open: Year } | null>(null)
const day = ref<Day | null>(null)
const reason = ref('')
const yearEnd = ref('12-31')
const shares = reactive<{ account: number; percent: string }[]>([])
const before = ref('')
const now = () => JSON.stringify([day.value, reason.value, yearEnd.value, shares])
function begin(what: NonNullable<typeof doing.value>) {
  const d = data.value!
  day.value = d.closedTo
  reason.value = ''
  yearEnd.value = d.yearEnd
  shares.splice(0, shares.length, ...d.shares.map((s) => ({ account: s.accountId, percent: String(s.basisPoints / 100) })))
  before.value = now()
  doing.value = what
}
const opens = computed(() => Boolean(data.value?.closedTo && (!day.value || day.value < data.value.closedTo)))
/** Percent as it is typed, in hundredths of a percent; what cannot be read is refused by its field. */
const points = (text: string) => (/^\d{1,3}(\.\d{1,2})?$/.test(text.trim()) ? Math.round(Number(text) * 100) : 0)
watch(doing, (d) => {
  if (!d) before.value = ''
})
const title = computed(() =>
  doing.value === 'period'
    ? 'Close the books by date'
    : doing.value === 'shares'
      ? 'Fiscal year and shares'
      : doing.value && 'close' in doing.value
        ? 'Close the year'
        : 'Undo the closing',
)
const { state, fault, send } = useForm(() => {
  const what = doing.value!
  if (what === 'period') return api.books.closePeriod({ day: day.value, reason: reason.value })
  if (what === 'shares')
    return api.books.setYears({
      yearEnd: yearEnd.value,
      shares: shares.map((s) => ({ accountId: s.account, basisPoints: points(s.percent) })),
    })
  if ('close' in what) return api.books.closeYear({ to: what.close.to, net: what.close.net })
  return api.books.openYear({ to: what.open.to, reason: reason.value })
})
async function save() {
  if (!(await send())) return
  notes.say('Kept')
  doing.value = null
  session.changed()
}
const columns: Column<Year>[] = [
  { key: 'from', text: 'From', kind: 'day' },
  { key: 'to', text: 'To', kind: 'day', narrow: 'title' },
  { key: 'state', text: 'State', grow: 1, value: (y) => (y.journalId ? 'closed' : y.over ? 'over, not closed' : 'running') },
  { key: 'net', text: 'Earned', kind: 'money', size: 160 },
]
const acts = (y: Year): Act[] =>
  !session.may('books.post')
    ? []
    : y.journalId
      ? [
          { text: 'The closing entry', to: `/books/journals/${y.journalId}` },
          { text: 'Undo the closing', act: () => begin({ open: y }) },
        ]
      : y.over
        ? [{ text: 'Close the year', act: () => begin({ close: y }) }]
        : []
</script>

<template>
  <State :loading="loading && !data" :problem="problem" @again="reload()">
    <div v-if="data" class="grid stacks items-start gap-[18px] lg:grid-cols-[minmax(0,1fr)_320px]">
      <section class="sheet" aria-label="Fiscal years">
        <DataTable label="Fiscal years" name="fiscal-years" :rows="data.years" :columns="columns" :row-id="(y) => y.to" :acts="acts">
          <template #cell-state="{ row: y }"
            ><span
              class="tag"
              :class="y.journalId ? 'bg-lagoon-wash text-lagoon' : y.over ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'"
              >{{ y.journalId ? 'closed' : y.over ? 'over, not closed' : 'running' }}</span
            ></template
          >
        </DataTable>
      </section>
      <div class="space-y-[18px]">
        <section class="sheet space-y-2 px-4 py-3" aria-label="Closed by date">
          <h2>Closed by date</h2>
          <p>{{ data.closedTo ? `Nothing is dated on ${dayText(data.closedTo)} or before.` : 'Every day is open.' }}</p>
          <Btn v-if="session.may('books.post')" @click="begin('period')">Change …</Btn>
        </section>
        <section class="sheet space-y-2 px-4 py-3" aria-label="Shares of the result">
          <h2>Shares of the result</h2>
          <p v-for="s in data.shares" :key="s.accountId" class="flex">
            {{ s.name }}<b class="ml-auto font-normal tabular-nums">{{ s.basisPoints / 100 }} %</b>
          </p>
          <p v-if="!data.shares.length" class="text-ink-2">Not set. A year is closed to accounts of equity by these shares.</p>
          <Btn v-if="session.may('books.post')" @click="begin('shares')">Change …</Btn>
        </section>
      </div>
    </div>
    <SideSheet
      v-if="doing && data"
      :title="title"
      :save="doing === 'period' || doing === 'shares' ? 'Save' : title"
      :busy="state.busy"
      :message="state.said"
      :changed="before !== '' && before !== now()"
      @save="save"
      @close="doing = null"
    >
      <template v-if="doing === 'period'">
        <DayField v-model="day" label="Closed up to" optional :fault="fault('day')" />
        <TextField v-if="opens" v-model="reason" label="Why they are opened again" :fault="fault('reason')" />
        <p class="text-ink-2">Nothing can be dated on that day or before. A year that is closed is undone by itself.</p>
      </template>
      <template v-else-if="doing === 'shares'">
        <TextField v-model="yearEnd" label="The year ends on" hint="Month and day, like 12-31." :fault="fault('yearEnd')" />
        <div v-for="(s, i) in shares" :key="i" class="grid grid-cols-[1fr_90px_auto] items-end gap-2">
          <ChoiceField
            v-model="s.account"
            :label="`Account ${i + 1}`"
            :options="data.equity.map((a) => ({ value: a.id, text: a.name }))"
            :fault="fault(`shares.${i}.accountId`)"
          />
          <TextField v-model="s.percent" label="Percent" :fault="fault(`shares.${i}.basisPoints`)" />
          <Btn small :aria-label="`Take out account ${i + 1}`" @click="shares.splice(i, 1)">Out</Btn>
        </div>
        <p v-if="fault('shares')" role="alert" class="text-rust">{{ fault('shares') }}</p>
        <Btn small @click="shares.push({ account: data.equity[0]?.id ?? 0, percent: '' })">Add an account</Btn>
        <p class="text-ink-2">The shares make 100 %. Accounts of equity are added under Set-up, Accounts.</p>
      </template>
      <template v-else-if="'close' in doing">
        <p>
          {{ dayText(doing.close.from) }} to {{ dayText(doing.close.to) }} earned <b>{{ showMoney(doing.close.net) }}</b>.
        </p>
        <p v-for="s in data.shares" :key="s.accountId" class="flex border-t border-line-2 py-1">
          {{ s.name }}<span class="ml-auto">{{ s.basisPoints / 100 }} %</span>
        </p>
        <p class="text-ink-2">
          One entry brings income and expenses to zero and gives the result to equity. Trust is not touched. The books are closed up to the
          year’s end.
        </p>
      </template>
      <template v-else>
        <p class="text-ink-2">A mirrored entry undoes the closing of {{ dayText(doing.open.to) }}, and the year is open again.</p>
        <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
      </template>
    </SideSheet>
  </State>
</template>
