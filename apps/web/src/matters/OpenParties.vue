<script setup lang="ts">
import { nextTick, reactive, ref } from 'vue'
import ContactPicker from '../people/ContactPicker.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import type { Choice } from '../ui/Picker.vue'
import TextField from '../ui/TextField.vue'
import { partyRoles, type OpenParty } from './roles'

/** The parties of a matter that is being opened, with a line for the next one. */
const parties = defineModel<OpenParty[]>({ required: true })
const party = reactive({ who: null as Choice | null, role: '', side: 'adverse' as OpenParty['side'], counsel: null as Choice | null })

function addParty() {
  if (!party.who || !party.role.trim()) return
  parties.value = [...parties.value, { who: party.who, role: party.role, side: party.side, counsel: party.counsel }]
  Object.assign(party, { who: null, role: '', counsel: null })
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
/** What stands in the line is taken along when the matter is opened. */
defineExpose({ addParty })
</script>

<template>
  <h2 class="mb-1">Parties</h2>
  <table v-if="parties.length" class="list-table mb-2">
    <thead>
      <tr>
        <th class="pl-0!">Who</th>
        <th>Role</th>
        <th>Counsel</th>
        <th><span class="sr-only">Take out</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(p, i) in parties" :key="p.who.id">
        <td class="pl-0!">
          <b>{{ p.who.text }}</b>
        </td>
        <td class="text-ink-2">{{ p.role }}, {{ p.side }}</td>
        <td class="text-ink-2">{{ p.counsel?.text }}</td>
        <td class="num">
          <button type="button" class="px-1 text-ink-3" :aria-label="`Take out ${p.who.text}`" @click="takeOut(i)">×</button>
        </td>
      </tr>
    </tbody>
  </table>
  <div ref="line" class="grid grid-cols-[1.5fr_1fr_100px_1fr_auto] items-end gap-2">
    <ContactPicker v-model="party.who" label="Party" as="opposing party" />
    <TextField v-model="party.role" label="Role" :list="partyRoles" />
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
    <Btn :disabled="!party.who || !party.role.trim()" @click="addNext">Add party</Btn>
  </div>
</template>
