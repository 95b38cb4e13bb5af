<script setup lang="ts">
import { arrangementNames, hasContingentFee } from '@heron/core/billing'
import { computed, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ActMenu, { type Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { sure } from '../ui/question'
import { useAct } from '../use'
import ArrangementSheet from './ArrangementSheet.vue'
import FeeShares from './FeeShares.vue'
import SettlementPayments from './SettlementPayments.vue'
import SettlementSheet from './SettlementSheet.vue'

/** How a matter is paid for, its fees as they are reached and billed, and how recoveries were shared. */
const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const { data, problem, reload } = useShown(() => asks.matters.arrangement.queryOptions({ input: { id: props.matter.id } }))
const { data: settlements, ...ofSettlements } = useShown(() => asks.billing.settlements.queryOptions({ input: { matterId: props.matter.id } })) // prettier-ignore
const { data: shares, ...ofShares } = useShown(() => asks.billing.feeShares.queryOptions({ input: { id: props.matter.id } }))
/** What could not be read: without it nobody shares a recovery a second time, or takes a fee for nobody's. */
const unread = computed(() => problem.value || ofSettlements.problem.value || ofShares.problem.value)
const readAgain = () => Promise.all([reload(), ofSettlements.reload(), ofShares.reload()])
const sharing = ref(false)
const changing = ref(false)
const settling = ref(false)
const paying = ref<number | null>(null)
const may = computed(() => session.may('bills.review') && props.matter.own.money > 1 && !props.matter.closedOn)
const stateOf = (p: NonNullable<typeof data.value>['portions'][number]) =>
  [
    p.added
      ? 'beside the arrangement'
      : p.due === 'opening'
        ? 'charged at opening'
        : p.stage
          ? `charged at stage ${p.stage}`
          : 'charged when reached',
    p.earnedOn ? `reached ${dayText(p.earnedOn)}` : 'not yet reached',
  ].join(', ')
async function reach(id: number, label: string) {
  if (!(await act(() => api.matters.earnPortion({ id, day: session.today })))) return
  notes.say(`Reached: ${label}`)
  session.changed()
}
async function withdraw(id: number) {
  if (
    !(await sure(
      'Withdraw the settlement',
      'Its fee is gone, and a pre-bill that has the fee is dropped. To share the recovery it is entered anew.',
      'Withdraw it',
    ))
  )
    return
  if (!(await act(() => api.billing.withdrawSettlement({ id })))) return
  notes.say('Settlement withdrawn; its fee is gone, and what was unbilled stays so')
  session.changed()
}
type Settlement = NonNullable<typeof settlements.value>[number]
const paidOut = (s: Settlement) => [s.clientState, ...s.liens.map((l) => l.state)]
const actsOn = (s: Settlement): Act[] => [
  { text: 'Statement as PDF', to: `/api/settlements/${s.id}/pdf`, out: true },
  ...(s.withdrawnOn || !session.may('trust.post') ? [] : [{ text: 'Draft the payments', act: () => (paying.value = s.id) }]),
  ...(s.withdrawnOn || s.billId || !may.value ? [] : [{ text: 'Withdraw', act: () => withdraw(s.id) }]),
]
const standsAs = (s: Settlement) =>
  s.withdrawnOn
    ? `withdrawn ${dayText(s.withdrawnOn)}`
    : [
        s.billed ? `fee on bill ${s.billed}` : 'fee not billed yet',
        paidOut(s).every((p) => p === 'posted')
          ? 'paid out'
          : paidOut(s).some((p) => p === 'draft' || p === 'posted')
            ? 'payments drafted'
            : 'not paid out yet',
      ].join(', ')
</script>

<template>
  <State v-if="unread" :problem="unread" @again="readAgain()" />
  <section v-else-if="data" class="border-b border-line-2 px-4 py-3" aria-label="Arrangement">
    <div class="flex items-center gap-2">
      <h2>{{ arrangementNames[data.billing] }}</h2>
      <span v-if="data.history.length > 1" class="text-ink-2">
        since {{ dayText(data.history.at(-1)!.from) }}, before {{ arrangementNames[data.history.at(-2)!.billing].toLowerCase() }}
      </span>
      <span v-if="may" class="ml-auto flex gap-2">
        <Btn v-if="hasContingentFee(data.billing) && data.contingent" @click="settling = true">Share a recovery</Btn>
        <Btn @click="changing = true">Change arrangement</Btn>
      </span>
    </div>
    <p v-if="state.message" role="alert" class="mt-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <p v-if="data.contingent && hasContingentFee(data.billing)" class="mt-1">
      Fee of {{ data.contingent.feeOf === 'gross' ? 'what is recovered' : 'what is left after costs' }}:
      {{ data.contingent.stages.map((s) => `${s.label} ${s.share}`).join('; ') }}.
    </p>
    <p v-if="data.retainer" class="mt-1">
      Retainer: <template v-if="data.retainer.held !== null">{{ showMoney(data.retainer.held) }} held, </template>at least
      {{ showMoney(data.retainer.floor) }}.
      <span v-if="data.retainer.ask" class="text-bill-ink">Ask the client for {{ showMoney(data.retainer.ask) }}.</span>
    </p>
    <p v-if="data.portions.length && shares" class="mt-1 flex items-center gap-2">
      <span v-if="shares.shares.length"
        >Fees are shared: {{ shares.shares.map((s) => `${s.name} ${s.basisPoints / 100} %`).join(', ') }}.</span
      >
      <span v-else class="text-ink-2">Fees belong to those who did the work, by its recorded value.</span>
      <Btn v-if="may" small class="ml-auto" @click="sharing = true">Share …</Btn>
    </p>
    <div v-for="p in data.portions" :key="p.id" class="mt-1 flex items-center gap-2 border-t border-line-2 pt-1">
      <span>
        {{ p.label }} <span class="text-ink-2">{{ stateOf(p) }}</span>
        <RouterLink v-if="p.billId" :to="`/bills/${p.billId}`" class="ml-1 underline">{{ p.bill }}</RouterLink>
      </span>
      <span class="ml-auto">{{ showMoney(p.amount) }}</span>
      <Btn v-if="may && !p.earnedOn" small :busy="state.busy" :aria-label="`Reached: ${p.label}`" @click="reach(p.id, p.label)"
        >Reached</Btn
      >
    </div>
    <div
      v-for="s in settlements ?? []"
      :key="s.id"
      class="mt-1 flex items-center gap-2 border-t border-line-2 pt-1"
      :class="s.withdrawnOn ? 'text-ink-3' : ''"
    >
      <span>
        Recovered {{ dayText(s.recoveredOn) }} of {{ s.fromWhom }}
        <span class="text-ink-2"
          >{{ s.stage }}, fee {{ showMoney(s.fee) }}, {{ showMoney(s.toClient) }} to the client; {{ standsAs(s) }}</span
        >
      </span>
      <span class="ml-auto">{{ showMoney(s.gross) }}</span>
      <ActMenu :label="`More on the settlement of ${dayText(s.recoveredOn)}`" :acts="actsOn(s)" />
    </div>
    <FeeShares v-if="sharing && shares" :matter="matter" :kept="shares" @close="sharing = false" />
    <ArrangementSheet v-if="changing" :matter="matter" :kept="data" @close="changing = false" />
    <SettlementSheet v-if="settling && data.contingent" :matter="matter" :terms="data.contingent" @close="settling = false" />
    <SettlementPayments v-if="paying" :id="paying" :matter-id="matter.id" @close="paying = null" />
  </section>
</template>
