<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import { plural } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { useAct } from '../use'
import RulesSheet from './RulesSheet.vue'

/** Lines of an operating account that a rule of the firm fits, booked together. */
const props = defineProps<{ bankId: number; upTo: string }>()
type Row = Answer<typeof api.bank.byRules>[number]
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const { data } = useShown(() => asks.bank.byRules.queryOptions({ input: { id: props.bankId } }))
const rows = computed(() => (data.value ?? []).filter((r) => r.line.countsOn <= props.upTo))
const chosen = ref<(number | string)[]>([])
// What somebody left out stays so when the list is loaded anew.
watch(rows, (list, before) => {
  const known = new Set((before ?? []).map((r) => r.line.id))
  chosen.value = list.flatMap(({ line }) => (!known.has(line.id) || chosen.value.includes(line.id) ? [line.id] : []))
})
const setting = ref(false)
async function book() {
  const done = await act(() => api.bank.bookByRules({ id: props.bankId, lineIds: chosen.value.map(Number).slice(0, 200) }))
  if (!done) return
  notes.say(`${plural(done.booked, 'line')} booked`)
  session.changed()
}
const columns: Column<Row>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true, value: (r) => r.line.day },
  { key: 'text', text: 'Line of the bank', grow: 1.3, value: (r) => r.line.text || r.line.reference },
  { key: 'memo', text: 'Booked as', grow: 1, narrow: 'title' },
  { key: 'account', text: 'To', grow: 1, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money', value: (r) => r.line.amount },
]
</script>

<template>
  <section class="sheet" aria-label="By the firm’s rules">
    <div class="flex items-center gap-3 px-3.5 py-2.5">
      <h2>By the firm’s rules</h2>
      <span v-if="!rows.length" class="text-ink-2">No open line fits one.</span>
      <span class="ml-auto flex gap-2">
        <Btn small @click="setting = true">Rules …</Btn>
        <Btn v-if="rows.length" small :disabled="!chosen.length" :busy="state.busy" @click="book"
          >Book {{ plural(chosen.length, 'line') }}</Btn
        >
      </span>
    </div>
    <p v-if="state.message" role="alert" class="mx-3.5 mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <DataTable
      v-if="rows.length"
      v-model:selected="chosen"
      label="By the firm’s rules"
      name="bank-by-rules"
      :rows="rows"
      :columns="columns"
      :row-id="(r) => r.line.id"
    />
    <RulesSheet v-if="setting" @close="setting = false" />
  </section>
</template>
