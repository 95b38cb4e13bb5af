<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { someMoney, tableDay } from '../ui/table/columns'
import { useAct } from '../use'
import PrintJobs from './PrintJobs.vue'
import { printing, type CheckBook } from './printing'

/** Print jobs that are open, and posted checks that have not left the house: printed together, or noted as written by hand. */
const props = defineProps<{ book: CheckBook; bankAccountId?: number }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const own = computed(() => printing[props.book])
const { data: waiting, problem, reload } = useShown(() => (props.bankAccountId === 0 ? null : own.value.toPrint(props.bankAccountId ?? 0)))
const may = computed(() => session.may(own.value.right))
const chosen = ref<number[]>([])
// What somebody left out stays so when the list is loaded anew; what is new on it is chosen.
watch(waiting, (list, before) => {
  const known = new Set((before ?? []).map((p) => p.id))
  chosen.value = (list ?? []).flatMap((p) => (!known.has(p.id) || chosen.value.includes(p.id) ? [p.id] : []))
})
const all = computed(() => waiting.value?.length === chosen.value.length)
const banks = computed(() => new Set((waiting.value ?? []).map((p) => p.bank)).size)
async function print() {
  if (!(await act(() => own.value.makeJob({ paymentIds: chosen.value })))) return
  session.changed()
}
async function byHand() {
  if (!(await act(() => own.value.byHand({ paymentIds: chosen.value })))) return
  notes.say('Noted as written by hand')
  session.changed()
}
</script>

<template>
  <p v-if="state.message" role="alert" class="sheet bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
  <p v-if="problem" role="alert" class="sheet flex items-center gap-3 bg-rust-wash px-4 py-2 text-rust">
    What is to be printed could not be loaded: {{ problem }} <Btn small class="ml-auto" @click="reload">Try again</Btn>
  </p>
  <PrintJobs :book="book" />
  <section v-if="waiting?.length && may" class="sheet px-4 py-3" aria-label="Checks to print">
    <div class="flex flex-wrap items-center gap-2">
      <h2>To be printed</h2>
      <Btn small class="ml-auto" @click="chosen = all ? [] : waiting.map((p) => p.id)">{{ all ? 'None' : 'All' }}</Btn>
      <Btn small :disabled="!chosen.length" :busy="state.busy" @click="byHand">Written by hand</Btn>
      <Btn small main :disabled="!chosen.length" :busy="state.busy" @click="print">Print {{ chosen.length }} together</Btn>
    </div>
    <label v-for="p in waiting" :key="p.id" class="flex items-center gap-3 border-t border-line-2 py-1.5">
      <input v-model="chosen" type="checkbox" class="accent-ink" :value="p.id" />
      <span class="w-16 tabular-nums">{{ p.checkNo }}</span> <span class="text-ink-2">{{ tableDay(p.day) }}</span> {{ p.payee }}
      <span v-if="banks > 1" class="text-ink-2">{{ p.bank }}</span>
      <span class="ml-auto tabular-nums">{{ someMoney(p.amount) }}</span>
    </label>
  </section>
</template>
