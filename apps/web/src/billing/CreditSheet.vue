<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** What is done with money that is on no bill: applied to one, paid back, or moved into trust. */
const props = defineProps<{ credit: Answer<typeof api.billing.credits>['rows'][number]; what: 'apply' | 'refund' | 'to trust' }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const amount = ref<number | null>(props.credit.credit)
const day = ref<Day | null>(session.today)
const reference = ref('')
const billId = ref(0)
const trustAccountId = ref(0)
const matter = ref<Choice | null>(null)
const { data: stands } = useLoad(() => api.billing.payer({ id: props.credit.payerId }))
const { data: accounts } = useLoad(() => (props.what === 'to trust' ? api.trust.accounts() : Promise.resolve([])))
const trust = computed(() => (accounts.value ?? []).filter((a) => a.kind === 'pooled'))
watch(trust, (t) => (trustAccountId.value ||= t[0]?.id ?? 0))
watch([stands, billId], () => {
  const bills = stands.value?.bills ?? []
  billId.value ||= bills[0]?.id ?? 0
  const open = bills.find((b) => b.id === billId.value)?.open
  if (props.what === 'apply' && open !== undefined) amount.value = Math.min(open, props.credit.credit)
})
const title = { apply: 'Apply to a bill', refund: 'Pay back', 'to trust': 'Move to trust' }[props.what]

const { state, fault, send } = useForm(() => {
  const { id } = props.credit
  const use = { id, amount: amount.value ?? 0, day: day.value ?? '', reference: reference.value }
  if (props.what === 'apply') return api.billing.applyCredit({ id, billId: billId.value, amount: use.amount, day: use.day })
  if (props.what === 'refund') return api.billing.refund(use)
  return api.billing.toTrust({ ...use, trustAccountId: trustAccountId.value, matterId: matter.value?.id ?? null })
})

async function save() {
  if (!(await send())) return
  notes.say(`${showMoney(amount.value ?? 0)} ${{ apply: 'applied', refund: 'paid back', 'to trust': 'moved to trust' }[props.what]}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`${title}: credit of ${credit.payer}`"
    :save="`${title} ${showMoney(amount ?? 0)}`"
    :busy="state.busy"
    :message="state.said"
    :changed="reference !== ''"
    :disabled="what === 'apply' && !stands?.bills.length"
    :waiting="what === 'apply' && !stands"
    @save="save"
    @close="emit('close')"
  >
    <p>
      <b>{{ showMoney(credit.credit) }}</b> is left over of {{ showMoney(credit.amount) }}.
    </p>
    <template v-if="what === 'apply'">
      <p v-if="stands && !stands.bills.length" class="text-ink-2">This payer has no open bill.</p>
      <ChoiceField
        v-else
        v-model="billId"
        label="Bill"
        :options="(stands?.bills ?? []).map((b) => ({ value: b.id, text: `${b.number}, ${b.matter}: ${showMoney(b.open)} open` }))"
        :fault="fault('billId')"
      />
    </template>
    <template v-if="what === 'to trust'">
      <ChoiceField
        v-model="trustAccountId"
        label="Trust account"
        :options="trust.map((t) => ({ value: t.id, text: t.name }))"
        :fault="fault('trustAccountId')"
      />
      <Picker
        v-model="matter"
        label="For matter"
        :search="searchMatters"
        optional
        :fault="fault('matterId')"
        hint="Empty: for the client as a whole"
      />
    </template>
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="amount" label="Amount" :fault="fault('amount')" autofocus />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <TextField v-if="what !== 'apply'" v-model="reference" label="Reference" optional :fault="fault('reference')" />
    <p class="text-ink-2">
      {{
        what === 'apply'
          ? 'No money moves; it is owed to the payer no longer.'
          : what === 'refund'
            ? 'It goes out of operating.'
            : 'It goes out of operating and into the payer’s own ledger in trust.'
      }}
    </p>
  </SideSheet>
</template>
