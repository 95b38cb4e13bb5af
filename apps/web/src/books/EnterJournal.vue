<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useAct } from '../use'

const props = defineProps<{ accounts: Answer<typeof api.books.trialBalance>['rows'] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const day = ref<string | null>(session.today)
const memo = ref('')
const lines = ref([
  { accountId: 0, debit: null as number | null, credit: null as number | null },
  { accountId: 0, debit: null as number | null, credit: null as number | null },
])
const options = computed(() => [{ value: 0, text: 'Choose' }, ...props.accounts.map((a) => ({ value: a.id, text: `${a.code} ${a.name}` }))])
const off = computed(() => typedSum(lines.value.map((l) => l.debit)) - typedSum(lines.value.map((l) => l.credit)))

async function save() {
  const made = await act(() =>
    api.books.enter({
      day: day.value ?? '',
      memo: memo.value,
      lines: lines.value.map((l) => ({ accountId: l.accountId, amount: (l.debit ?? 0) - (l.credit ?? 0) })),
    }),
  )
  if (!made) return
  notes.say(`Journal ${made.id} posted`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Enter a journal"
    wide
    save="Post journal"
    :busy="state.busy"
    :message="state.message"
    :changed="memo !== ''"
    :disabled="off !== 0"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-[160px_1fr] gap-3">
      <DayField v-model="day" label="On" :fault="fault('day')" autofocus /><TextField
        v-model="memo"
        label="What it is"
        :fault="fault('memo')"
      />
    </div>
    <fieldset v-for="(l, i) in lines" :key="i" class="grid stacks grid-cols-[1fr_140px_140px] gap-2">
      <legend class="sr-only">Line {{ i + 1 }}</legend>
      <ChoiceField v-model="l.accountId" :label="`Account ${i + 1}`" :options="options" />
      <MoneyField v-model="l.debit" label="Debit" optional />
      <MoneyField v-model="l.credit" label="Credit" optional />
    </fieldset>
    <div class="flex items-center gap-3">
      <Btn small @click="lines.push({ accountId: 0, debit: null, credit: null })">Another line</Btn
      ><span :class="off ? 'text-rust' : 'text-lagoon'">{{
        off ? `Debits and credits differ by ${showMoney(Math.abs(off))}` : 'Debits equal credits'
      }}</span>
    </div>
    <p class="text-ink-2">Trust accounts, receivables and work in progress move only by their own acts.</p>
  </SideSheet>
</template>
