<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import SideSheet from '../ui/SideSheet.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { momentDay, plural, showMoney } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import { useAct, useOpening } from '../use'
import DisputeSheet from './DisputeSheet.vue'
import ReminderRule from './ReminderRule.vue'

/** Bills past due: reminded of step by step, with interest where the engagement has it, or marked as disputed. */
const session = useSession()
const notes = useNotes()
const router = useRouter()
const { q, disputed: which, page } = useFiltered({ q: '', disputed: 'all' as 'all' | 'no' | 'yes', page: 1 })
const named = refDebounced(q, 150)
const chosen = ref<(number | string)[]>([])
watch([named, which], () => ((page.value = 1), (chosen.value = [])))
const { data, problem, loading, reload } = useShown(() =>
  asks.billing.overdue.queryOptions({
    input: {
      ...(named.value.trim() ? { q: named.value.trim() } : {}),
      ...(which.value === 'all' ? {} : { disputed: which.value }),
      page: page.value,
      size: 100,
    },
  }),
)
type Row = Answer<typeof api.billing.overdue>['rows'][number]
const columns = computed((): Column<Row>[] => [
  { key: 'number', text: 'Bill', size: 84, narrow: 'title', strong: true },
  { key: 'payer', text: 'Payer', grow: 1.2 },
  { key: 'matter', text: 'Matter', grow: 1.5, quiet: true },
  { key: 'dueOn', text: 'Due', kind: 'day', quiet: true },
  { key: 'days', text: 'Days', kind: 'number', size: 64 },
  { key: 'reminder', text: 'Reminders', size: 170, show: reminders, quiet: true },
  { key: 'interest', text: 'Interest', kind: 'money', show: (b) => (b.interest ? showMoney(b.interest) : '') },
  { key: 'open', text: 'Open', kind: 'money', strong: true, total: showMoney(data.value?.open ?? 0) },
])
const nth = (step: number) => ['1st', '2nd', '3rd'][step - 1] ?? `${step}th`
function reminders(b: Row): string {
  if (b.interestOf) return `interest on ${b.interestOf}`
  const sent = b.remindedAt ? `${nth(b.step)} sent ${momentDay(b.remindedAt)}` : ''
  return [sent, b.next ? `${nth(b.next)} is due` : ''].filter(Boolean).join('; ')
}
const may = computed(() => session.may('bills.issue'))
const disputing = ref<Row | null>(null)
const ruling = ref(false)
const picked = computed(() => (data.value?.rows ?? []).filter((b) => chosen.value.includes(b.id)))
const toRemind = computed(() => picked.value.filter((b) => b.next))
const toCharge = computed(() => picked.value.filter((b) => b.interest > 0))
const acts = (b: Row): Act[] =>
  may.value
    ? [
        { text: b.next ? `Send reminder ${b.next}` : 'No reminder is due', disabled: !b.next || state.busy, act: () => remind([b]) },
        {
          text: b.interest ? `Charge interest of ${showMoney(b.interest)}` : 'No interest to charge',
          disabled: !b.interest,
          act: () => (charging.value = [b]),
        },
        { text: b.disputed ? 'No longer disputed' : 'Mark as disputed', act: () => (disputing.value = b) },
      ]
    : []

const { state, act } = useAct()
async function remind(bills: readonly Row[]) {
  const done = await act(() => api.billing.remind({ billIds: bills.map((b) => b.id) }))
  if (!done) return
  const left = done.left.map((l) => `${l.number} ${l.why}`).join('; ')
  notes.say(`${plural(done.sent, 'reminder')} sent${left ? `. Not: ${left}` : ''}`)
  chosen.value = []
  session.changed()
}
const charging = ref<Row[] | null>(null)
const day = ref<Day | null>(session.today)
useOpening(charging, () => (day.value = session.today))
const {
  state: charges,
  fault,
  send,
} = useForm(() => api.billing.chargeInterest({ billIds: (charging.value ?? []).map((b) => b.id), day: day.value ?? '' }))
async function charge() {
  const done = await send()
  if (!done) return
  notes.say(`Interest charged: ${done.made.map((b) => `${b.number}, ${showMoney(b.amount)}`).join('; ')}`)
  charging.value = null
  chosen.value = []
  session.changed()
}
</script>

<template>
  <div class="flex flex-wrap items-end gap-3 px-3.5 py-3">
    <div class="w-72 max-w-full">
      <TextField v-model="q" label="Find by number, payer or matter" bare placeholder="Number, payer or matter" />
    </div>
    <Switch
      v-model="which"
      label="Show"
      :options="[
        { value: 'all', text: 'All' },
        { value: 'no', text: 'Not disputed' },
        { value: 'yes', text: 'Disputed' },
      ]"
    />
    <span v-if="may" class="ml-auto flex flex-wrap gap-2">
      <Btn @click="ruling = true">When to remind …</Btn>
      <Btn :disabled="!toCharge.length" @click="charging = toCharge"
        >Charge interest{{ toCharge.length ? ` on ${toCharge.length}` : '' }} …</Btn
      >
      <Btn main :busy="state.busy" :disabled="!toRemind.length" @click="remind(toRemind)"
        >Send {{ toRemind.length ? plural(toRemind.length, 'reminder') : 'reminders' }}</Btn
      >
    </span>
  </div>
  <p v-if="data?.stoppedBy" class="mx-3.5 mb-2 rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
    Reminders do not go out by themselves any more: they went in the name of {{ data.stoppedBy }}, who left or issues no bills now. Choose
    When to remind to take it over.
  </p>
  <p v-if="state.message" role="alert" class="mx-3.5 mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
  <DataTable
    v-model:selected="chosen"
    label="Overdue bills"
    name="overdue"
    :rows="data?.rows ?? []"
    :columns="columns"
    :row-id="(b) => b.id"
    :loading="loading && !data"
    :problem="problem"
    :acts="acts"
    :open="(b) => router.push(`/bills/${b.id}`)"
    @again="reload()"
  >
    <template #empty>No bill is past due.</template>
    <template #cell-number="{ row: b }"
      ><RouterLink :to="`/bills/${b.id}`" class="font-semibold hover:underline">{{ b.number }}</RouterLink></template
    >
    <template #cell-reminder="{ row: b }"
      ><span v-if="b.disputed" class="tag bg-bill-wash text-bill-ink" :title="b.disputed">disputed</span
      ><template v-else>{{ reminders(b) }}</template></template
    >
    <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="100" what="bills" /></template>
  </DataTable>
  <ReminderRule v-if="ruling" @close="((ruling = false), reload())" />
  <DisputeSheet
    v-if="disputing"
    :bill-id="disputing.id"
    :number="disputing.number"
    :disputed="disputing.disputed"
    @close="disputing = null"
  />
  <SideSheet
    v-if="charging"
    title="Charge interest"
    :save="`Charge interest on ${plural(charging.length, 'bill')}`"
    :busy="charges.busy"
    :message="charges.said"
    @save="charge"
    @close="charging = null"
  >
    <DayField v-model="day" label="Up to, and dated" :fault="fault('day')" />
    <p class="text-ink-2">
      Up to today it is {{ showMoney(typedSum(charging.map((b) => b.interest))) }}. Each charge is a numbered bill of its own; no interest
      runs on it.
    </p>
  </SideSheet>
</template>
