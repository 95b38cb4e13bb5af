<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'

const props = defineProps<{ accounts: Answer<typeof api.books.trialBalance>['rows'] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const day = ref<Day | null>(session.today)
const memo = ref('')
const lines = ref([
  { accountId: 0, debit: null as number | null, credit: null as number | null },
  { accountId: 0, debit: null as number | null, credit: null as number | null },
])
const options = computed(() => [
  { value: 0, text: 'Choose' },
  ...props.accounts.filter((a) => a.byHand).map((a) => ({ value: a.id, text: `${a.code} ${a.name}` })),
])
const templates = useShown(() => asks.books.templates.queryOptions())
const begun = ref(0)
/** A template fills what it has; the day stays the one that was chosen. */
watch(begun, (id) => {
  const t = templates.data.value?.find((x) => x.id === id)
  if (!t) return
  memo.value = t.memo
  lines.value = t.lines.map((l) => ({
    accountId: l.accountId,
    debit: l.amount > 0 ? l.amount : null,
    credit: l.amount < 0 ? -l.amount : null,
  }))
})
const keeping = ref(false)
const name = ref('')
const recurs = ref(false)
const dayOfMonth = ref('1')
const every = ref('1')
const until = ref<Day | null>(null)
const whole = (text: string) => (/^\d{1,3}$/.test(text.trim()) ? Number(text) : 0)
/** Lines at the end that nothing was entered in are not sent. */
function bodyLines() {
  const last = lines.value.findLastIndex((l) => l.accountId || l.debit || l.credit)
  return lines.value.slice(0, Math.max(2, last + 1)).map((l) => ({ accountId: l.accountId, amount: (l.debit ?? 0) - (l.credit ?? 0) }))
}
const { state, act, fault, send } = useForm(() => api.books.enter({ day: day.value ?? '', memo: memo.value, lines: bodyLines() }))
async function keep() {
  const kept = await act(() =>
    api.books.keepTemplate({
      name: name.value,
      memo: memo.value,
      lines: bodyLines(),
      recurs: recurs.value
        ? { firstOn: day.value ?? '', dayOfMonth: whole(dayOfMonth.value), everyMonths: whole(every.value), until: until.value }
        : null,
    }),
  )
  if (!kept) return
  notes.say(recurs.value ? `${name.value} recurs by itself` : `${name.value} kept as a template`)
  keeping.value = false
  session.changed()
}
async function remove() {
  if (!(await sure('Remove the template', 'It is offered no more, and recurs no more. Journals made from it stay.', 'Remove it'))) return
  if (!(await act(() => api.books.removeTemplate({ id: begun.value })))) return
  notes.say('Template removed')
  begun.value = 0
  session.changed()
}
const chosen = computed(() => templates.data.value?.find((t) => t.id === begun.value))
const off = computed(() => typedSum(lines.value.map((l) => l.debit)) - typedSum(lines.value.map((l) => l.credit)))

async function save() {
  const made = await send()
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
    :disabled="off !== 0"
    @save="save"
    @close="emit('close')"
  >
    <div v-if="templates.data.value?.length" class="flex items-end gap-3">
      <div class="w-72">
        <ChoiceField
          v-model="begun"
          label="Begin from"
          :options="[
            { value: 0, text: 'Nothing' },
            ...templates.data.value.map((t) => ({ value: t.id, text: t.fault ? `${t.name} (stopped)` : t.name })),
          ]"
        />
      </div>
      <p v-if="chosen" class="pb-1.5" :class="chosen.fault ? 'text-rust' : 'text-ink-2'">
        {{ chosen.fault || (chosen.nextOn ? `By itself on ${dayText(chosen.nextOn)}` : '') }}
      </p>
      <Btn v-if="chosen" small class="mb-1 ml-auto" :busy="state.busy" @click="remove">Remove this template</Btn>
    </div>
    <div class="grid stacks grid-cols-[160px_1fr] gap-3">
      <DayField v-model="day" label="On" :fault="fault('day')" autofocus /><TextField
        v-model="memo"
        label="What it is"
        :fault="fault('memo')"
      />
    </div>
    <fieldset v-for="(l, i) in lines" :key="i" class="grid stacks grid-cols-[1fr_140px_140px] gap-2">
      <legend class="sr-only">Line {{ i + 1 }}</legend>
      <ChoiceField v-model="l.accountId" :label="`Account ${i + 1}`" :options="options" :fault="fault(`lines.${i}.accountId`)" />
      <MoneyField v-model="l.debit" label="Debit" optional />
      <MoneyField v-model="l.credit" label="Credit" optional />
    </fieldset>
    <div class="flex items-center gap-3">
      <Btn small @click="lines.push({ accountId: 0, debit: null, credit: null })">Another line</Btn
      ><span :class="off ? 'text-rust' : 'text-lagoon'">{{
        off ? `Debits and credits differ by ${showMoney(Math.abs(off))}` : 'Debits equal credits'
      }}</span>
    </div>
    <Btn v-if="!keeping" small @click="keeping = true">Keep as a template …</Btn>
    <fieldset v-else class="space-y-2 border-t border-line-2 pt-3">
      <legend class="sr-only">Template</legend>
      <div class="grid stacks grid-cols-[1fr_auto] items-end gap-3">
        <TextField v-model="name" label="Name of the template" :fault="fault('name')" />
        <label class="flex gap-2 pb-2"><input v-model="recurs" type="checkbox" class="accent-ink" /> It recurs by itself</label>
      </div>
      <div v-if="recurs" class="grid stacks grid-cols-3 gap-3">
        <TextField v-model="dayOfMonth" label="Date of the month" :fault="fault('recurs.dayOfMonth')" />
        <TextField v-model="every" label="Every, months" :fault="fault('recurs.everyMonths')" />
        <DayField v-model="until" label="Until" optional :fault="fault('recurs.until')" />
      </div>
      <p v-if="recurs" class="text-ink-2">The first is on that date from {{ day ? dayText(day) : 'the day above' }} on.</p>
      <Btn small :busy="state.busy" :disabled="off !== 0" @click="keep">Keep the template</Btn>
    </fieldset>
    <p class="text-ink-2">Trust accounts, receivables and work in progress move only by their own acts.</p>
  </SideSheet>
</template>
