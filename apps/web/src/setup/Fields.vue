<script setup lang="ts">
import { fieldTypes } from '@heron/core/fields'
import { computed, reactive, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'

type Group = Answer<typeof api.fields.groups>[number]
type Def = Group['fields'][number]
const notes = useNotes()
const owner = ref<'matter' | 'contact' | 'time'>('matter')
const { data, problem, loading, reload } = useLoad(() => api.fields.groups({ owner: owner.value }), [owner])
const { data: setting } = useLoad(() => api.matters.setting())
const open = ref<'group' | 'field' | null>(null)
const group = reactive({ id: 0, name: '', repeating: false })
const field = reactive({
  id: 0,
  groupId: 0,
  name: '',
  type: 'text' as Def['type'],
  choices: '',
  otherAllowed: false,
  required: false,
  areaIds: [] as number[],
  shownBy: 0,
  shownValue: '',
  retired: false,
})
const others = computed(() => (data.value ?? []).flatMap((g) => g.fields.filter((f) => f.id !== field.id && !f.retired)))
const byField = computed(() => others.value.find((f) => f.id === field.shownBy))
function editGroup(g: Group | null) {
  Object.assign(group, g ? { id: g.id, name: g.name, repeating: g.repeating } : { id: 0, name: '', repeating: false })
  open.value = 'group'
}
function editField(g: Group, f: Def | null) {
  Object.assign(
    field,
    f
      ? {
          ...f,
          groupId: g.id,
          choices: f.choices.join('\n'),
          areaIds: [...f.areaIds],
          shownBy: f.shownIf?.fieldId ?? 0,
          shownValue: f.shownIf?.value ?? '',
        }
      : {
          id: 0,
          groupId: g.id,
          name: '',
          type: 'text',
          choices: '',
          otherAllowed: false,
          required: false,
          areaIds: [],
          shownBy: 0,
          shownValue: '',
          retired: false,
        },
  )
  open.value = 'field'
}
async function done(said: string) {
  open.value = null
  notes.say(said)
  await reload()
}
const { state, act, fault, send } = useForm(() => {
  if (open.value === 'group') {
    const own = { owner: owner.value, name: group.name, repeating: group.repeating }
    return group.id ? api.fields.changeGroup({ id: group.id, ...own }) : api.fields.makeGroup(own)
  }
  const own = {
    groupId: field.groupId,
    name: field.name,
    type: field.type,
    choices: field.choices
      .split('\n')
      .map((c) => c.trim())
      .filter(Boolean),
    otherAllowed: field.otherAllowed,
    required: field.required,
    areaIds: field.areaIds,
    shownIf: field.shownBy ? { fieldId: field.shownBy, value: field.shownValue } : null,
    retired: field.retired,
  }
  return field.id ? api.fields.changeField({ id: field.id, ...own }) : api.fields.makeField(own)
})
async function saveGroup() {
  if (await send()) await done('Group kept')
}
async function saveField() {
  if (await send()) await done('Field kept')
}
async function remove() {
  if (!(await sure('Remove the field', `${field.name} is gone from forms, lists and files.`, 'Remove it'))) return
  if (await act(() => api.fields.removeField({ id: field.id }))) await done('Field removed')
}
async function move(list: { id: number }[], at: number, step: number, what: 'groupIds' | 'fieldIds') {
  const ids = list.map((x) => x.id)
  const [id] = ids.splice(at, 1)
  ids.splice(at + step, 0, id!)
  if (await act(() => api.fields.order(what === 'groupIds' ? { groupIds: ids } : { fieldIds: ids }))) await reload()
}
const areaName = (id: number) => setting.value?.areas.find((a) => a.id === id)?.name ?? ''
const condition = (f: Def) => {
  const by = (data.value ?? []).flatMap((g) => g.fields).find((x) => x.id === f.shownIf?.fieldId)
  return by ? `shown if ${by.name} is ${f.shownIf?.value}` : ''
}
type OwnField = Group['fields'][number]
const columns: Column<OwnField>[] = [
  { key: 'name', text: 'Field', grow: 1.2, wrap: true, narrow: 'title' },
  {
    key: 'type',
    text: 'Type',
    grow: 1.4,
    wrap: true,
    quiet: true,
    value: (f) => (f.choices.length ? `${f.type}: ${f.choices.join(', ')}${f.otherAllowed ? ', or other' : ''}` : f.type),
  },
  {
    key: 'asked',
    text: 'Asked',
    wrap: true,
    quiet: true,
    value: (f) => [f.areaIds.length ? f.areaIds.map(areaName).join(', ') : 'always', condition(f)].filter(Boolean).join('; '),
  },
  { key: 'mergeKey', text: 'In papers', size: 150, quiet: true, value: (f) => `{${f.mergeKey}}` },
]
function acts(g: Group, f: OwnField): Act[] {
  const i = g.fields.indexOf(f)
  return [
    { text: `Change ${f.name}`, act: () => editField(g, f) },
    { text: `${f.name} earlier`, act: () => move(g.fields, i, -1, 'fieldIds'), disabled: i === 0 },
    { text: `${f.name} later`, act: () => move(g.fields, i, 1, 'fieldIds'), disabled: i === g.fields.length - 1 },
  ]
}
</script>

<template>
  <SetUpPage>
    <template #acts><Btn main @click="editGroup(null)">New group</Btn></template>
    <Switch
      v-model="owner"
      class="mb-3"
      label="Fields of"
      :options="[
        { value: 'matter', text: 'Matters' },
        { value: 'contact', text: 'Contacts' },
        { value: 'time', text: 'Time' },
      ]"
    />
    <p v-if="state.message && !open" role="alert" class="text-rust">{{ state.message }}</p>
    <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
      <template #empty
        >No fields of your own yet. Begin with a group, such as “Vessels” or “Wage claim”, and put fields in it. They serve lists, filters,
        files and papers.</template
      >
      <section v-for="(g, n) in data" :key="g.id" class="sheet mb-3.5" :aria-label="g.name">
        <div class="flex items-center gap-2 px-4 pt-3 pb-1">
          <h2>{{ g.name }}</h2>
          <span v-if="g.repeating" class="tag bg-mist">repeats</span>
          <span class="ml-auto flex gap-1">
            <Btn small :disabled="n === 0" :aria-label="`${g.name} earlier`" @click="move(data!, n, -1, 'groupIds')">↑</Btn>
            <Btn small :disabled="n === (data?.length ?? 0) - 1" :aria-label="`${g.name} later`" @click="move(data!, n, 1, 'groupIds')"
              >↓</Btn
            >
            <Btn small :aria-label="`Change group ${g.name}`" @click="editGroup(g)">Change</Btn>
            <Btn small :aria-label="`New field in ${g.name}`" @click="editField(g, null)">New field</Btn>
          </span>
        </div>
        <DataTable
          v-if="g.fields.length"
          :label="`Fields of ${g.name}`"
          name="fields"
          plain
          :rows="g.fields"
          :columns="columns"
          :row-id="(f) => f.id"
          :acts="(f) => acts(g, f)"
        >
          <template #cell-name="{ row: f }"
            ><b>{{ f.name }}</b> <span v-if="f.required" class="text-ink-2">needed</span>
            <span v-if="f.retired" class="tag bg-mist text-ink-2">retired</span></template
          >
        </DataTable>
      </section>
    </State>
    <SideSheet
      v-if="open === 'group'"
      :title="group.id ? 'Change group' : 'New group'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      @save="saveGroup"
      @close="open = null"
    >
      <TextField v-model="group.name" label="Name" :fault="fault('name')" autofocus />
      <label class="flex gap-2"
        ><input v-model="group.repeating" type="checkbox" class="accent-ink" /> Several of it on one record, such as children or
        vessels</label
      >
      <p v-if="fault('repeating')" class="text-sm text-rust">{{ fault('repeating') }}</p>
    </SideSheet>
    <SideSheet
      v-if="open === 'field'"
      :title="field.id ? 'Change field' : 'New field'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      @save="saveField"
      @close="open = null"
    >
      <TextField v-model="field.name" label="Name" :fault="fault('name')" autofocus />
      <ChoiceField
        v-model="field.type"
        label="Type"
        :fault="fault('type')"
        :options="
          fieldTypes.map((t) => ({ value: t, text: { choice: 'one of a list', choices: 'several of a list' }[t as 'choice'] ?? t }))
        "
      />
      <template v-if="field.type === 'choice' || field.type === 'choices'">
        <TextField v-model="field.choices" label="The list, one a line" :lines="5" :fault="fault('choices')" />
        <label class="flex gap-2"><input v-model="field.otherAllowed" type="checkbox" class="accent-ink" /> Also another text</label>
      </template>
      <label class="flex gap-2"
        ><input v-model="field.required" type="checkbox" class="accent-ink" /> Needed: the file says so while it is missing</label
      >
      <fieldset v-if="owner === 'matter'">
        <legend class="mb-1 text-sm font-medium text-ink-2">Only for these areas; none ticked means all</legend>
        <label v-for="a in setting?.areas ?? []" :key="a.id" class="flex gap-2"
          ><input v-model="field.areaIds" type="checkbox" :value="a.id" class="accent-ink" /> {{ a.name }}</label
        >
      </fieldset>
      <ChoiceField
        v-model="field.shownBy"
        label="Shown only if"
        :fault="fault('shownIf')"
        :options="[{ value: 0, text: 'Always shown' }, ...others.map((f) => ({ value: f.id, text: f.name }))]"
      />
      <TextField
        v-if="field.shownBy"
        v-model="field.shownValue"
        label="is"
        :fault="fault('shownIf.value')"
        :list="byField?.type === 'yes/no' ? ['yes', 'no'] : byField?.choices"
      />
      <label v-if="field.id" class="flex gap-2"
        ><input v-model="field.retired" type="checkbox" class="accent-ink" /> Retired: no longer asked, what is on record stays</label
      >
      <template #more><Btn v-if="field.id" @click="remove">Remove</Btn></template>
    </SideSheet>
  </SetUpPage>
</template>
