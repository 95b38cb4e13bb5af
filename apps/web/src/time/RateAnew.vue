<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DataTable from '../ui/DataTable.vue'
import { plural, showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import { useAct, useLoad } from '../use'

/** Time that is not billed yet, by the rates that hold now: the differences first, then those that are chosen are rated anew. */
const props = defineProps<{ of: 'matter' | 'client'; id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const span = computed(() => (props.of === 'matter' ? { matterId: props.id } : { clientId: props.id }))
const { data, problem, loading, reload } = useLoad(() => api.time.previewRates(span.value))
type Row = Answer<typeof api.time.previewRates>['rows'][number]
const chosen = ref<(number | string)[]>([])
watch(data, (d) => d && (chosen.value = d.rows.map((r) => r.id)))
const columns: Column<Row>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'text', text: 'Work', grow: 2, narrow: 'title', value: (r) => `${r.who}: ${r.text}` },
  { key: 'was', text: 'Was', kind: 'money', size: 96, quiet: true, show: (r) => showMoney(r.was.amount) },
  { key: 'now', text: 'Now', kind: 'money', size: 96, show: (r) => showMoney(r.now.amount) },
]
const picked = computed(() => (data.value?.rows ?? []).filter((r) => chosen.value.includes(r.id)))
async function save() {
  const seen = picked.value.map((r) => ({ id: r.id, amount: r.now.amount }))
  const done = await act(() => api.time.rateAnew({ ...span.value, seen }))
  if (!done) return void reload()
  notes.say(`${plural(done.rated, 'entry', 'entries')} rated anew`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    light
    :title="`Unbilled time by the rates of now, ${name}`"
    :save="picked.length ? `Rate ${plural(picked.length, 'entry', 'entries')} anew` : 'Nothing to rate'"
    :busy="state.busy || !picked.length"
    :message="problem || state.message"
    :waiting="!data"
    @save="picked.length && save()"
    @close="emit('close')"
  >
    <p v-if="data">
      {{ plural(data.looked, 'unbilled entry', 'unbilled entries') }} looked at{{ data.more ? ', the oldest first' : '' }};
      {{
        data.rows.length
          ? `${plural(data.rows.length, 'differs', 'differ')}, together ${showMoney(data.difference)}`
          : 'all stand at the rates of now'
      }}. Rates that were typed on an entry stay.
    </p>
    <DataTable
      v-if="data?.rows.length"
      v-model:selected="chosen"
      label="Entries that differ"
      name="rate-anew"
      plain
      :rows="data.rows"
      :columns="columns"
      :row-id="(r) => r.id"
      :loading="loading && !data"
    >
      <template #cell-now="{ row: r }"
        ><span :title="`${showHours(r.now.minutes)} h × ${showMoney(r.now.rate)}, ${r.now.origin}`">{{
          showMoney(r.now.amount)
        }}</span></template
      >
    </DataTable>
  </SideSheet>
</template>
