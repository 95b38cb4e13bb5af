<script setup lang="ts">
import { computed, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import { monthText, plural } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { useAct } from '../use'

/** Where several months are behind: each with what keeps it open, and all that agree closed in one go. */
const props = defineProps<{ id: number; shown: string }>()
const emit = defineEmits<{ show: [to: string] }>()
type Month = Answer<typeof api.bank.months>[number]
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const { data, reload } = useShown(() => asks.bank.months.queryOptions({ input: { id: props.id } }))
/** From the oldest on, as far as nothing keeps them open: a later month stands on the ones before it. */
const ready = computed(() => {
  const list = data.value ?? []
  const first = list.findIndex((m) => m.stops.length || m.asked || !m.figures)
  return first < 0 ? list : list.slice(0, first)
})
const closing = ref('')
async function closeReady() {
  let done = 0
  for (const m of ready.value) {
    closing.value = monthText(m.to.slice(0, 7))
    if (!(await act(() => api.bank.close({ id: props.id, to: m.to, seen: m.figures! })))) break
    done += 1
  }
  closing.value = ''
  if (done) notes.say(`${plural(done, 'month')} closed, or prepared where somebody else closes`)
  session.changed()
  await reload()
}
const columns: Column<Month>[] = [
  { key: 'to', text: 'Month', size: 110, narrow: 'title', value: (m) => monthText(m.to.slice(0, 7)) },
  { key: 'lines', text: 'Only at the bank', kind: 'number', size: 124, value: (m) => m.lines },
  { key: 'entries', text: 'In transit', kind: 'number', size: 90, value: (m) => m.entries },
  { key: 'bank', text: 'Bank', kind: 'money', size: 130, value: (m) => m.figures?.bank ?? null },
  { key: 'book', text: 'Book', kind: 'money', size: 130, value: (m) => m.figures?.book ?? null },
  {
    key: 'stops',
    text: 'What keeps it open',
    grow: 2,
    wrap: true,
    value: (m) => (m.asked ? 'Prepared; somebody else closes it' : m.stops.join(' ') || 'Nothing: it agrees'),
  },
]
</script>

<template>
  <section v-if="(data?.length ?? 0) > 1" class="sheet mb-4" aria-label="Months to close">
    <div class="flex items-center gap-3 px-3.5 py-2.5">
      <h2>{{ plural(data!.length, 'month') }} to close</h2>
      <Btn v-if="session.may('books.post')" small class="ml-auto" :disabled="!ready.length" :busy="state.busy" @click="closeReady">{{
        closing ? `Closing ${closing} …` : ready.length ? `Close ${plural(ready.length, 'month')} in order` : 'None agrees yet'
      }}</Btn>
    </div>
    <p v-if="state.message" role="alert" class="mx-3.5 mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <DataTable
      label="Months to close"
      name="months-to-close"
      :rows="data!"
      :columns="columns"
      :row-id="(m) => m.to"
      :row-class="(m) => (m.to === shown ? 'font-semibold' : '')"
      :open="(m) => emit('show', m.to)"
    />
  </section>
</template>
