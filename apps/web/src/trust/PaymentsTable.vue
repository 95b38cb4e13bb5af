<script setup lang="ts">
import { ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Pager from '../ui/Pager.vue'
import { useAct } from '../use'
import VoidSheet from './VoidSheet.vue'
import { sayPrinting } from './printing'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'

const session = useSession()
const notes = useNotes()
const page = ref(1)
const { data, problem, loading, reload } = useShown(() => asks.trust.payments.queryOptions({ input: { page: page.value, size: 50 } }))
const { state, act } = useAct()
const voiding = ref<{ id: number; name: string } | null>(null)

async function post(id: number) {
  const done = await act(() => api.trust.postPayment({ id }))
  if (!done) return
  if (done.printJob) sayPrinting(notes, 'trust', done.printJob, `Posted as check ${done.checkNo}`)
  else notes.say(done.checkNo ? `Posted as check ${done.checkNo}` : 'Posted')
  session.changed()
}
async function agree(id: number) {
  if (!(await act(() => api.trust.approvePayment({ id })))) return
  notes.say('Agreed; it can be posted')
  session.changed()
}
async function drop(id: number) {
  if (!(await sure('Drop the payment', 'The draft is gone, with whoever agreed to it. The money is free again.', 'Drop it'))) return
  if (!(await act(() => api.trust.dropPayment({ id })))) return
  notes.say('Draft dropped; the money is free again')
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
  if (!session.may('trust.post'))
    return p.state === 'draft' && p.twoPeople && !p.approvedBy && !p.own && session.may('trust.approve')
      ? [{ text: 'Agree to it', act: () => agree(p.id) }]
      : []
  if (p.state === 'draft')
    return [
      ...(p.twoPeople && !p.approvedBy && !p.own ? [{ text: 'Agree to it', act: () => agree(p.id) }] : []),
      { text: 'Post', act: () => post(p.id), disabled: state.busy || (p.twoPeople && !p.approvedBy) },
      { text: 'Drop', act: () => drop(p.id) },
    ]
  if (p.state !== 'posted') return []
  return [
    ...(p.checkNo ? [{ text: `Print check ${p.checkNo}`, to: `/api/trust/payments/${p.id}/check`, out: true }] : []),
    {
      text: `Void ${p.checkNo ? `check ${p.checkNo}` : 'the wire'}`,
      act: () => (voiding.value = { id: p.id, name: p.checkNo ? `check ${p.checkNo}` : 'the wire' }),
    },
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
        ><span class="tag" :class="p.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{
          p.state === 'draft' && p.twoPeople ? (p.approvedBy ? 'agreed' : 'waits') : p.state
        }}</span></template
      >
      <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="payments" /></template>
    </DataTable>
    <VoidSheet v-if="voiding" :id="voiding.id" :name="voiding.name" @close="voiding = null" />
  </section>
</template>
