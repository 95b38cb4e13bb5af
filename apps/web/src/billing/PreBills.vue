<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import SideSheet from '../ui/SideSheet.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { plural, showMoney } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { useForm } from '../ui/form'
import { useOpening } from '../use'

/** Pre-bills that wait: to be reviewed one after another, and approved ones to be issued together. */
defineEmits<{ unbilled: [] }>()
const session = useSession()
const router = useRouter()
const { q, state, page } = useFiltered({ q: '', state: 'all' as 'all' | 'review' | 'approved', page: 1 })
const named = refDebounced(q, 150)
watch([named, state], () => ((page.value = 1), (chosen.value = [])))
const chosen = ref<(number | string)[]>([])
const { data, problem, loading, reload } = useShown(() =>
  asks.billing.preBills.queryOptions({ input: { q: named.value, state: state.value, page: page.value, size: 100 } }),
)
type PreBill = Answer<typeof api.billing.preBills>['rows'][number]
const columns: Column<PreBill>[] = [
  { key: 'matter', text: 'Matter', grow: 2, narrow: 'title' },
  { key: 'payer', text: 'Goes to', grow: 1 },
  { key: 'workTo', text: 'Work to', kind: 'day', quiet: true },
  { key: 'state', text: 'State', size: 100 },
  { key: 'lines', text: 'Lines', kind: 'number' },
  { key: 'total', text: 'This bill', kind: 'money', strong: true },
]
const ready = computed(() => (data.value?.rows ?? []).filter((p) => p.state === 'approved' && chosen.value.includes(p.id)))

const issuing = ref(false)
const day = ref<Day | null>(session.today)
const sending = ref(true)
useOpening(issuing, () => ((day.value = session.today), (sending.value = true)))
const {
  state: acting,
  fault,
  send,
} = useForm(() => api.billing.startIssuing({ day: day.value ?? '', preBillIds: ready.value.map((p) => p.id), send: sending.value }))
async function issue() {
  const run = await send()
  if (run) await router.push(`/bills/runs/${run.id}`)
}
</script>

<template>
  <div class="flex flex-wrap items-end gap-3 px-3.5 py-3">
    <div class="w-72 max-w-full"><TextField v-model="q" label="Find by matter or payer" bare placeholder="Matter or payer" /></div>
    <Switch
      v-model="state"
      label="State"
      :options="[
        { value: 'all', text: 'All' },
        { value: 'review', text: `To review (${data?.review.count ?? 0})` },
        { value: 'approved', text: `Approved (${data?.approved.count ?? 0})` },
      ]"
    />
    <p class="pb-1 text-ink-2">{{ showMoney(data?.review.total ?? 0) }} to review, {{ showMoney(data?.approved.total ?? 0) }} approved</p>
    <Btn v-if="session.may('bills.issue')" main class="ml-auto" :disabled="!ready.length" @click="issuing = true"
      >Issue {{ ready.length || '' }} …</Btn
    >
  </div>
  <DataTable
    v-model:selected="chosen"
    label="Pre-bills"
    name="pre-bills"
    :rows="data?.rows ?? []"
    :columns="columns"
    :row-id="(p) => p.id"
    :loading="loading && !data"
    :problem="problem"
    :open="(p) => router.push(`/bills/pre/${p.id}`)"
    @again="reload()"
  >
    <template #empty
      >No pre-bill waits. <button type="button" class="text-lagoon underline" @click="$emit('unbilled')">See what is unbilled</button> and
      make some.</template
    >
    <template #cell-matter="{ row: p }"
      ><RouterLink :to="`/bills/pre/${p.id}`" class="font-semibold hover:underline">{{ p.matter }}</RouterLink></template
    >
    <template #cell-state="{ row: p }"
      ><span class="tag" :class="p.state === 'approved' ? 'bg-lagoon-wash text-lagoon' : 'bg-bill-wash text-bill-ink'">{{
        p.state === 'review' ? 'to review' : p.state
      }}</span></template
    >
    <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="100" what="pre-bills" /></template>
  </DataTable>
  <SideSheet
    v-if="issuing"
    :title="`Issue ${plural(ready.length, 'bill')}`"
    :save="`Issue ${plural(ready.length, 'bill')}`"
    :busy="acting.busy"
    :message="acting.said"
    @save="issue"
    @close="issuing = false"
  >
    <DayField v-model="day" label="Dated" :fault="fault('day')" />
    <label class="flex gap-2"
      ><input v-model="sending" type="checkbox" class="mt-[3px] accent-ink" /> Send each by e-mail to whom it goes, in the firm’s
      words</label
    >
    <p class="text-ink-2">
      Each is issued for itself, with the next number. What cannot be issued stays a pre-bill, and the run says why. You need not wait for
      it.
    </p>
  </SideSheet>
</template>
