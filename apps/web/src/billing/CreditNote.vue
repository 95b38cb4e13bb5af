<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { useDebounceFn } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** A credit note: one amount over the bill, or amounts by line; what it does is seen before it is made. */
const props = defineProps<{ bill: Answer<typeof api.billing.get> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const how = ref<'amount' | 'lines'>('amount')
const amount = ref<number | null>(null)
const byLine = ref<Record<number, number | null>>({})
const day = ref<Day | null>(session.today)
const reason = ref('')
const lines = computed(() => props.bill.lines.filter((l) => l.kind !== 'tax' && l.net > 0))
const chosen = computed(() => lines.value.flatMap((l) => (byLine.value[l.id] ? [{ lineId: l.id, amount: byLine.value[l.id]! }] : [])))
const input = computed(() => ({
  id: props.bill.id,
  day: day.value ?? '',
  reason: reason.value || '–',
  ...(how.value === 'lines' ? { lines: chosen.value } : { amount: amount.value ?? 0 }),
}))
const shown = ref<Answer<typeof api.billing.previewNote> | null>(null)
const wrong = ref('')
let turn = 0
let gone = false
onBeforeUnmount(() => (gone = true))
const look = useDebounceFn(async () => {
  const mine = ++turn
  if (gone) return
  const nothing = how.value === 'lines' ? !chosen.value.length : !amount.value
  const got = nothing || !day.value ? null : await api.billing.previewNote(input.value).catch((e: Error) => e)
  if (mine !== turn) return
  shown.value = got instanceof Error ? null : got
  wrong.value = got instanceof Error ? got.message : ''
}, 200)
watch(input, look, { deep: true })
const lineFault = (id: number) => {
  const at = chosen.value.findIndex((c) => c.lineId === id)
  return at < 0 ? '' : fault(`lines.${at}.amount`)
}
const { state, fault, send } = useForm(() => api.billing.creditNote({ ...input.value, reason: reason.value }))

async function make() {
  const made = await send()
  if (!made) return
  notes.say(`Credit note ${made.number} of ${showMoney(made.total)} made`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Credit note on bill ${bill.number}`"
    :save="shown ? `Credit ${showMoney(shown.total)}` : 'Credit'"
    :busy="state.busy"
    :message="state.said"
    :changed="amount !== null || chosen.length > 0 || reason !== ''"
    :wide="how === 'lines'"
    @save="make"
    @close="emit('close')"
  >
    <Switch
      v-model="how"
      label="How"
      :options="[
        { value: 'amount', text: 'One amount' },
        { value: 'lines', text: 'By line' },
      ]"
    />
    <MoneyField
      v-if="how === 'amount'"
      v-model="amount"
      label="Amount before tax"
      hint="Shared over the lines by what is left on them"
      :fault="fault('amount')"
      autofocus
    />
    <section v-else aria-label="Lines">
      <div v-for="l in lines" :key="l.id" class="grid grid-cols-[1fr_90px_130px] items-center gap-3 border-t border-line-2 py-1.5">
        <span>{{ l.text }}</span>
        <span class="text-right">{{ showMoney(l.net) }}</span>
        <MoneyField
          :model-value="byLine[l.id] ?? null"
          :label="`Credit of ${l.text}`"
          bare
          :fault="lineFault(l.id)"
          @update:model-value="byLine[l.id] = $event"
        />
      </div>
      <p v-if="fault('lines')" class="text-sm text-rust">{{ fault('lines') }}</p>
    </section>
    <div class="grid stacks grid-cols-[150px_1fr] gap-3">
      <DayField v-model="day" label="On" :fault="fault('day')" />
      <TextField v-model="reason" label="Why" :fault="fault('reason')" />
    </div>
    <section class="rounded-control bg-mist px-3 py-2" aria-live="polite" aria-label="What it does">
      <template v-if="shown">
        <p class="flex">
          Before tax<span class="ml-auto">{{ showMoney(shown.net) }}</span>
        </p>
        <p v-if="shown.tax" class="flex">
          Tax<span class="ml-auto">{{ showMoney(shown.tax) }}</span>
        </p>
        <p class="flex font-semibold">
          Credit note<span class="ml-auto">{{ showMoney(shown.total) }}</span>
        </p>
        <p v-for="b in shown.back" :key="b.paymentId" class="mt-1">
          <b>{{ showMoney(b.amount) }}</b>
          {{ b.to === 'trust' ? 'was paid from trust and returns to its ledger.' : `was paid by ${b.kind} and is left over as a credit.` }}
        </p>
      </template>
      <p v-else :class="wrong ? 'text-rust' : 'text-ink-2'">{{ wrong || 'Give an amount to see what the note does.' }}</p>
    </section>
  </SideSheet>
</template>
