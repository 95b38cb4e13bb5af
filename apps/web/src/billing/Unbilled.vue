<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { aDay, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { recent, useShown } from '../shown'
import ContactPicker from '../people/ContactPicker.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Pager from '../ui/Pager.vue'
import type { Choice } from '../ui/Picker.vue'
import TextField from '../ui/TextField.vue'
import { plural, showMoney } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { useAct, useLoad } from '../use'

/** Unbilled work up to a day: seen before pre-bills are made of it, of one matter, of those chosen, or of all that are shown. */
const session = useSession()
const notes = useNotes()
const router = useRouter()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const shown = useFiltered({ to: aDay(session.today), q: '', leadId: 0, areaId: 0, least: 0, page: 1 })
const { to, q, leadId, areaId, page } = shown
const named = refDebounced(q, 200)
const payer = ref<Choice | null>(null)
const least = computed({ get: () => shown.least.value || null, set: (cents) => (shown.least.value = cents ?? 0) })
const chosen = ref<(number | string)[]>([])
const filter = computed(() => ({
  ...(named.value.trim() ? { q: named.value.trim() } : {}),
  ...(leadId.value ? { leadId: leadId.value } : {}),
  ...(areaId.value ? { areaId: areaId.value } : {}),
  ...(payer.value ? { payerId: payer.value.id } : {}),
  ...(least.value ? { least: least.value } : {}),
}))
const asked = computed(() => JSON.stringify([to.value, filter.value]))
watch(asked, () => ((page.value = 1), (chosen.value = [])))
const { data, problem, loading, reload } = useShown(() =>
  to.value ? asks.billing.unbilled.queryOptions({ input: { to: to.value, ...filter.value, page: page.value, size: 100 } }) : null,
)
type Row = Answer<typeof api.billing.unbilled>['rows'][number]
const columns = computed((): Column<Row>[] => [
  { key: 'number', text: 'Number', size: 98, quiet: true },
  { key: 'matter', text: 'Matter', grow: 2, narrow: 'title' },
  { key: 'client', text: 'Client', hidden: true, quiet: true },
  { key: 'billTo', text: 'Goes to', grow: 1 },
  { key: 'oldest', text: 'Oldest', kind: 'day', quiet: true },
  { key: 'time', text: 'Time', kind: 'money' },
  { key: 'flat', text: 'Flat fee', kind: 'money', show: (m) => (m.flat ? showMoney(m.flat) : '') },
  { key: 'costs', text: 'Costs', kind: 'money', show: (m) => (m.costs ? showMoney(m.costs) : '') },
  { key: 'together', text: 'Together', kind: 'money', strong: true, total: showMoney(data.value?.together ?? 0) },
])
const { state: acting, act } = useAct()
const may = computed(() => session.may('bills.review'))
const acts = (m: Row): Act[] =>
  may.value
    ? [{ text: m.billTo ? 'Make a pre-bill' : 'Say first who is billed', disabled: !m.billTo || acting.busy, act: () => make(m.matterId) }]
    : []

async function make(matterId: number) {
  const made = await act(() => api.billing.makePreBill({ matterId, workTo: to.value ?? '' }))
  if (!made) return
  notes.say('Pre-bill made')
  session.changed()
  await router.push(`/bills/pre/${made.id}`)
}
async function run() {
  const matterIds = chosen.value.length ? chosen.value.map(Number) : null
  const made = await act(() => api.billing.startRun({ workTo: to.value ?? '', matterIds, filter: matterIds ? null : filter.value }))
  if (made) await router.push(`/bills/runs/${made.id}`)
}
/** What is made is what was seen: not while another filter or day is still being looked up. */
const seen = computed(() => !loading.value && named.value === q.value)
const howMany = computed(() => chosen.value.length || (data.value?.payable ?? 0))
</script>

<template>
  <div class="grid stacks grid-cols-2 items-end gap-3 px-3.5 pt-3 md:grid-cols-[150px_1fr_150px_150px_1fr_120px]">
    <DayField v-model="to" label="Work up to" />
    <TextField v-model="q" label="Matter" optional />
    <ChoiceField
      v-model="leadId"
      label="Lead lawyer"
      :options="[{ value: 0, text: 'All' }, ...(setting?.staff ?? []).map((p) => ({ value: p.id, text: p.name }))]"
    />
    <ChoiceField
      v-model="areaId"
      label="Area"
      :options="[{ value: 0, text: 'All' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
    />
    <ContactPicker v-model="payer" label="Goes to" optional />
    <MoneyField v-model="least" label="At least" optional />
  </div>
  <p v-if="acting.message" role="alert" class="mx-3.5 mt-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ acting.message }}</p>
  <div class="flex flex-wrap items-center gap-3 px-3.5 py-2.5">
    <p class="text-ink-2" role="status">
      {{ plural(data?.total ?? 0, 'matter') }} with unbilled work<template v-if="data && data.payable < data.total"
        >; {{ data.total - data.payable }} {{ data.total - data.payable === 1 ? 'does' : 'do' }} not say who is billed</template
      >
    </p>
    <Btn v-if="may" main class="ml-auto" :busy="acting.busy" :disabled="!howMany || !to || !seen" @click="run"
      >Make {{ plural(howMany, 'pre-bill') }}</Btn
    >
  </div>
  <DataTable
    v-model:selected="chosen"
    label="Unbilled work"
    name="unbilled"
    :rows="data?.rows ?? []"
    :columns="columns"
    :row-id="(m) => m.matterId"
    :loading="loading && !data"
    :problem="problem"
    :acts="acts"
    @again="reload()"
  >
    <template #empty>Nothing is unbilled up to that day.</template>
    <template #cell-matter="{ row: m }"
      ><RouterLink :to="`/matters/${m.matterId}/time`" class="font-semibold hover:underline">{{ m.matter }}</RouterLink></template
    >
    <template #cell-billTo="{ row: m }"
      ><span :class="!m.billTo && 'text-rust'">{{ m.billTo ?? 'nobody yet' }}</span></template
    >
    <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="100" what="matters" /></template>
  </DataTable>
</template>
