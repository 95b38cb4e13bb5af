<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Choice } from '../ui/Picker.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct } from '../use'
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
const { state, act, fault } = useAct()
const words = ref(props.how === 'name' ? (props.line?.named ?? '') : props.how === 'book' ? (props.line?.text ?? '') : '')
const began = words.value
const account = ref<Choice | null>(null)
const title = computed(
  () => ({ name: 'Carry as a named item', book: 'Book a line of the bank', difference: 'Match, with a difference' })[props.how],
)
async function save() {
  const done = await act(async () => {
    if (props.how === 'name') return api.bank.name({ id: props.line!.id, words: words.value })
    if (props.how === 'book') return api.bank.book({ id: props.line!.id, accountId: account.value?.id ?? 0, memo: words.value })
    const { id, lineIds, entryIds } = props.pair!
    return api.bank.match({ id, pairs: [{ lineIds, entryIds }], named: words.value })
  })
  if (!done) return
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
    :message="state.fields.length ? '' : state.message"
    :changed="words !== began"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="line">{{ dayText(line.day) }}, {{ showMoney(line.amount) }}: {{ line.text || line.reference || 'without words' }}</p>
    <p v-if="pair">
      The bank moved {{ showMoney(pair.difference) }} beyond what the book says. The difference stays open under a name until it is mended.
    </p>
    <AccountPicker v-if="how === 'book'" v-model="account" :fault="fault('accountId')" autofocus />
    <TextField
      v-model="words"
      :label="how === 'book' ? 'What it is' : how === 'name' ? 'Name' : 'What the difference is'"
      :hint="how === 'name' ? 'Like “error of the bank, to be mended in November”. Empty takes the name back.' : ''"
      :fault="fault(how === 'book' ? 'memo' : how === 'name' ? 'words' : 'named')"
      :autofocus="how !== 'book'"
    />
  </SideSheet>
</template>
