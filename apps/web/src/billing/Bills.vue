<script setup lang="ts">
import { useCalled, useTab } from '../address'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Switch from '../ui/Switch.vue'
import Credits from './Credits.vue'
import Issued from './Issued.vue'
import Overdue from './Overdue.vue'
import PreBills from './PreBills.vue'
import ReceivePayment from './ReceivePayment.vue'
import Runs from './Runs.vue'
import Unbilled from './Unbilled.vue'

type Show = 'pre-bills' | 'unbilled' | 'bills' | 'overdue' | 'credits' | 'runs'
const session = useSession()
const show = useTab<Show>('pre-bills')
const pre = useShown(() => asks.billing.preBills.queryOptions({ input: { page: 1, size: 1 } }))
const receiving = useCalled('receive')
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Bills">
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
    <Issued v-else />
    <ReceivePayment v-if="receiving" @close="receiving = false" />
  </div>
</template>
