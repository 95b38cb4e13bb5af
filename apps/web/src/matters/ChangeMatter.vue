<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { FieldValues } from '@heron/contract'
import { computed, reactive, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import FieldInputs from '../fields/FieldInputs.vue'
import ContactPicker from '../people/ContactPicker.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import type { Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import { partyRoles } from './roles'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data: setting } = useLoad(() => api.matters.setting())
const { data: groups } = useLoad(() => api.fields.groups({ owner: 'matter' }))
const m = props.matter
const client = ref<Choice | null>({ id: m.clientId, text: m.client })
const judge = ref<Choice | null>(m.judge && { id: m.judge.id, text: m.judge.name })
const another = ref<Choice | null>(null)
const clients = ref<Choice[]>(m.clients.map((c) => ({ id: c.id, text: c.name })))
watch(another, (c) => {
  if (c && !clients.value.some((x) => x.id === c.id)) clients.value.push(c)
  if (c) another.value = null
})
const form = reactive({
  name: m.name,
  shortName: m.shortName,
  secondNumber: m.secondNumber,
  openedOn: m.openedOn as Day | null,
  areaId: m.areaId ?? 0,
  description: m.description,
  court: m.court,
  caseNumber: m.caseNumber,
  ourSide: m.ourSide,
  ruleSetKey: m.ruleSetKey ?? '',
  originatingId: m.originating?.id ?? 0,
  tags: m.tags.join(', '),
  fields: JSON.parse(JSON.stringify(m.fields)) as FieldValues,
})
const seen = () => JSON.stringify([form, client.value?.id, judge.value?.id, clients.value.map((c) => c.id)])
const before = seen()
const changed = computed(() => seen() !== before)
const lawyers = computed(() => (setting.value?.staff ?? []).filter((s) => s.role === 'lawyer').map((s) => ({ value: s.id, text: s.name })))

async function save() {
  const done = await act(() =>
    api.matters.change({
      id: m.id,
      ...form,
      openedOn: form.openedOn ?? '',
      areaId: form.areaId || null,
      ruleSetKey: form.ruleSetKey || null,
      originatingId: form.originatingId || null,
      tags: form.tags
        .split(',')
        .map((t) => t.trim())
        .filter(Boolean),
      clientId: client.value?.id ?? 0,
      clientIds: clients.value.map((c) => c.id),
      judgeId: judge.value?.id ?? null,
      version: m.version,
    }),
  )
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
    :message="state.fields.length ? '' : state.message"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="form.name" label="Name of the matter" :fault="fault('name')" autofocus />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="form.shortName" label="Short name, for calendars" :fault="fault('shortName')" />
      <TextField v-model="form.secondNumber" label="Second number" optional />
      <ContactPicker v-model="client" label="Client" as="client" :fault="fault('clientId')" />
      <div>
        <ContactPicker v-model="another" label="Further client" optional as="client" />
        <span v-for="(c, i) in clients" :key="c.id" class="tag mt-1 mr-1 bg-mist"
          >{{ c.text }} <button type="button" :aria-label="`Take out ${c.text}`" @click="clients.splice(i, 1)">×</button></span
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
      <ContactPicker v-model="judge" label="Judge" optional as="judge" />
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
