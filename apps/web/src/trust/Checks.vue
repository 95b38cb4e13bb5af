<script setup lang="ts">
import { checkStates } from '@heron/contract'
import { defineAsyncComponent, ref, watch } from 'vue'
import { useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import Pager from '../ui/Pager.vue'
import SideSheet from '../ui/SideSheet.vue'
import { someMoney, tableDay, type Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import type { Act } from '../ui/ActMenu.vue'
import ToPrint from './ToPrint.vue'
import VoidSheet from './VoidSheet.vue'

const CheckLayout = defineAsyncComponent(() => import('./CheckLayout.vue'))

/** Every number of an account's checks, and those that wait to be printed. */
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const { bank, only, page } = useFiltered({ bank: 0, only: '' as '' | (typeof checkStates)[number], page: 1 })
watch(accounts, (list) => (bank.value ||= list?.find((a) => a.kind === 'pooled')?.id ?? list?.[0]?.id ?? 0))
watch([bank, only], () => (page.value = 1))
const { data, problem, loading, reload } = useShown(() =>
  bank.value
    ? asks.checks.register.queryOptions({ input: { bankAccountId: bank.value, state: only.value, page: page.value, size: 50 } })
    : null,
)
type Row = Answer<typeof api.checks.register>['rows'][number]
const columns: Column<Row>[] = [
  {
    key: 'number',
    text: 'Number',
    size: 120,
    value: (c) => (c.upTo && c.upTo !== c.number ? `${c.number} to ${c.upTo}` : String(c.number)),
  },
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'payee', text: 'To', grow: 1.4, narrow: 'title' },
  { key: 'ledger', text: 'From the ledger of', grow: 1.4, quiet: true },
  { key: 'state', text: 'State', size: 104 },
  {
    key: 'more',
    text: 'Note',
    size: 150,
    quiet: true,
    value: (c) =>
      c.paidOn ? tableDay(c.paidOn) : c.words || (c.state === 'outstanding' || c.state === 'stale' ? (c.out ?? 'to be printed') : ''),
  },
  { key: 'amount', text: 'Amount', kind: 'money', show: (c) => (c.amount === null ? '' : someMoney(c.amount)) },
]
const tone = (s: Row['state']) =>
  s === 'stale' || s === 'missing' ? 'bg-rust-wash text-rust' : s === 'outstanding' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'
const voiding = ref<{ id: number; name: string; stale: boolean } | null>(null)
const laying = ref(false)
const spoiling = ref(false)
const number = ref('')
const reason = ref('')
function acts(c: Row): Act[] {
  if (!session.may('trust.post')) return []
  if (c.state === 'missing' && (!c.upTo || c.upTo === c.number)) return [{ text: 'It was spoiled', act: () => beginSpoil(c.number) }]
  if (!c.paymentId || (c.state !== 'outstanding' && c.state !== 'stale')) return []
  const { paymentId } = c
  return [
    { text: `Print check ${c.number}`, to: `/api/trust/payments/${paymentId}/check`, out: true },
    {
      text: `Void check ${c.number}`,
      act: () => (voiding.value = { id: paymentId, name: `check ${c.number}`, stale: c.state === 'stale' }),
    },
  ]
}
function beginSpoil(n?: number) {
  number.value = n ? String(n) : ''
  reason.value = ''
  spoiling.value = true
}
const typed = () => (/^\d+$/.test(number.value.trim()) ? Number(number.value) : 0)
const { state, fault, send } = useForm(() => api.checks.spoil({ bankAccountId: bank.value, number: typed(), reason: reason.value }))

async function spoil() {
  const n = typed()
  if (!(await send())) return
  notes.say(`Check ${n} is accounted for`)
  spoiling.value = false
  session.changed()
}
</script>

<template>
  <div class="space-y-3.5">
    <div class="flex flex-wrap items-end gap-3">
      <div class="w-64">
        <ChoiceField v-model="bank" label="Account" :options="(accounts ?? []).map((a) => ({ value: a.id, text: a.name }))" />
      </div>
      <div class="w-44">
        <ChoiceField
          v-model="only"
          label="Which"
          :options="[{ value: '', text: 'All numbers' }, ...checkStates.map((s) => ({ value: s, text: s }))]"
        />
      </div>
      <div v-if="session.may('trust.post')" class="ml-auto flex gap-2">
        <Btn @click="beginSpoil()">A number was spoiled …</Btn>
        <Btn @click="laying = true">Layout of the check …</Btn>
      </div>
    </div>
    <p v-if="state.message && !spoiling" role="alert" class="sheet bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
    <ToPrint book="trust" :bank-account-id="bank" />
    <section class="sheet" aria-label="Register of checks">
      <DataTable
        label="Register of checks"
        name="check-register"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(c) => c.number"
        :acts="acts"
        :loading="loading"
        :problem="problem"
        @again="reload()"
      >
        <template #empty>No number of this kind is here.</template>
        <template #cell-state="{ row: c }"
          ><span class="tag" :class="tone(c.state)">{{ c.state }}</span></template
        >
        <template #cell-ledger="{ row: c }"
          ><RouterLink v-if="c.ledgerId" :to="`/trust/ledgers/${c.ledgerId}`" class="hover:underline">{{ c.ledger }}</RouterLink
          ><template v-else>{{ c.ledger }}</template></template
        >
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="numbers" /></template>
      </DataTable>
    </section>
    <VoidSheet v-if="voiding" :id="voiding.id" :name="voiding.name" :stale="voiding.stale" @close="voiding = null" />
    <CheckLayout v-if="laying" :bank-account-id="bank" @close="laying = false" />
    <SideSheet
      v-if="spoiling"
      title="A number was spoiled"
      save="Account for it"
      :busy="state.busy"
      :message="state.said"
      :changed="reason !== ''"
      @save="spoil"
      @close="spoiling = false"
    >
      <TextField v-model="number" label="Number" :fault="fault('number')" autofocus />
      <TextField v-model="reason" label="What happened" hint="Such as: torn, or printed on the wrong side." :fault="fault('reason')" />
      <p class="text-ink-2">Nothing was paid with it. The number is never used.</p>
    </SideSheet>
  </div>
</template>
