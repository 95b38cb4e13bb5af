<script setup lang="ts">
import { aliasKinds, reachKinds, type ContactIn, type FieldValues } from '@heron/contract'
import { reactive, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import FieldInputs from '../fields/FieldInputs.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { keyOf } from '../ui/rows'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

const props = defineProps<{ contact: Answer<typeof api.people.get> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: kinds } = useLoad(() => recent(asks.people.kinds.queryOptions()))
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'contact' } })))
const { id } = props.contact
let { version } = props.contact
const formOf = (c: typeof props.contact) => ({
  name: c.name,
  kind: c.kind,
  greeting: c.greeting,
  pronouns: c.pronouns,
  language: c.language,
  birthDate: c.birthDate,
  taxNumber: c.taxNumber,
  kinds: [...c.kinds],
  reaches: c.reaches.map((r) => ({ ...r })),
  aliases: c.aliases.map((a) => ({ ...a })),
  fields: JSON.parse(JSON.stringify(c.fields)) as FieldValues,
  notes: c.notes,
  isPrivate: c.isPrivate,
})
const form = reactive(formOf(props.contact))
const meanwhile = useMeanwhile(form, {
  name: 'Name',
  kind: 'Is a',
  greeting: 'Greeting in letters',
  pronouns: 'Pronouns',
  language: 'Language for letters',
  birthDate: 'Date of birth',
  taxNumber: 'Tax number',
  kinds: 'Kinds',
  reaches: 'How to reach',
  aliases: 'Other names',
  fields: 'Fields of the firm',
  notes: 'About',
  isPrivate: 'Private',
})
const adding = ref<(typeof reachKinds)[number]>('e-mail')
const labels = {
  'e-mail': ['work', 'home', 'bills'],
  phone: ['work', 'mobile', 'home', 'fax'],
  address: ['mail', 'office', 'home', 'billing'],
}

const { state, fault, send } = useForm(() => {
  const input: ContactIn = { ...form, email: '', phone: '', address: '', version }
  return api.people.change({ id, ...input })
})
async function save() {
  const done = await meanwhile.save(state, send, async () => {
    const now = await api.people.get({ id })
    version = now.version
    return formOf(now)
  })
  if (!done) return
  notes.say('Contact changed')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Change contact"
    wide
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="meanwhile.changed.value"
    @save="save"
    @close="emit('close')"
  >
    <Meanwhile :of="meanwhile" />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="form.name" label="Name" :fault="fault('name')" autofocus />
      <ChoiceField
        v-model="form.kind"
        label="Is a"
        :options="[
          { value: 'person', text: 'Person' },
          { value: 'organization', text: 'Organization' },
        ]"
      />
      <TextField v-model="form.greeting" label="Greeting in letters" optional />
      <TextField
        v-if="form.kind === 'person'"
        v-model="form.pronouns"
        label="Pronouns"
        optional
        :list="['she/her', 'he/him', 'they/them']"
      />
      <TextField v-model="form.language" label="Language for letters" optional :list="['English', 'Spanish', 'Portuguese', 'French']" />
      <DayField v-if="form.kind === 'person'" v-model="form.birthDate" label="Date of birth" optional :fault="fault('birthDate')" />
      <TextField v-model="form.taxNumber" label="Tax number" optional />
    </div>
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Kinds</legend>
      <div class="flex flex-wrap gap-x-3 gap-y-1">
        <label v-for="k in kinds ?? []" :key="k" class="flex items-center gap-1.5"
          ><input v-model="form.kinds" type="checkbox" :value="k" class="accent-ink" /> {{ k }}</label
        >
      </div>
    </fieldset>
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">How to reach; the first of each is the one used</legend>
      <div v-for="(r, i) in form.reaches" :key="keyOf(r)" class="mb-1.5 grid grid-cols-[70px_120px_1fr_auto] items-start gap-2">
        <span class="pt-1.5 text-ink-2">{{ r.what }}</span>
        <input v-model="r.label" class="control" :aria-label="`Kind of ${r.what} ${i + 1}`" :list="`labels-${r.what}`" placeholder="kind" />
        <div>
          <textarea v-if="r.what === 'address'" v-model="r.value" class="control" rows="2" :aria-label="`Address ${i + 1}`"></textarea>
          <input
            v-else
            v-model="r.value"
            class="control"
            :aria-label="`${r.what} ${i + 1}`"
            :aria-invalid="fault(`reaches.${i}.value`) ? true : undefined"
          />
          <p v-if="fault(`reaches.${i}.value`)" class="text-sm text-rust">{{ fault(`reaches.${i}.value`) }}</p>
        </div>
        <Btn small @click="form.reaches.splice(i, 1)">Take out</Btn>
      </div>
      <datalist v-for="(list, what) in labels" :id="`labels-${what}`" :key="what">
        <option v-for="l in list" :key="l" :value="l"></option>
      </datalist>
      <div class="flex items-center gap-2">
        <select v-model="adding" class="control w-32" aria-label="What to add">
          <option v-for="k in reachKinds" :key="k" :value="k">{{ k }}</option>
        </select>
        <Btn small @click="form.reaches.push({ what: adding, label: '', value: '' })">Add</Btn>
      </div>
    </fieldset>
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Other names, all found by conflict checks</legend>
      <div v-for="(a, i) in form.aliases" :key="keyOf(a)" class="mb-1.5 grid grid-cols-[150px_1fr_auto] gap-2">
        <select v-model="a.kind" class="control" :aria-label="`Kind of name ${i + 1}`">
          <option v-for="k in aliasKinds" :key="k" :value="k">{{ k }}</option>
        </select>
        <input v-model="a.name" class="control" :aria-label="`Other name ${i + 1}`" />
        <Btn small @click="form.aliases.splice(i, 1)">Take out</Btn>
      </div>
      <Btn small @click="form.aliases.push({ kind: 'former name', name: '' })">Add a name</Btn>
    </fieldset>
    <FieldInputs v-if="groups?.length" v-model="form.fields" :groups="groups" :area-id="null" :fault="fault" />
    <TextField v-model="form.notes" label="About" optional :lines="4" :fault="fault('notes')" />
    <label class="flex gap-2"
      ><input v-model="form.isPrivate" type="checkbox" class="accent-ink" /> Private: only you see it; conflict checks tell others that
      there is a hit</label
    >
  </SideSheet>
</template>
