<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** Pays many issued bills out of one trust account; both banks see one movement. */
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const trust = computed(() => (accounts.value ?? []).filter((a) => a.kind !== 'operating'))
const operating = computed(() => (accounts.value ?? []).filter((a) => a.kind === 'operating'))
const from = ref(0)
const to = ref(0)
watch(accounts, () => {
  from.value ||= trust.value[0]?.id ?? 0
  to.value ||= operating.value[0]?.id ?? 0
})
const day = ref<Day | null>(session.today)
const { data, problem, loading, reload } = useLoad(
  () => (from.value && day.value ? api.trust.transferAhead({ bankAccountId: from.value, day: day.value }) : Promise.resolve(null)),
  [from, day],
)
const amounts = ref<Record<string, number | null>>({})
const taken = ref<Record<string, boolean>>({})
const keyOf = (r: { ledgerId: number; billId: number }) => `${r.ledgerId} ${r.billId}`
watch(data, (d) => {
  amounts.value = Object.fromEntries((d?.rows ?? []).map((r) => [keyOf(r), r.amount]))
  // Nothing moves that nobody has chosen.
  taken.value = {}
})
const chosen = computed(() => (data.value?.rows ?? []).filter((r) => taken.value[keyOf(r)]))
const total = computed(() => typedSum(chosen.value.map((r) => amounts.value[keyOf(r)])))
const changed = ref(false)
const { state, fault, send } = useForm(() =>
  api.trust.makeTransfer({
    bankAccountId: from.value,
    operatingAccountId: to.value || null,
    day: day.value ?? '',
    parts: chosen.value.map((r) => ({ ledgerId: r.ledgerId, billId: r.billId, amount: amounts.value[keyOf(r)] ?? 0 })),
  }),
)

async function save() {
  const done = await send()
  if (!done) return
  notes.say(`Transfer sheet ${done.number}: ${showMoney(done.total)} to operating`)
  session.changed()
  emit('close')
}
function takeAll() {
  taken.value = Object.fromEntries((data.value?.rows ?? []).map((r) => [keyOf(r), r.amount > 0]))
  changed.value = true
}
const at = (r: { ledgerId: number; billId: number }) => chosen.value.findIndex((c) => keyOf(c) === keyOf(r))
</script>

<template>
  <SideSheet
    title="Pay bills from trust"
    wide
    :save="`Transfer ${showMoney(total)}`"
    :busy="state.busy"
    :message="state.said"
    :disabled="loading || !chosen.length"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-[1fr_1fr_170px] gap-3">
      <ChoiceField
        v-model="from"
        label="Out of"
        :options="trust.map((a) => ({ value: a.id, text: a.name }))"
        :fault="fault('bankAccountId')"
        autofocus
      />
      <ChoiceField
        v-model="to"
        label="Into"
        :options="operating.map((a) => ({ value: a.id, text: a.name }))"
        :fault="fault('operatingAccountId')"
      />
      <DayField v-model="day" label="On" :fault="fault('day')" />
    </div>
    <div class="flex items-end gap-3">
      <p class="text-ink-2">
        Each bill is paid by its own payer’s money, in a journal of its own. Both banks see one movement.
        <template v-if="data?.more"
          >One sheet takes {{ plural(data.rows.length, 'bill') }}: make another for those that are due later.</template
        >
      </p>
      <Btn v-if="data?.rows.length" small class="ml-auto shrink-0" @click="takeAll">Choose all, {{ showMoney(data.total) }}</Btn>
    </div>
    <State :loading="loading && !data" :problem="problem" :empty="Boolean(data && !data.rows.length)" @again="reload()">
      <template #empty>No issued bill is open whose payer has money in this account on that day.</template>
      <div
        v-for="r in data?.rows ?? []"
        :key="keyOf(r)"
        class="grid stacks grid-cols-[24px_1fr_150px_150px] items-end gap-3 border-t border-line-2 py-2"
      >
        <input
          v-model="taken[keyOf(r)]"
          type="checkbox"
          class="mb-2.5 accent-ink"
          :aria-label="`Pay bill ${r.number} from ${r.ledger}`"
          @change="changed = true"
        />
        <span class="min-w-0 pb-1.5"
          ><b class="font-semibold">{{ r.number }}</b> {{ r.ledger }}<span class="block truncate text-ink-2">{{ r.matter }}</span></span
        >
        <span class="pb-1.5 text-right text-ink-2"
          >{{ showMoney(r.open) }} open<span class="block">{{ showMoney(r.available) }} available</span></span
        >
        <MoneyField
          v-model="amounts[keyOf(r)]!"
          :label="`Pay ${r.number}`"
          :fault="at(r) < 0 ? '' : fault(`parts.${at(r)}.amount`) || fault(`parts.${at(r)}.ledgerId`)"
        />
      </div>
    </State>
    <p v-if="chosen.length" class="border-t border-line pt-2">{{ plural(chosen.length, 'bill') }}, together {{ showMoney(total) }}</p>
  </SideSheet>
</template>
