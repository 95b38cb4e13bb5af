<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Choice } from '../ui/Picker.vue'
import Btn from '../ui/Btn.vue'
import MoneyField from '../ui/MoneyField.vue'
import { keyOf } from '../ui/rows'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'
import AccountPicker from './AccountPicker.vue'

/** A line of the bank is carried under a name, or booked; or a difference between what belongs together is named. */
type Line = Answer<typeof api.bank.work>['lines'][number]
const props = defineProps<{
  line?: Line
  pair?: { id: number; lineIds: number[]; entryIds: number[]; difference: number }
  how: 'name' | 'book' | 'difference'
}>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const words = ref(props.how === 'name' ? (props.line?.named ?? '') : props.how === 'book' ? (props.line?.text ?? '') : '')
const began = words.value
interface Part {
  account: Choice | null
  amount: number | null
}
/** The whole line is of one account until it is split. */
const parts = ref<Part[]>([{ account: null, amount: null }])
/** Parts are typed as they are said, in the direction of the line: 90.00 and 5.00 of 95.00 that went out. */
const out = props.line && props.line.amount < 0 ? -1 : 1
const whole = out * (props.line?.amount ?? 0)
const left = computed(() => whole - typedSum(parts.value.map((p) => p.amount)))
/** What is left goes to the account that is added. */
const split = () => parts.value.push({ account: null, amount: parts.value.length > 1 ? left.value || null : null })
const takeOut = (i: number) => parts.value.splice(i, 1)
const title = computed(
  () => ({ name: 'Carry as a named item', book: 'Book a line of the bank', difference: 'Match, with a difference' })[props.how],
)
const { state, fault, send } = useForm(() => {
  if (props.how === 'name') return api.bank.name({ id: props.line!.id, words: words.value })
  if (props.how === 'book') {
    // An account alone has all of it.
    const alone = parts.value.length === 1
    const sent = parts.value.map((p) => ({ accountId: p.account?.id ?? 0, amount: alone ? props.line!.amount : out * (p.amount ?? 0) }))
    return api.bank.book({ id: props.line!.id, memo: words.value, parts: sent })
  }
  const { id, lineIds, entryIds } = props.pair!
  return api.bank.match({ id, pairs: [{ lineIds, entryIds }], named: words.value })
})
async function save() {
  if (!(await send())) return
  notes.say('Kept')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="title"
    :save="how === 'book' ? 'Book it' : how === 'name' ? 'Keep' : 'Match them'"
    :busy="state.busy"
    :message="state.said"
    :changed="words !== began || parts.length > 1 || parts[0]!.account !== null"
    :disabled="how === 'book' && parts.length > 1 && left !== 0"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="line">{{ dayText(line.day) }}, {{ showMoney(line.amount) }}: {{ line.text || line.reference || 'without words' }}</p>
    <p v-if="pair">
      The bank moved {{ showMoney(pair.difference) }} beyond what the book says. The difference stays open under a name until it is mended.
    </p>
    <template v-if="how === 'book'">
      <AccountPicker v-if="parts.length === 1" v-model="parts[0]!.account" any :fault="fault('parts.0.accountId')" autofocus />
      <fieldset v-for="(p, i) in parts" v-else :key="keyOf(p)" class="grid stacks grid-cols-[1fr_120px_auto] items-start gap-2">
        <legend class="sr-only">Part {{ i + 1 }}</legend>
        <AccountPicker
          v-model="p.account"
          any
          :label="`Account ${i + 1}`"
          :fault="fault(`parts.${i}.accountId`)"
          :autofocus="i === parts.length - 1"
        />
        <MoneyField v-model="p.amount" :label="`Amount ${i + 1}`" :fault="fault(`parts.${i}.amount`)" />
        <Btn small class="mt-6" :aria-label="`Take part ${i + 1} out`" @click="takeOut(i)">Take out</Btn>
      </fieldset>
      <div class="flex items-center gap-3">
        <Btn small @click="split">{{ parts.length === 1 ? 'Split over accounts' : 'Another account' }}</Btn>
        <span v-if="parts.length > 1" role="status" :class="left ? 'text-rust' : 'text-lagoon'">{{
          left ? `${showMoney(left)} is left` : 'The parts are the line'
        }}</span>
      </div>
      <p v-if="parts.length > 1" class="text-sm text-ink-2">
        A part that goes the other way, like a fee that was kept back, is given with a minus.
      </p>
      <p v-if="fault('parts')" role="alert" class="text-rust">{{ fault('parts') }}</p>
    </template>
    <TextField
      v-model="words"
      :label="how === 'book' ? 'What it is' : how === 'name' ? 'Name' : 'What the difference is'"
      :hint="how === 'name' ? 'Like “error of the bank, to be mended in November”. Empty takes the name back.' : ''"
      :fault="fault(how === 'book' ? 'memo' : how === 'name' ? 'words' : 'named')"
      :autofocus="how !== 'book'"
    />
  </SideSheet>
</template>
