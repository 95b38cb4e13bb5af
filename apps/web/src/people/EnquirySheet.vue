<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { typedNumber, useLoad } from '../use'

const props = defineProps<{ enquiry?: Answer<typeof api.people.getEnquiry> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const router = useRouter()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const e = props.enquiry
/** Somebody who is not on record: their name may be emptied and typed anew. */
const making = ref(false)
const name = ref('')
/** Of somebody who is not on record. */
const person = reactive({ kind: 'person' as 'person' | 'organization', email: '', phone: '' })
const formOf = (of?: typeof e) => ({
  who: (of ? { id: of.contactId, text: of.name } : null) as Choice | null,
  about: of?.about ?? '',
  adverse: [...(of?.adverse ?? [])],
  source: of?.source ?? '',
  areaId: of?.areaId ?? 0,
  nextStep: of?.nextStep ?? '',
  nextOn: of?.nextOn ?? null,
  consultOn: of?.consultOn ?? null,
  consultAt: of?.consultAt ?? '',
  consultMinutes: of?.consultMinutes ? String(of.consultMinutes) : '',
  consultFee: of?.consultFee ?? null,
  ownerId: of?.ownerId ?? session.me!.id,
})
const form = reactive(formOf(e))
let seen = formOf(e)
const meanwhile = useMeanwhile(form, {
  who: 'Who is asking',
  about: 'What about',
  adverse: 'Against whom',
  source: 'How they found the firm',
  areaId: ['Area', (id) => setting.value?.areas.find((a) => a.id === id)?.name ?? ''],
  nextStep: 'Next step',
  nextOn: 'On',
  consultOn: 'Consultation on',
  consultAt: 'At',
  consultMinutes: 'Minutes',
  consultFee: ['Agreed fee', (cents) => (cents === null ? '' : showMoney(cents))],
  ownerId: ['With', (id) => setting.value?.staff.find((s) => s.id === id)?.name ?? ''],
})
const changed = computed(() => meanwhile.changed.value || name.value.trim() !== '')
const against = ref('')
function addAgainst() {
  const typed = against.value.trim()
  if (typed && !form.adverse.includes(typed)) form.adverse.push(typed)
  against.value = ''
}
function chooseInstead() {
  making.value = false
  name.value = ''
}
const { state, fault, send } = useForm(() => {
  const own = ({ who, ...f }: typeof form) => ({
    ...f,
    contactId: who?.id ?? null,
    areaId: f.areaId || null,
    consultAt: f.consultAt || null,
    consultMinutes: typedNumber(f.consultMinutes),
  })
  const input = { ...own(form), name: '', ...(making.value ? { ...person, contactId: null, name: name.value } : {}) }
  return e ? api.people.changeEnquiry({ id: e.id, ...input, seen: own(seen) }) : api.people.makeEnquiry(input)
})
async function save() {
  addAgainst()
  const done = await meanwhile.save(state, send, async () => (seen = formOf(await api.people.getEnquiry({ id: e!.id }))))
  if (!done) return
  notes.say(e ? 'Enquiry changed' : 'Enquiry taken')
  if ('id' in done) void router.push(`/people/enquiries/${done.id}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="e ? 'Change enquiry' : 'New enquiry'"
    wide
    :save="e ? 'Save' : 'Take enquiry'"
    :busy="state.busy"
    :message="state.said"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <Meanwhile :of="meanwhile" />
    <Picker
      v-if="!making"
      v-model="form.who"
      label="Who is asking"
      :search="searchContacts"
      :fault="fault('contactId') || fault('name')"
      make="New person or organization"
      autofocus
      @make="((name = $event), (making = true))"
    />
    <div v-else class="grid stacks grid-cols-2 gap-3">
      <div>
        <TextField v-model="name" label="Who is asking" :fault="fault('name') || fault('contactId')" />
        <Btn small class="mt-1" @click="chooseInstead">Choose from people on record</Btn>
      </div>
      <ChoiceField
        v-model="person.kind"
        label="Is a"
        :options="[
          { value: 'person', text: 'Person' },
          { value: 'organization', text: 'Organization' },
        ]"
      />
      <TextField v-model="person.email" label="E-mail" optional :fault="fault('email')" />
      <TextField v-model="person.phone" label="Phone" optional :fault="fault('phone')" />
    </div>
    <TextField v-model="form.about" label="What about" :lines="4" optional :fault="fault('about')" />
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Against whom; checked for conflicts and kept on record</legend>
      <span v-for="(a, i) in form.adverse" :key="a" class="tag mr-1 mb-1 bg-mist"
        >{{ a }} <button type="button" :aria-label="`Take out ${a}`" @click="form.adverse.splice(i, 1)">×</button></span
      >
      <div class="flex gap-2">
        <input v-model="against" class="control" aria-label="Against" placeholder="Name" @keydown.enter.stop.prevent="addAgainst" />
        <Btn small @click="addAgainst">Add</Btn>
      </div>
    </fieldset>
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField
        v-model="form.areaId"
        label="Area"
        :options="[{ value: 0, text: 'Not clear yet' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
      />
      <TextField
        v-model="form.source"
        label="How they found the firm"
        optional
        :list="['A client', 'Another lawyer', 'The bar’s referral line', 'Walk-in', 'Web page']"
      />
      <TextField
        v-model="form.nextStep"
        label="Next step"
        optional
        :list="['Call back', 'Check conflicts', 'Consultation', 'Send engagement letter', 'Decline']"
      />
      <DayField v-model="form.nextOn" label="On" optional :fault="fault('nextOn')" />
      <DayField v-model="form.consultOn" label="Consultation on" optional :fault="fault('consultOn')" />
      <TimeField v-model="form.consultAt" label="At" optional :fault="fault('consultAt')" />
      <TextField v-model="form.consultMinutes" label="Minutes" optional :fault="fault('consultMinutes')" />
      <MoneyField v-model="form.consultFee" label="Agreed fee" optional :fault="fault('consultFee')" />
      <ChoiceField
        v-model="form.ownerId"
        label="With"
        :options="(setting?.staff ?? [{ id: session.me!.id, name: session.me!.name }]).map((s) => ({ value: s.id, text: s.name }))"
      />
    </div>
  </SideSheet>
</template>
