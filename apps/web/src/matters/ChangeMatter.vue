<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { FieldValues } from '@heron/contract'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import FieldInputs from '../fields/FieldInputs.vue'
import ContactPicker from '../people/ContactPicker.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import type { Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import { partyRoles } from './roles'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'matter' } })))
const { id } = props.matter
let { version } = props.matter
const formOf = (m: typeof props.matter) => ({
  name: m.name,
  shortName: m.shortName,
  secondNumber: m.secondNumber,
  client: { id: m.clientId, text: m.client } as Choice | null,
  clients: m.clients.map((c): Choice => ({ id: c.id, text: c.name })),
  openedOn: m.openedOn as Day | null,
  areaId: m.areaId ?? 0,
  court: m.court,
  caseNumber: m.caseNumber,
  judge: (m.judge && { id: m.judge.id, text: m.judge.name }) as Choice | null,
  ourSide: m.ourSide,
  ruleSetKey: m.ruleSetKey ?? '',
  originatingId: m.originating?.id ?? 0,
  tags: m.tags.join(', '),
  description: m.description,
  fields: JSON.parse(JSON.stringify(m.fields)) as FieldValues,
})
const form = reactive(formOf(props.matter))
const another = ref<Choice | null>(null)
watch(another, (c) => {
  if (c && !form.clients.some((x) => x.id === c.id)) form.clients.push(c)
  if (c) another.value = null
})
const named = <T,>(list: readonly T[] | undefined, of: (one: T) => boolean, text: (one: T) => string) => {
  const found = list?.find(of)
  return found ? text(found) : ''
}
const meanwhile = useMeanwhile(form, {
  name: 'Name of the matter',
  shortName: 'Short name',
  secondNumber: 'Second number',
  client: 'Client',
  clients: 'Further clients',
  openedOn: 'Opened',
  areaId: [
    'Area',
    (v) =>
      named(
        setting.value?.areas,
        (a) => a.id === v,
        (a) => a.name,
      ),
  ],
  court: 'Court',
  caseNumber: 'Court’s case number',
  judge: 'Judge',
  ourSide: 'We act for the',
  ruleSetKey: [
    'Rules by which dates are counted',
    (v) =>
      named(
        setting.value?.ruleSets,
        (r) => r.key === v,
        (r) => r.title,
      ),
  ],
  originatingId: [
    'Brought in by',
    (v) =>
      named(
        setting.value?.staff,
        (p) => p.id === v,
        (p) => p.name,
      ),
  ],
  tags: 'Tags',
  description: 'What the firm is engaged to do',
  fields: 'Fields of the firm',
})
const lawyers = computed(() => (setting.value?.staff ?? []).filter((s) => s.role === 'lawyer').map((s) => ({ value: s.id, text: s.name })))

const { state, fault, send } = useForm(() => {
  const { client, clients, judge, ...own } = form
  return api.matters.change({
    id,
    ...own,
    openedOn: form.openedOn ?? '',
    areaId: form.areaId || null,
    ruleSetKey: form.ruleSetKey || null,
    originatingId: form.originatingId || null,
    tags: form.tags
      .split(',')
      .map((t) => t.trim())
      .filter(Boolean),
    clientId: client?.id ?? 0,
    clientIds: clients.map((c) => c.id),
    judgeId: judge?.id ?? null,
    version,
  })
})

async function save() {
  const done = await meanwhile.save(state, send, async () => {
    const now = await api.matters.get({ id })
    version = now.version
    return formOf(now)
  })
  if (!done) return
  notes.say('File changed')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Change the file"
    wide
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="meanwhile.changed.value"
    @save="save"
    @close="emit('close')"
  >
    <Meanwhile :of="meanwhile" />
    <TextField v-model="form.name" label="Name of the matter" :fault="fault('name')" autofocus />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="form.shortName" label="Short name, for calendars" :fault="fault('shortName')" />
      <TextField v-model="form.secondNumber" label="Second number" optional />
      <ContactPicker v-model="form.client" label="Client" as="client" :fault="fault('clientId')" />
      <div>
        <ContactPicker v-model="another" label="Further client" optional as="client" />
        <span v-for="(c, i) in form.clients" :key="c.id" class="tag mt-1 mr-1 bg-mist"
          >{{ c.text }} <button type="button" :aria-label="`Take out ${c.text}`" @click="form.clients.splice(i, 1)">×</button></span
        >
      </div>
      <DayField v-model="form.openedOn" label="Opened" :fault="fault('openedOn')" />
      <ChoiceField
        v-model="form.areaId"
        label="Area"
        :fault="fault('areaId')"
        :options="[{ value: 0, text: 'None yet' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
      />
      <TextField v-model="form.court" label="Court" optional />
      <TextField v-model="form.caseNumber" label="Court’s case number" optional />
      <ContactPicker v-model="form.judge" label="Judge" optional as="judge" />
      <TextField v-model="form.ourSide" label="We act for the" optional :list="partyRoles" />
      <ChoiceField
        v-model="form.ruleSetKey"
        label="Rules by which dates are counted"
        :fault="fault('ruleSetKey')"
        :options="[{ value: '', text: 'None: dates by hand' }, ...(setting?.ruleSets ?? []).map((r) => ({ value: r.key, text: r.title }))]"
      />
      <ChoiceField v-model="form.originatingId" label="Brought in by" :options="[{ value: 0, text: 'Nobody named' }, ...lawyers]" />
    </div>
    <TextField v-model="form.tags" label="Tags, with commas between" optional />
    <TextField v-model="form.description" label="What the firm is engaged to do" optional :lines="3" />
    <FieldInputs v-if="groups?.length" v-model="form.fields" :groups="groups" :area-id="form.areaId || null" :fault="fault" />
  </SideSheet>
</template>
