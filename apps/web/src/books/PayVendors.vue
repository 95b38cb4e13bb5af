<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { sayPrinting } from '../trust/printing'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** Pays chosen bills of vendors in one run. */
const props = defineProps<{ ids: readonly number[] }>()
const emit = defineEmits<{ close: []; paid: [checks: number] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const banks = computed(() => (accounts.value ?? []).filter((a) => a.kind === 'operating'))
const bank = ref(0)
watch(banks, (list) => (bank.value ||= list[0]?.id ?? 0))
const day = ref<Day | null>(session.today)
const method = ref<'check' | 'transfer'>('check')
const taking = ref(true)
const { data, problem, loading, reload } = useLoad(
  () => api.vendors.runAhead({ day: day.value ?? session.today, ids: [...props.ids], takeDiscounts: taking.value }),
  [day, taking],
)
const amounts = ref<Record<number, number | null>>({})
/** Bills of which somebody typed what is paid: it stays, whatever comes later. */
const typed = new Set<number>()
watch(data, (d) => {
  amounts.value = Object.fromEntries((d?.bills ?? []).map((b) => [b.id, typed.has(b.id) ? (amounts.value[b.id] ?? null) : b.amount]))
})
function pays(id: number, amount: number | null) {
  typed.add(id)
  amounts.value[id] = amount
}
const total = computed(() => typedSum(Object.values(amounts.value)))
const paid = ref<{ id: number; vendor: string; checkNo: number | null; amount: number }[] | null>(null)
const { state, fault, send } = useForm(() =>
  api.vendors.run({
    bankAccountId: bank.value || null,
    day: day.value ?? '',
    method: method.value,
    parts: (data.value?.bills ?? []).map((b) => ({ billId: b.id, amount: amounts.value[b.id] ?? 0 })),
  }),
)

async function save() {
  if (paid.value) {
    emit('paid', checks.value.length)
    return
  }
  const done = await send()
  if (!done) return
  const what = `${showMoney(done.amount)} paid in ${plural(done.payments.length, 'payment')}`
  if (done.printJob) sayPrinting(notes, 'operating', done.printJob, what)
  else notes.say(what)
  session.changed()
  paid.value = done.payments
}
const checks = computed(() => (paid.value ?? []).filter((p) => p.checkNo))
</script>

<template>
  <SideSheet
    title="Pay vendors"
    wide
    :save="paid ? 'Done' : `Pay ${showMoney(total)}`"
    :busy="state.busy"
    :message="state.said"
    :disabled="!paid && (loading || !data?.bills.length)"
    @save="save"
    @close="paid ? emit('paid', checks.length) : emit('close')"
  >
    <template v-if="paid">
      <p v-for="p in paid" :key="p.id" class="flex gap-3 border-t border-line-2 py-1.5">
        <span>{{ p.checkNo ? `Check ${p.checkNo}` : 'Transfer' }}, {{ p.vendor }}</span
        ><span class="ml-auto tabular-nums">{{ showMoney(p.amount) }}</span>
      </p>
      <p v-if="checks.length">{{ plural(checks.length, 'check') }} to be printed: that is next, under payments.</p>
    </template>
    <template v-else>
      <div class="grid stacks grid-cols-3 gap-3">
        <ChoiceField
          v-model="bank"
          label="Out of"
          :options="banks.map((b) => ({ value: b.id, text: b.name }))"
          :fault="fault('bankAccountId')"
          autofocus
        />
        <DayField v-model="day" label="On" :fault="fault('day')" />
        <ChoiceField
          v-model="method"
          label="By"
          :options="[
            { value: 'check', text: 'check' },
            { value: 'transfer', text: 'transfer' },
          ]"
        />
      </div>
      <label class="flex gap-2"><input v-model="taking" type="checkbox" class="accent-ink" /> Take discounts that are still open</label>
      <State :loading="!data" :problem="problem" @again="reload()">
        <div
          v-for="(b, i) in data?.bills ?? []"
          :key="b.id"
          class="grid stacks grid-cols-[1fr_120px_150px] items-end gap-3 border-t border-line-2 py-2"
        >
          <span class="pb-1.5"
            >{{ b.vendor }}<span class="block text-ink-2">{{ b.number || 'no number' }}, {{ showMoney(b.open) }} open</span></span
          >
          <span class="pb-1.5 text-right text-lagoon tabular-nums">{{ b.discount ? `less ${showMoney(b.discount)}` : '' }}</span>
          <MoneyField
            :model-value="amounts[b.id] ?? null"
            :label="`Pay ${b.number || b.vendor}`"
            :fault="fault(`parts.${i}.amount`)"
            @update:model-value="pays(b.id, $event)"
          />
        </div>
      </State>
      <p v-if="data" class="border-t border-line pt-2">
        {{ plural(data.payees, 'payment') }}, one for each vendor.
        {{ data.discount ? `Paid whole, ${showMoney(data.discount)} is let off.` : '' }}
      </p>
    </template>
  </SideSheet>
</template>
