<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** Money of checks that nobody cashed: it stays its owner's, and is due to the state some time after the last contact. */
const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useShown(() => asks.checks.unclaimed.queryOptions())
type Row = Answer<typeof api.checks.unclaimed>[number]
const doing = ref<{ row: Row; how: 'contact' | 'settled' } | null>(null)
const day = ref<Day | null>(null)
const words = ref('')
function begin(row: Row, how: 'contact' | 'settled') {
  doing.value = { row, how }
  day.value = how === 'settled' ? session.today : (row.lastContact ?? session.today)
  words.value = how === 'contact' ? row.note : ''
}
const { state, fault, send } = useForm(() => {
  const { row, how } = doing.value!
  const id = row.paymentId
  return how === 'contact'
    ? api.checks.contact({ id, lastContact: day.value, note: words.value })
    : api.checks.claimed({ id, day: day.value ?? '', words: words.value })
})

async function save() {
  const done = await send()
  if (!done) return
  notes.say('Kept')
  doing.value = null
  session.changed()
}
const columns: Column<Row>[] = [
  { key: 'payee', text: 'For', grow: 1.2, narrow: 'title' },
  { key: 'checkNo', text: 'Check', size: 84, value: (u) => String(u.checkNo ?? '') },
  { key: 'day', text: 'Of', kind: 'day', quiet: true },
  { key: 'ledger', text: 'On the ledger of', grow: 1.2, quiet: true },
  { key: 'lastContact', text: 'Last contact', kind: 'day' },
  { key: 'dueOn', text: 'Due to the state', kind: 'day' },
  { key: 'note', text: 'Note', grow: 1, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
</script>

<template>
  <section class="sheet" aria-label="Unclaimed money">
    <h2 class="px-4 pt-3 pb-1">Unclaimed money</h2>
    <DataTable
      label="Unclaimed money"
      name="unclaimed"
      :rows="data ?? []"
      :columns="columns"
      :row-id="(u) => u.paymentId"
      :acts="
        (u) =>
          session.may('trust.post')
            ? [
                { text: 'There was contact', act: () => begin(u, 'contact') },
                { text: 'It is settled', act: () => begin(u, 'settled') },
              ]
            : []
      "
      :loading="loading"
      :problem="problem"
      @again="reload()"
    >
      <template #empty>Nothing is unclaimed. A stale check that is voided comes here.</template>
    </DataTable>
    <SideSheet
      v-if="doing"
      :title="doing.how === 'contact' ? 'Contact about unclaimed money' : 'Settle unclaimed money'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      :changed="doing.how === 'settled' && words !== ''"
      @save="save"
      @close="doing = null"
    >
      <p class="rounded-control bg-mist px-3 py-2">
        {{ showMoney(doing.row.amount) }} for {{ doing.row.payee }}, {{ doing.row.address || 'no address' }}
      </p>
      <DayField
        v-model="day"
        :label="doing.how === 'contact' ? 'Last contact on' : 'On'"
        :fault="fault(doing.how === 'contact' ? 'lastContact' : 'day')"
      />
      <TextField
        v-model="words"
        :label="doing.how === 'contact' ? 'Note' : 'How'"
        :optional="doing.how === 'contact'"
        :hint="
          doing.how === 'settled'
            ? 'Such as: paid by check 2214, or handed to the state with its form. The money itself leaves by a payment out.'
            : ''
        "
        :fault="fault(doing.how === 'contact' ? 'note' : 'words')"
        autofocus
      />
    </SideSheet>
  </section>
</template>
