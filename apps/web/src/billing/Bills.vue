<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { plural, showMoney } from '../ui/show'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import BillTable from './BillTable.vue'
import Credits from './Credits.vue'
import ReceivePayment from './ReceivePayment.vue'

type Show = 'pre-bills' | 'unbilled' | 'bills' | 'credits'
const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const show = ref<Show>((route.query['show'] as Show | undefined) ?? 'pre-bills')
watch(show, (s) => void router.replace({ query: s === 'pre-bills' ? {} : { show: s } }))
const to = ref<string | null>(session.today)
const q = ref('')
const state = ref<'open' | 'paid' | 'all'>('all')
const page = ref(1)
const unbilledPage = ref(1)
watch(to, () => (unbilledPage.value = 1))
const pre = useLoad(() => api.billing.preBills(), [() => session.tick])
const unbilled = useLoad(
  async () => (show.value === 'unbilled' && to.value ? api.billing.unbilled({ to: to.value, page: unbilledPage.value, size: 100 }) : null),
  [show, to, unbilledPage, () => session.tick],
)
const bills = useLoad(() => api.billing.list({ q: q.value, state: state.value, page: page.value, size: 50 }), [page, () => session.tick])
watch(
  [q, state],
  useDebounceFn(() => ((page.value = 1), void bills.reload()), 150),
)
const { state: acting, act } = useAct()
const receiving = ref(route.query['receive'] === '1')
type PreBill = Answer<typeof api.billing.preBills>[number]
type Unbilled = Answer<typeof api.billing.unbilled>['rows'][number]
const preColumns: Column<PreBill>[] = [
  { key: 'matter', text: 'Matter', grow: 2, sort: true, narrow: 'title' },
  { key: 'payer', text: 'Goes to', grow: 1, sort: true },
  { key: 'workTo', text: 'Work to', kind: 'day', sort: true, quiet: true },
  { key: 'state', text: 'State', size: 100, sort: true },
  { key: 'lines', text: 'Lines', kind: 'number', sort: true },
  { key: 'total', text: 'This bill', kind: 'money', sort: true, strong: true },
]
const unbilledColumns = computed((): Column<Unbilled>[] => [
  { key: 'number', text: 'Number', size: 98, quiet: true },
  { key: 'matter', text: 'Matter', grow: 2, narrow: 'title' },
  { key: 'client', text: 'Client', hidden: true, quiet: true },
  { key: 'billTo', text: 'Goes to', grow: 1 },
  { key: 'oldest', text: 'Oldest', kind: 'day', quiet: true },
  { key: 'time', text: 'Time', kind: 'money' },
  { key: 'flat', text: 'Flat fee', kind: 'money', show: (m) => (m.flat ? showMoney(m.flat) : '') },
  { key: 'costs', text: 'Costs', kind: 'money', show: (m) => (m.costs ? showMoney(m.costs) : '') },
  { key: 'together', text: 'Together', kind: 'money', strong: true, total: showMoney(unbilled.data.value?.together ?? 0) },
])
const unbilledActs = (m: Unbilled): Act[] =>
  session.may('bills.review')
    ? [{ text: m.billTo ? 'Make a pre-bill' : 'Say first who is billed', disabled: !m.billTo || acting.busy, act: () => make(m.matterId) }]
    : []

async function make(matterId: number) {
  const made = await act(() => api.billing.makePreBill({ matterId, workTo: to.value ?? '' }))
  if (!made) return
  notes.say('Pre-bill made')
  session.changed()
  await router.push(`/bills/pre/${made.id}`)
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Bills" :hint="bills.data.value ? `${showMoney(bills.data.value.totalOpen)} open on the bills listed` : ''">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'pre-bills', text: `Pre-bills (${pre.data.value?.length ?? 0})` },
          { value: 'unbilled', text: 'Unbilled' },
          { value: 'bills', text: 'Bills' },
          { value: 'credits', text: 'Credits' },
        ]"
      />
      <Btn v-if="session.may('bills.issue')" @click="receiving = true">Payment received</Btn>
    </PageHead>
    <p v-if="acting.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ acting.message }}</p>
    <section v-if="show === 'pre-bills'" class="sheet" aria-label="Pre-bills">
      <DataTable
        label="Pre-bills"
        name="pre-bills"
        :rows="pre.data.value ?? []"
        :columns="preColumns"
        :row-id="(p) => p.id"
        :loading="pre.loading.value"
        :problem="pre.problem.value"
        :open="(p) => router.push(`/bills/pre/${p.id}`)"
        @again="pre.reload()"
      >
        <template #empty
          >No pre-bill waits.
          <button type="button" class="text-lagoon underline" @click="show = 'unbilled'">See what is unbilled</button> and make
          one.</template
        >
        <template #cell-matter="{ row: p }"
          ><RouterLink :to="`/bills/pre/${p.id}`" class="font-semibold hover:underline">{{ p.matter }}</RouterLink></template
        >
        <template #cell-state="{ row: p }"
          ><span class="tag" :class="p.state === 'approved' ? 'bg-lagoon-wash text-lagoon' : 'bg-bill-wash text-bill-ink'">{{
            p.state === 'review' ? 'to review' : p.state
          }}</span></template
        >
      </DataTable>
    </section>
    <section v-else-if="show === 'unbilled'" class="sheet" aria-label="Unbilled">
      <div class="flex items-end gap-3 px-3.5 py-3">
        <div class="w-48"><DayField v-model="to" label="Work up to" /></div>
        <p class="pb-1.5 text-ink-2">{{ plural(unbilled.data.value?.total ?? 0, 'matter') }} with unbilled work</p>
      </div>
      <DataTable
        label="Unbilled work"
        name="unbilled"
        :rows="unbilled.data.value?.rows ?? []"
        :columns="unbilledColumns"
        :row-id="(m) => m.matterId"
        :loading="unbilled.loading.value"
        :problem="unbilled.problem.value"
        :acts="unbilledActs"
        @again="unbilled.reload()"
      >
        <template #empty>Nothing is unbilled up to that day.</template>
        <template #cell-matter="{ row: m }"
          ><RouterLink :to="`/matters/${m.matterId}/time`" class="font-semibold hover:underline">{{ m.matter }}</RouterLink></template
        >
        <template #cell-billTo="{ row: m }"
          ><span :class="!m.billTo && 'text-rust'">{{ m.billTo ?? 'nobody yet' }}</span></template
        >
        <template #foot><Pager v-model="unbilledPage" :total="unbilled.data.value?.total ?? 0" :size="100" what="matters" /></template>
      </DataTable>
    </section>
    <section v-else-if="show === 'credits'" class="sheet" aria-label="Credits of payers"><Credits /></section>
    <section v-else class="sheet" aria-label="Issued bills">
      <div class="grid stacks grid-cols-[1fr_auto] items-end gap-3 px-3.5 py-3">
        <TextField v-model="q" label="Find by number, matter or payer" /><Switch
          v-model="state"
          label="State"
          :options="[
            { value: 'all', text: 'All' },
            { value: 'open', text: 'Open' },
            { value: 'paid', text: 'Paid' },
          ]"
        />
      </div>
      <BillTable
        :rows="bills.data.value?.rows ?? []"
        :loading="bills.loading.value"
        :problem="bills.problem.value"
        :total-open="bills.data.value?.totalOpen"
        show-matter
        @again="bills.reload()"
      >
        <template #empty>No bill fits.</template>
        <template #foot><Pager v-model="page" :total="bills.data.value?.total ?? 0" :size="50" what="bills" /></template>
      </BillTable>
    </section>
    <ReceivePayment v-if="receiving" @close="receiving = false" />
  </div>
</template>
