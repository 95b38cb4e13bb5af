<script setup lang="ts">
import { addDays, type Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts, searchMatters } from '../ui/search'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** Enters a bill of a vendor, or lets one come again by itself. */
const props = defineProps<{ recurring?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.vendors.accounts())
const { data: kinds } = useLoad(() => recent(asks.costs.kinds.queryOptions()))
const vendor = ref<Choice | null>(null)
const number = ref('')
const day = ref<Day | null>(session.today)
const dueOn = ref<Day | null>(null)
const discountOn = ref<Day | null>(null)
const discount = ref<number | null>(null)
const memo = ref('')
const dayOfMonth = ref('1')
const every = ref('1')
const dueDays = ref('30')
const until = ref<Day | null>(null)
interface Line {
  what: 'account' | 'matter'
  accountId: number
  matter: Choice | null
  kindId: number
  text: string
  amount: number | null
}
const blank = (): Line => ({ what: 'account', accountId: usual.accountId, matter: null, kindId: 0, text: '', amount: null })
const usual = reactive({ accountId: 0, dueDays: 30, bills: 0 })
const lines = ref<Line[]>([blank()])
watch(vendor, async (v) => {
  if (!v) return
  const found = await api.vendors.usual({ id: v.id }).catch(() => null)
  if (!found || vendor.value?.id !== v.id) return
  const before = { ...usual }
  Object.assign(usual, { accountId: found.accountId ?? 0, dueDays: found.dueDays, bills: found.bills })
  // What was chosen by hand stays; what came with another vendor goes with them.
  for (const l of lines.value) if (l.accountId === before.accountId && l.what === 'account') l.accountId = usual.accountId
  if (!dueTyped.value) setDue()
  if (dueDays.value === String(before.dueDays)) dueDays.value = String(found.dueDays)
})
const dueTyped = ref(false)
function setDue() {
  if (day.value) dueOn.value = addDays(day.value, usual.dueDays)
}
watch(day, () => {
  if (!dueTyped.value) setDue()
})
setDue()
const total = computed(() => typedSum(lines.value.map((l) => l.amount)))
const hard = computed(() => (kinds.value ?? []).filter((k) => k.hard && !k.retired))
const options = computed(() => [{ value: 0, text: 'Choose' }, ...(accounts.value ?? []).map((a) => ({ value: a.id, text: a.text }))])
const whole = (text: string) => (/^\d{1,4}$/.test(text.trim()) ? Number(text) : -1)
const { state, fault, send } = useForm(() => {
  const own = lines.value.map((l) => ({
    accountId: l.what === 'account' ? l.accountId || null : null,
    matterId: l.what === 'matter' ? (l.matter?.id ?? null) : null,
    kindId: l.what === 'matter' ? l.kindId || null : null,
    text: l.text,
    amount: l.amount ?? 0,
  }))
  return props.recurring
    ? api.vendors.makeRecurring({
        vendorId: vendor.value?.id ?? 0,
        memo: memo.value,
        dayOfMonth: whole(dayOfMonth.value),
        everyMonths: whole(every.value),
        dueDays: whole(dueDays.value),
        firstOn: day.value ?? '',
        until: until.value,
        lines: own,
      })
    : api.vendors.enter({
        vendorId: vendor.value?.id ?? 0,
        number: number.value,
        day: day.value ?? '',
        dueOn: dueOn.value ?? '',
        discountOn: discountOn.value,
        discount: discount.value ?? 0,
        memo: memo.value,
        lines: own,
      })
})
async function save() {
  if (!(await send())) return
  notes.say(props.recurring ? 'It comes by itself from now on' : `${showMoney(total.value)} owed to ${vendor.value?.text}`)
  session.changed()
  emit('close')
}
const changed = computed(() => Boolean(vendor.value || number.value || memo.value || total.value))
</script>

