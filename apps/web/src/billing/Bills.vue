<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { showMoney } from '../ui/show'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'
import BillTable from './BillTable.vue'
import Credits from './Credits.vue'
import Overdue from './Overdue.vue'
import PreBills from './PreBills.vue'
import ReceivePayment from './ReceivePayment.vue'
import Runs from './Runs.vue'
import Unbilled from './Unbilled.vue'

type Show = 'pre-bills' | 'unbilled' | 'bills' | 'overdue' | 'credits' | 'runs'
const session = useSession()
const route = useRoute()
const router = useRouter()
const show = ref<Show>((route.query['show'] as Show | undefined) ?? 'pre-bills')
watch(show, (s) => void router.replace({ query: s === 'pre-bills' ? {} : { show: s } }))
const q = ref('')
const state = ref<'open' | 'paid' | 'all'>('all')
const page = ref(1)
const pre = useLoad(() => api.billing.preBills({ page: 1, size: 1 }), [() => session.tick])
const bills = useLoad(() => api.billing.list({ q: q.value, state: state.value, page: page.value, size: 50 }), [page, () => session.tick])
watch(
  [q, state],
  useDebounceFn(() => ((page.value = 1), void bills.reload()), 150),
)
const receiving = ref(route.query['receive'] === '1')
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Bills" :hint="bills.data.value ? `${showMoney(bills.data.value.totalOpen)} open on the bills listed` : ''">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'pre-bills', text: `Pre-bills (${pre.data.value?.total ?? 0})` },
          { value: 'unbilled', text: 'Unbilled' },
          { value: 'bills', text: 'Bills' },
          { value: 'overdue', text: 'Overdue' },
          { value: 'credits', text: 'Credits' },
          { value: 'runs', text: 'Runs' },
        ]"
      />
      <Btn v-if="session.may('bills.issue')" @click="receiving = true">Payment received</Btn>
    </PageHead>
    <section v-if="show === 'pre-bills'" class="sheet" aria-label="Pre-bills"><PreBills @unbilled="show = 'unbilled'" /></section>
    <section v-else-if="show === 'unbilled'" class="sheet" aria-label="Unbilled"><Unbilled /></section>
    <section v-else-if="show === 'overdue'" class="sheet" aria-label="Overdue bills"><Overdue /></section>
    <section v-else-if="show === 'runs'" class="sheet" aria-label="Runs of bills"><Runs /></section>
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
