<script setup lang="ts">
import { inverseOf, relationKinds } from '@heron/core/people'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ContactPicker from './ContactPicker.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import type { Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useOpening } from '../use'

const props = defineProps<{ contact: Answer<typeof api.people.get> }>()
const session = useSession()
const notes = useNotes()
const adding = ref(false)
const other = ref<Choice | null>(null)
const title = ref('')
const how = ref(props.contact.kind === 'organization' ? 'employs' : 'works for')
/** Every relation from both sides, each wording once. */
const ways = computed(() => {
  const all = relationKinds.flatMap((r) => [
    { value: r.kind as string, kind: r.kind, inverse: false },
    ...(r.inverse === r.kind ? [] : [{ value: r.inverse as string, kind: r.kind, inverse: true }]),
  ])
  return all.map((a) => ({ ...a, text: a.value }))
})
useOpening(adding, () => {
  other.value = null
  title.value = ''
})
const { state, act, fault, send } = useForm(() => {
  const way = ways.value.find((w) => w.value === how.value)!
  return api.people.relate({
    id: props.contact.id,
    otherId: other.value?.id ?? 0,
    kind: way.kind,
    inverse: way.inverse,
    title: title.value,
  })
})
async function save() {
  if (!(await send())) return
  notes.say('Relation noted')
  adding.value = false
  session.changed()
}
async function takeOut(r: (typeof props.contact.relations)[number]) {
  if (!(await act(() => api.people.unrelate({ id: r.id })))) return
  const inverse = r.reads !== r.kind || inverseOf(r.kind) !== r.kind
  notes.say(`No longer: ${r.reads} ${r.other}`, {
    label: 'Undo',
    act: () =>
      api.people
        .relate({ id: props.contact.id, otherId: r.otherId, kind: r.kind, inverse: inverse && r.reads !== r.kind, title: r.title })
        .then(session.changed),
  })
  session.changed()
}
</script>

<template>
  <div class="flex items-center">
    <h2>{{ contact.kind === 'organization' ? 'People in it and relations' : 'Relations' }}</h2>
    <Btn v-if="session.may('people.change')" small class="ml-auto" @click="adding = true">Add</Btn>
  </div>
  <p v-if="!contact.relations.length" class="py-1 text-ink-2">
    None noted. Conflict checks follow employers, officers, affiliates, insurers and family.
  </p>
  <div v-for="r in contact.relations" :key="r.id" class="flex items-center border-t border-line-2 py-[5px]">
    <span
      ><span class="text-ink-2">{{ r.reads }}</span>
      <RouterLink :to="`/people/${r.otherId}`" class="font-semibold hover:underline">{{ r.other }}</RouterLink><template v-if="r.title"
        >, {{ r.title }}</template
      ></span
    >
    <Btn v-if="session.may('people.change')" small class="ml-auto" :aria-label="`Take out ${r.reads} ${r.other}`" @click="takeOut(r)"
      >Take out</Btn
    >
  </div>
  <SideSheet
    v-if="adding"
    title="Relation"
    save="Note it"
    :busy="state.busy"
    :message="state.said"
    :changed="other !== null"
    @save="save"
    @close="adding = false"
  >
    <p class="font-semibold">{{ contact.name }}</p>
    <ChoiceField v-model="how" label="How" :options="ways" autofocus />
    <ContactPicker v-model="other" label="Whom" :fault="fault('otherId')" as="witness" />
    <TextField v-model="title" label="Title or words" optional />
  </SideSheet>
</template>
