<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ContactPicker from '../people/ContactPicker.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import type { Choice } from '../ui/Picker.vue'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import { partyRoles } from './roles'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'

type Matter = Answer<typeof api.matters.get>
const props = defineProps<{ matter: Matter }>()
const session = useSession()
const notes = useNotes()
const open = ref(false)
const mayChange = computed(() => session.may('matters.open') && props.matter.own.file === 2 && !props.matter.closedOn)
const formOf = (p?: Matter['parties'][number]) => ({
  id: p?.id ?? 0,
  who: (p ? { id: p.contactId, text: p.name } : null) as Choice | null,
  role: p?.role ?? '',
  side: p?.side ?? ('adverse' as const),
  counsel: (p?.counselId ? { id: p.counselId, text: p.counsel } : null) as Choice | null,
  counselText: p && !p.counselId ? p.counsel : '',
  servedOn: p?.servedOn ?? (null as Day | null),
})
const form = reactive(formOf())
let seen = formOf()
const meanwhile = useMeanwhile(form, {
  id: 'Party',
  who: 'Who',
  role: 'Role',
  side: 'Side',
  counsel: 'Counsel, if on record',
  counselText: 'Counsel',
  servedOn: 'Served on',
})
function edit(p?: Matter['parties'][number]) {
  Object.assign(form, formOf(p))
  seen = formOf(p)
  meanwhile.begin()
  open.value = true
}
const ownOf = (f: typeof form) => ({
  role: f.role,
  side: f.side,
  counsel: f.counsel ? '' : f.counselText,
  counselId: f.counsel?.id ?? null,
  servedOn: f.servedOn,
})
async function readAgain() {
  const now = (await api.matters.get({ id: props.matter.id })).parties.find((p) => p.id === form.id)
  if (!now) throw new Error('This party is on the matter no more.')
  return (seen = formOf(now))
}
const { state, act, fault, send } = useForm(() => {
  const own = ownOf(form)
  return form.id
    ? api.matters.changeParty({ id: form.id, ...own, seen: ownOf(seen) })
    : api.matters.addParty({ id: props.matter.id, contactId: form.who?.id ?? 0, ...own })
})
async function save() {
  const done = await meanwhile.save(state, send, readAgain)
  if (!done) return
  if ('hits' in done)
    notes.say(
      `${form.who?.text} added; ${done.hits.length ? `${plural(done.hits.length, 'conflict hit')} to decide` : 'no conflict found'}`,
    )
  else notes.say('Party changed')
  open.value = false
  session.changed()
}
async function takeOut(p: Matter['parties'][number]) {
  if (
    !(await sure('Take the party out', `${p.name} is no party to this matter any more. The record of conflict checks stays.`, 'Take out'))
  )
    return
  if (!(await act(() => api.matters.removeParty({ id: p.id })))) return
  notes.say(`${p.name} taken out`)
  session.changed()
}
type Party = Matter['parties'][number]
const columns: Column<Party>[] = [
  { key: 'name', text: 'Who', grow: 1.6, narrow: 'title' },
  { key: 'role', text: 'Role', size: 120 },
  { key: 'side', text: 'Side', size: 84, quiet: true },
  { key: 'counsel', text: 'Counsel', quiet: true },
  {
    key: 'servedOn',
    text: 'Served',
    size: 112,
    quiet: true,
    value: (p) => p.servedOn,
    show: (p) => (p.servedOn ? dayText(p.servedOn) : p.side === 'adverse' ? 'not yet' : ''),
  },
]
const acts = (p: Party): Act[] =>
  mayChange.value
    ? [
        { text: `Change ${p.name}`, act: () => edit(p) },
        { text: `Take out ${p.name}`, act: () => takeOut(p) },
      ]
    : []
</script>

<template>
  <div class="flex items-center px-4 py-3">
    <h2>Parties</h2>
    <Btn v-if="mayChange" class="ml-auto" @click="edit()">Add a party</Btn>
  </div>
  <DataTable label="Parties" name="parties" plain :rows="matter.parties" :columns="columns" :row-id="(p) => p.id" :acts="acts">
    <template #empty>No parties yet. Each one added is checked for conflicts.</template>
    <template #cell-name="{ row: p }"
      ><RouterLink :to="`/people/${p.contactId}`" class="font-semibold hover:underline">{{ p.name }}</RouterLink></template
    >
    <template #cell-counsel="{ row: p }"
      ><RouterLink v-if="p.counselId" :to="`/people/${p.counselId}`" class="hover:underline">{{ p.counsel }}</RouterLink
      ><template v-else>{{ p.counsel }}</template></template
    >
  </DataTable>
  <SideSheet
    v-if="open"
    :title="form.id ? 'Change a party' : 'Add a party'"
    :save="form.id ? 'Save' : 'Add and check conflicts'"
    :busy="state.busy"
    :message="state.said"
    :changed="meanwhile.changed.value"
    @save="save"
    @close="open = false"
  >
    <Meanwhile :of="meanwhile" />
    <p v-if="form.id" class="font-semibold">{{ form.who?.text }}</p>
    <ContactPicker v-else v-model="form.who" label="Who" :fault="fault('contactId')" autofocus as="opposing party" />
    <TextField v-model="form.role" label="Role" :list="partyRoles" :fault="fault('role')" />
    <ChoiceField
      v-model="form.side"
      label="Side"
      :options="[
        { value: 'ours', text: 'Ours' },
        { value: 'adverse', text: 'Adverse' },
        { value: 'other', text: 'Other' },
      ]"
    />
    <ContactPicker v-model="form.counsel" label="Counsel" optional as="opposing counsel" />
    <TextField v-if="form.counselText" v-model="form.counselText" label="Counsel, as it was written" optional />
    <DayField v-model="form.servedOn" label="Served on" optional :fault="fault('servedOn')" />
  </SideSheet>
</template>
