<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const notes = useNotes()
const page = ref(1)
const { data, problem, loading, reload } = useLoad(() => api.trust.payments({ page: page.value, size: 50 }), [page, () => session.tick])
const { state, act, fault } = useAct()
const voiding = ref<number | null>(null)
const day = ref<string | null>(session.today)
const reason = ref('')

async function post(id: number) {
  const done = await act(() => api.trust.postPayment({ id }))
  if (!done) return
  notes.say(done.checkNo ? `Posted as check ${done.checkNo}` : 'Posted')
  session.changed()
}
async function drop(id: number) {
  if (!(await act(() => api.trust.dropPayment({ id })))) return
  notes.say('Draft dropped; the money is free again')
  session.changed()
}
async function voidIt() {
  const id = voiding.value
  if (!id || !(await act(() => api.trust.voidPayment({ id, day: day.value ?? '', reason: reason.value })))) return
  notes.say('Voided; the money is back on the same ledger')
  voiding.value = null
  session.changed()
}
type Row = Answer<typeof api.trust.payments>['rows'][number]
const nameOf = (p: Row) => (p.checkNo ? `Check ${p.checkNo}` : p.method)
const columns: Column<Row>[] = [
  { key: 'number', text: 'Number', size: 110, value: nameOf },
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'payee', text: 'To', grow: 1.4, narrow: 'title' },
  { key: 'ledger', text: 'From the ledger of', grow: 1.4, quiet: true },
  { key: 'memo', text: 'For', quiet: true },
  { key: 'state', text: 'State', size: 86 },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
function acts(p: Row): Act[] {
  if (!session.may('trust.post')) return []
  if (p.state === 'draft')
    return [
      { text: 'Post', act: () => post(p.id), disabled: state.busy },
      { text: 'Drop', act: () => drop(p.id) },
    ]
  if (p.state !== 'posted') return []
  return [
    ...(p.checkNo ? [{ text: `Print check ${p.checkNo}`, to: `/api/trust/payments/${p.id}/check`, out: true }] : []),
    { text: `Void ${p.checkNo ? `check ${p.checkNo}` : 'the wire'}`, act: () => ((voiding.value = p.id), (reason.value = '')) },
  ]
}
</script>

<template>
  <section class="sheet" aria-label="Payments out">
    <p v-if="state.message && !voiding" role="alert" class="bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
    <DataTable
      label="Payments out"
      name="payments-out"
      :rows="data?.rows ?? []"
      :columns="columns"
      :row-id="(p) => p.id"
      :acts="acts"
      :loading="loading"
      :problem="problem"
      :row-class="(p) => (['void', 'dropped'].includes(p.state) ? 'text-ink-3' : '')"
      @again="reload()"
    >
      <template #empty>Nothing was paid out of trust yet.</template>
      <template #cell-state="{ row: p }"
        ><span class="tag" :class="p.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{ p.state }}</span></template
      >
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="payments" /></template>
    </DataTable>
    <SideSheet
      v-if="voiding"
      title="Void a payment"
      save="Void it"
      :busy="state.busy"
      :message="state.fields.length ? '' : state.message"
      @save="voidIt"
      @close="voiding = null"
    >
      <DayField v-model="day" label="On" :fault="fault('day')" />
      <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
      <p class="text-ink-2">A mirrored entry returns the money to the same ledger. The number is never used again.</p>
    </SideSheet>
  </section>
</template>
