<script setup lang="ts">
import { nextTick, reactive, ref, watch } from 'vue'
import ContactPicker from '../people/ContactPicker.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import type { Choice } from '../ui/Picker.vue'
import TextField from '../ui/TextField.vue'
import { partyRoles, type OpenParty } from './roles'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

/** The parties of a matter that is being opened, with a line for the next one. */
const parties = defineModel<OpenParty[]>({ required: true })
const party = reactive({ who: null as Choice | null, role: '', side: 'adverse' as OpenParty['side'], counsel: null as Choice | null })

const faults = reactive({ who: '', role: '' })
watch(party, () => Object.assign(faults, { who: '', role: '' }))
/** Adds what stands in the line. A party half entered is not left out without a word: who it is and in which role is asked. */
function addParty(): boolean {
  if (!party.who && !party.role.trim() && !party.counsel) return true
  faults.who = party.who ? '' : 'Choose who it is, or empty the line'
  faults.role = party.role.trim() ? '' : 'Say in which role'
  if (!party.who || faults.role) {
    void nextTick(() => line.value?.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus())
    return false
  }
  parties.value = [...parties.value, { who: party.who, role: party.role, side: party.side, counsel: party.counsel }]
  Object.assign(party, { who: null, role: '', counsel: null })
  return true
}
const line = ref<HTMLElement | null>(null)
/** The button just pressed is gone or asleep: the next party is typed at once, and no key falls on the page. */
const toLine = () => void nextTick(() => line.value?.querySelector('input')?.focus())
function addNext() {
  addParty()
  toLine()
}
function takeOut(i: number) {
  parties.value = parties.value.filter((_, at) => at !== i)
  toLine()
}
/** What stands in the line is taken along when the matter is opened; `false` where it is half of a party. */
defineExpose({ addParty })
const columns: Column<OpenParty>[] = [
  { key: 'who', text: 'Who', grow: 1.6, strong: true, narrow: 'title', value: (p) => p.who.text },
  { key: 'role', text: 'Role', quiet: true, value: (p) => `${p.role}, ${p.side}` },
  { key: 'counsel', text: 'Counsel', quiet: true, value: (p) => p.counsel?.text ?? '' },
]
</script>

<template>
  <h2 class="mb-1">Parties</h2>
  <DataTable
    v-if="parties.length"
    class="mb-2"
    label="Parties"
    name="opening-parties"
    plain
    :rows="parties"
    :columns="columns"
    :row-id="(p) => p.who.id"
    :acts="(p) => [{ text: `Take out ${p.who.text}`, act: () => takeOut(parties.indexOf(p)) }]"
  />
  <div ref="line" class="grid stacks grid-cols-[1.5fr_1fr_100px_1fr_auto] items-start gap-2">
    <ContactPicker v-model="party.who" label="Party" as="opposing party" :fault="faults.who" />
    <TextField v-model="party.role" label="Role" :list="partyRoles" :fault="faults.role" />
    <ChoiceField
      v-model="party.side"
      label="Side"
      :options="[
        { value: 'adverse', text: 'Adverse' },
        { value: 'ours', text: 'Ours' },
        { value: 'other', text: 'Other' },
      ]"
    />
    <ContactPicker v-model="party.counsel" label="Counsel" as="opposing counsel" />
    <Btn class="min-[700px]:mt-6" :disabled="!party.who || !party.role.trim()" @click="addNext">Add party</Btn>
  </div>
</template>
