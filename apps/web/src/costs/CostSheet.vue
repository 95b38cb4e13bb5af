<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { useQuote } from '../ui/quote'
import { searchMatters } from '../ui/search'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedBasisPoints, useLoad } from '../use'
import CostFields from './CostFields.vue'
import { emptyCost } from './form'

/** A cost of a matter: by units of its kind or by an amount, and out of which pocket it was paid. */
const props = defineProps<{ matter?: Choice | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const matter = ref<Choice | null>(props.matter ?? null)
const form = ref(emptyCost(session.today))
const markup = ref('')
const from = ref<'operating' | 'trust' | 'owed'>('operating')
const ledgerId = ref(0)
const method = ref<'check' | 'wire'>('check')
const payeeAddress = ref('')
const receipt = ref<Choice | null>(null)
const trusting = session.may('trust.post')
const { data: ledgers } = useLoad(
  async () => (trusting && matter.value ? (await api.trust.ledgers({ matterId: matter.value.id })).rows : []),
  [matter],
)
watch(ledgers, (l) => {
  ledgerId.value = l?.[0]?.id ?? 0
  // What the client before had in trust pays nothing here.
  if (!l?.length && from.value === 'trust') from.value = 'operating'
})
watch(
  () => matter.value?.id,
  () => {
    ledgerId.value = 0
    receipt.value = null
  },
)
const papersOf = async (q: string): Promise<Choice[]> =>
  matter.value
    ? (await api.papers.list({ matterId: matter.value.id, q, size: 8 })).rows.map((p) => ({ id: p.id, text: p.name, hint: p.folder }))
    : []
const basisPoints = () => typedBasisPoints(markup.value)

const { shown: quoted, now: quotedNow } = useQuote(
  () => ({ kindId: form.value.kindId, units: form.value.units, amount: form.value.amount, markup: basisPoints() }),
  (asked) => (asked.kindId && (asked.units || asked.amount) ? api.costs.quote(asked) : null),
)
const changed = computed(() => Boolean(form.value.text || form.value.units || form.value.amount))

const paidByTrust = () => form.value.hard && from.value === 'trust'
const { state, fault, send } = useForm(() => {
  const { hard, billable, ...f } = form.value
  const trust = paidByTrust()
  return api.costs.record({
    ...f,
    id: matter.value?.id ?? 0,
    day: f.day ?? '',
    markup: trust ? null : basisPoints(),
    billable: trust ? null : billable,
    paidFrom: hard ? from.value : 'operating',
    receiptId: receipt.value?.id ?? null,
    ...(trust ? { ledgerId: ledgerId.value || null, method: method.value, payeeAddress: payeeAddress.value } : {}),
  })
})

async function save(next: boolean) {
  const trust = paidByTrust()
  const told = quotedNow()
  const made = await send()
  if (!made) return
  const sum = told ? showMoney(told.amount) : 'Cost'
  notes.say(trust ? `${sum} recorded. The payment waits under Trust, to be posted` : `${sum} recorded`)
  session.changed()
  if (!next) return emit('close')
  // The next line stands open with the same matter, kind and day.
  form.value = { ...form.value, units: '', amount: null, text: '' }
  receipt.value = null
}
</script>

<template>
  <SideSheet
    title="Record a cost"
    save="Record cost"
    :busy="state.busy"
    :message="state.said"
    :changed="changed"
    @save="save(false)"
    @close="emit('close')"
  >
    <Picker v-if="!props.matter" v-model="matter" label="Matter" :search="searchMatters" :fault="fault('id')" autofocus />
    <CostFields v-model="form" :fault="fault" :focus="Boolean(props.matter)" />
    <template v-if="form.hard">
      <ChoiceField
        v-model="from"
        label="Paid from"
        :fault="fault('paidFrom')"
        :options="[
          { value: 'operating', text: 'The operating account' },
          ...(trusting && ledgers?.length ? [{ value: 'trust' as const, text: 'The client’s money in trust' }] : []),
          { value: 'owed', text: 'Not paid yet: owed to the vendor' },
        ]"
      />
      <template v-if="from === 'trust'">
        <ChoiceField
          v-model="ledgerId"
          label="Out of"
          :fault="fault('ledgerId')"
          :options="(ledgers ?? []).map((l) => ({ value: l.id, text: `${l.bank}: ${showMoney(l.available)} available` }))"
        />
        <ChoiceField
          v-model="method"
          label="By"
          :options="[
            { value: 'check', text: 'Check' },
            { value: 'wire', text: 'Wire' },
          ]"
        />
        <TextField v-if="method === 'check'" v-model="payeeAddress" label="Address of the payee" optional :lines="2" />
        <p class="text-ink-2">The payment is drafted with it and waits under Trust. The bill tells this cost and does not charge it.</p>
      </template>
    </template>
    <TextField
      v-if="!(form.hard && from === 'trust')"
      v-model="markup"
      label="Markup in percent"
      optional
      hint="Empty: as usual for the kind"
      :fault="fault('markup')"
    />
    <Picker
      v-model="receipt"
      label="Receipt, a paper of the matter"
      optional
      :search="papersOf"
      :again="matter?.id"
      :fault="fault('receiptId')"
    />
    <label v-if="!(form.hard && from === 'trust')" class="flex items-center gap-2"
      ><input v-model="form.billable" type="checkbox" class="accent-ink" /> To be billed to the client</label
    >
    <p v-if="quoted" class="rounded-control bg-mist px-3 py-2" role="status" aria-label="Comes to">
      {{ quoted.how ? `${quoted.how} = ` : '' }}<b>{{ showMoney(quoted.amount) }}</b>
    </p>
    <template #more><Btn :busy="state.busy" @click="save(true)">Record and next</Btn></template>
  </SideSheet>
</template>