<template>
  <SideSheet
    :title="recurring ? 'A bill that comes again' : 'Enter a vendor’s bill'"
    wide
    :save="recurring ? 'Let it come again' : 'Enter bill'"
    :busy="state.busy"
    :message="state.said"
    :changed="changed"
    :waiting="!accounts || !kinds"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-[1fr_200px] gap-3">
      <Picker
        v-model="vendor"
        label="Vendor"
        :search="searchContacts"
        :fault="fault('vendorId')"
        :hint="usual.bills ? 'Account and days until due as on their last bill' : ''"
        autofocus
      />
      <TextField v-if="!recurring" v-model="number" label="Their number" optional :fault="fault('number')" />
      <DayField v-else v-model="until" label="Until" optional :fault="fault('until')" />
    </div>
    <div v-if="!recurring" class="grid stacks grid-cols-4 gap-3">
      <DayField v-model="day" label="Dated" :fault="fault('day')" />
      <DayField v-model="dueOn" label="Due on" :fault="fault('dueOn')" @update:model-value="dueTyped = true" />
      <MoneyField v-model="discount" label="Discount" optional :fault="fault('discount')" />
      <DayField v-model="discountOn" label="If paid by" optional :fault="fault('discountOn')" />
    </div>
    <div v-else class="grid stacks grid-cols-4 gap-3">
      <DayField v-model="day" label="First from" :fault="fault('firstOn')" />
      <TextField v-model="dayOfMonth" label="Date of the month" :fault="fault('dayOfMonth')" />
      <TextField v-model="every" label="Every, months" :fault="fault('everyMonths')" />
      <TextField v-model="dueDays" label="Due after, days" :fault="fault('dueDays')" />
    </div>
    <TextField v-model="memo" label="For what" :optional="!recurring" :fault="fault('memo')" />
    <fieldset v-for="(l, i) in lines" :key="i" class="border-t border-line-2 pt-3">
      <legend class="sr-only">Line {{ i + 1 }}</legend>
      <div class="grid stacks grid-cols-[128px_1fr_140px] gap-2">
        <ChoiceField
          v-model="l.what"
          :label="`Line ${i + 1} is`"
          :options="[
            { value: 'account', text: 'the firm’s' },
            { value: 'matter', text: 'a matter’s' },
          ]"
        />
        <ChoiceField
          v-if="l.what === 'account'"
          v-model="l.accountId"
          :label="`Account ${i + 1}`"
          :options="options"
          :fault="fault(`lines.${i}.accountId`)"
        />
        <Picker
          v-else
          v-model="l.matter"
          :label="`Matter ${i + 1}`"
          :search="searchMatters"
          :fault="fault(`lines.${i}.matterId`) || fault(`lines.${i}.accountId`)"
        />
        <MoneyField v-model="l.amount" :label="`Amount ${i + 1}`" :fault="fault(`lines.${i}.amount`)" />
      </div>
      <div v-if="l.what === 'matter'" class="mt-2 grid stacks grid-cols-[200px_1fr] gap-2">
        <ChoiceField
          v-model="l.kindId"
          :label="`Kind ${i + 1}`"
          :options="[{ value: 0, text: 'Choose' }, ...hard.map((k) => ({ value: k.id, text: k.name }))]"
          :fault="fault(`lines.${i}.kindId`)"
        />
        <TextField v-model="l.text" :label="`As the client’s bill says it ${i + 1}`" optional />
      </div>
    </fieldset>
    <div class="flex items-center gap-3">
      <Btn small :disabled="lines.length >= (recurring ? 20 : 100)" @click="lines.push(blank())">Another line</Btn>
      <Btn v-if="lines.length > 1" small @click="lines.pop()">Take the last away</Btn>
      <span class="ml-auto"
        >Together <b class="tabular-nums">{{ showMoney(total) }}</b></span
      >
    </div>
    <p v-if="fault('lines')" role="alert" class="text-rust">{{ fault('lines') }}</p>
    <p v-if="lines.some((l) => l.what === 'matter')" class="text-ink-2">
      A matter’s line becomes a cost of that matter and goes on its next bill as its kind has it.
    </p>
  </SideSheet>
</template>
