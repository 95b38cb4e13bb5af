<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import State from '../ui/State.vue'
import LedgerTable from './LedgerTable.vue'
import PayOut from './PayOut.vue'

const Calls = defineAsyncComponent(() => import('./Calls.vue'))
const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const { data, problem, loading, reload } = useShown(() =>
  asks.trust.ledgers.queryOptions({ input: { matterId: props.matter.id, withMoney: 'no', size: 50 } }),
)
const paying = ref(false)
</script>

<template>
  <div class="flex items-center px-4 py-3">
    <h2>Trust</h2>
    <Btn v-if="session.may('trust.post') && data?.rows.length" class="ml-auto" @click="paying = true">Pay out</Btn>
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
    <template #empty>No money is held for this matter. It arrives by a deposit sheet.</template>
    <LedgerTable :rows="data?.rows ?? []" />
  </State>
  <div class="border-t border-line-2 [&>section]:border-0">
    <Calls :matter="{ id: matter.id, clientId: matter.clientId, client: matter.client, name: `${matter.number} ${matter.name}` }" />
  </div>
  <PayOut v-if="paying && data?.rows[0]" :from="data.rows[0]" @close="paying = false" />
</template>
