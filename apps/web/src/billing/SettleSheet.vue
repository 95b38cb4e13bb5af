<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { settledBy } from './kinds'

type Bill = Answer<typeof api.billing.get>
export type Settling = { what: 'write off' | 'void' } | { what: 'reverse' | 'take off'; payment: Bill['payments'][number] }
/** Writes off, voids, reverses or takes off: each with a day and why, and what then becomes of the money. */
const props = defineProps<{ bill: Bill; settling: Settling }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { what } = props.settling
const payment = 'payment' in props.settling ? props.settling.payment : null
const amount = ref<number | null>(what === 'write off' ? props.bill.open : (payment?.here ?? null))
const day = ref<Day | null>(session.today)
const reason = ref('')
const name = payment ? (payment.number ? `Credit note ${payment.number}` : `${showMoney(payment.amount)} ${settledBy[payment.kind]}`) : ''
const back = payment?.kind === 'trust' ? 'The money returns to its ledger in trust.' : 'What it paid is left over as a credit of the payer.'
const words = computed(
  () =>
    ({
      'write off': {
        title: `Write off on bill ${props.bill.number}`,
        save: `Write off ${showMoney(amount.value ?? 0)}`,
        then: 'It becomes a bad debt of the firm: costs first, fees last. It can be reversed if it is paid after all.',
        done: `${showMoney(amount.value ?? 0)} written off`,
      },
      void: {
        title: `Void bill ${props.bill.number}`,
        save: 'Void the bill',
        then: `Its number stays, its lines are unbilled again, and what was paid goes back: from trust to its ledger, other money as a credit of the payer.${props.bill.others.length ? ` The bills of the other payers (${props.bill.others.map((o) => o.number).join(', ')}) are voided with it.` : ''} This cannot be taken back.`,
        done: `Bill ${props.bill.number} voided; its lines are unbilled again`,
      },
      reverse: {
        title: `Reverse: ${name}`,
        save: 'Reverse',
        then:
          payment?.kind === 'credit note' || payment?.kind === 'write-off'
            ? 'The bill is open by it again.'
            : `A mirrored journal is posted, as for a check that was returned; what it paid is open again. ${payment?.kind === 'trust' ? back : ''}`,
        done: 'Reversed; the bill is open again',
      },
      'take off': {
        title: `Take off this bill: ${name}`,
        save: `Take off ${showMoney(amount.value ?? 0)}`,
        then: `The bill is open again by so much. ${back}`,
        done: `${showMoney(amount.value ?? 0)} taken off`,
      },
    })[what],
)
const asksAmount = what === 'write off' || what === 'take off'

const { state, fault, send } = useForm(() => {
  const common = { day: day.value ?? '', reason: reason.value }
  const id = props.bill.id
  if (what === 'write off') return api.billing.writeOff({ id, amount: amount.value ?? 0, ...common })
  if (what === 'void') return api.billing.void({ id, ...common })
  if (what === 'reverse') return api.billing.reversePayment({ id: payment!.id, ...common })
  return api.billing.unapply({ id: payment!.id, billId: id, amount: amount.value ?? 0, ...common })
})

async function save() {
  if (!(await send())) return
  notes.say(words.value.done)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="words.title"
    :save="words.save"
    :busy="state.busy"
    :message="state.said"
    :changed="reason !== ''"
    @save="save"
    @close="emit('close')"
  >
    <MoneyField v-if="asksAmount" v-model="amount" label="Amount" :fault="fault('amount')" autofocus />
    <DayField v-model="day" label="On" :fault="fault('day')" />
    <TextField v-model="reason" label="Why" :fault="fault('reason')" :autofocus="!asksAmount" />
    <p class="text-ink-2">{{ words.then }}</p>
  </SideSheet>
</template>
