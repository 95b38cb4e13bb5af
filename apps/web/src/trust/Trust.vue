<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useCalled, useTab } from '../address'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useAct } from '../use'
import Switch from '../ui/Switch.vue'
import Balance from './Balance.vue'
import Ledgers from './Ledgers.vue'
import PaymentsTable from './PaymentsTable.vue'
import PayOut from './PayOut.vue'
import SheetTable from './SheetTable.vue'
import ToSettle from './ToSettle.vue'

const Calls = defineAsyncComponent(() => import('./Calls.vue'))
const TransferSheet = defineAsyncComponent(() => import('./TransferSheet.vue'))
const FirmMoney = defineAsyncComponent(() => import('./FirmMoney.vue'))
const Transfers = defineAsyncComponent(() => import('./Transfers.vue'))
const Checks = defineAsyncComponent(() => import('./Checks.vue'))
const Interest = defineAsyncComponent(() => import('./Interest.vue'))
const BankDid = defineAsyncComponent(() => import('./BankDid.vue'))

type Show = 'ledgers' | 'sheets' | 'payments' | 'checks' | 'calls' | 'interest' | 'settle'
const session = useSession()
const notes = useNotes()
const router = useRouter()
const show = useTab<Show>('ledgers')
const paying = useCalled('pay')
const transferring = ref(false)
const firmMoney = ref(false)
const bankDid = useCalled('bank')
const covers = useShown(() => asks.trustActs.covers.queryOptions())
const inTransit = computed(() => (covers.data.value ?? []).filter((c) => c.inTransit).slice(0, 3))
const check = useShown(() => asks.trust.check.queryOptions())

const { state, act } = useAct()
async function again() {
  const found = await act(() => api.trust.runCheck())
  if (!found) return
  notes.say(found.ok ? 'Every record agrees' : 'The records do not agree; see which differs')
  session.changed()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Trust">
      <Btn :busy="state.busy" @click="again">Check now</Btn>
      <Btn v-if="session.may('trust.post')" @click="bankDid = true">The bank did …</Btn>
      <Btn v-if="session.may('trust.post')" @click="firmMoney = true">Firm money in …</Btn>
      <Btn v-if="session.may('trust.post')" @click="transferring = true">Pay bills</Btn>
      <Btn v-if="session.may('trust.post')" @click="paying = true">Pay out</Btn>
      <Btn v-if="session.may('trust.post')" main key-name="D" @click="router.push('/trust/sheets/new')">New deposit sheet</Btn>
    </PageHead>
    <State :loading="check.loading.value && !check.data.value" :problem="check.problem.value" @again="check.reload()"
      ><Balance v-if="check.data.value" :check="check.data.value"
    /></State>
    <p
      v-if="inTransit.length && show !== 'settle'"
      role="status"
      class="sheet mb-3 flex flex-wrap items-center gap-2 bg-rust-wash px-4 py-2 text-rust"
    >
      <span v-for="c in inTransit" :key="c.id"
        >{{ showMoney(c.cover) }} from operating for {{ c.ledger }} has been in transit since {{ dayText(c.day) }}.</span
      >
      <button type="button" class="ml-auto underline" @click="show = 'settle'">Settle it</button>
    </p>
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'ledgers', text: 'Client ledgers' },
          { value: 'sheets', text: 'Deposit sheets' },
          { value: 'payments', text: 'Payments out' },
          { value: 'checks', text: 'Checks' },
          { value: 'calls', text: 'Calls' },
          { value: 'interest', text: 'Interest' },
          { value: 'settle', text: 'To settle' },
        ]"
      />
    </div>
    <Ledgers v-if="show === 'ledgers'" />
    <SheetTable v-else-if="show === 'sheets'" />
    <template v-else-if="show === 'payments'"><Transfers /><PaymentsTable /></template>
    <Checks v-else-if="show === 'checks'" />
    <Calls v-else-if="show === 'calls'" />
    <Interest v-else-if="show === 'interest'" />
    <ToSettle v-else />
    <BankDid v-if="bankDid" @close="bankDid = false" />
    <FirmMoney v-if="firmMoney" @close="firmMoney = false" />
    <TransferSheet v-if="transferring" @close="transferring = false" />
    <PayOut v-if="paying" @close="paying = false" />
  </div>
</template>
