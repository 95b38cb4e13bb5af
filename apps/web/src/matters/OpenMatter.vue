<script setup lang="ts">
import { arrangementNames } from '@heron/core/billing'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ContactPicker from '../people/ContactPicker.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import PageHead from '../ui/PageHead.vue'
import type { Choice } from '../ui/Picker.vue'
import { blankOpening, useConflictCheck } from './opening'
import { plural } from '../ui/show'
import TextField from '../ui/TextField.vue'
import { useDraft, useUnsaved } from '../ui/unsaved'
import { useForm } from '../ui/form'
import { useFirstField, useLoad } from '../use'
import { useRoute } from 'vue-router'
import FieldInputs from '../fields/FieldInputs.vue'
import ConflictHits from './ConflictHits.vue'
import ArrangementFields from './ArrangementFields.vue'
import { arrangementToSend } from './arranging'
import WillBe from './WillBe.vue'
import { payersToSend } from './payers'
import PayersField from './PayersField.vue'
import OpenParties from './OpenParties.vue'
import OpenProcedure from './OpenProcedure.vue'
import { partyRoles, teamRoleOf } from './roles'

const session = useSession()
useFirstField()
const router = useRouter()
const notes = useNotes()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const { data: procedures } = useLoad(async () => (await api.tasks.procedures()).filter((p) => !p.retired))
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'matter' } })))

const form = blankOpening(session.today, session.me!.role === 'lawyer' ? session.me!.id : 0)
const empty = JSON.stringify(form)
const opened = ref(false)
const route = useRoute()
/** An enquiry that becomes a matter has a draft of its own: what was begun for somebody else does not mix with it. */
const fromEnquiry = Number(route.query['enquiry']) || 0
/** What was begun here and not opened is kept in this browser. */
const draft = useDraft(
  `open a matter ${session.me!.id}${fromEnquiry ? ` for enquiry ${fromEnquiry}` : ''}`,
  form,
  () => form,
  (kept) => Object.assign(form, kept),
)
const restored = ref(draft.found)
useUnsaved({ changed: () => !opened.value && JSON.stringify(form) !== empty })
async function beginAnew() {
  draft.drop()
  restored.value = false
  Object.assign(form, JSON.parse(empty) as typeof form)
  check.value = null
  await nextTick()
  draft.drop()
  await bringEnquiry()
}
const partiesRef = ref<InstanceType<typeof OpenParties> | null>(null)
const firstRef = ref<InstanceType<typeof OpenProcedure> | null>(null)
const another = ref<Choice | null>(null)
const member = ref(0)
const { check, checking, checkNow, undecided } = useConflictCheck(form)
// A draft that is back is checked as it stands today.
if (draft.found) void checkNow()

const area = computed(() => setting.value?.areas.find((a) => a.id === form.areaId))
// An area brings its rules, its team and its first procedure; what was chosen by hand stays.
let asDrafted = draft.found ? form.areaId : 0
const brought = { ruleSetKey: '', procedureId: 0 }
watch(area, (a) => {
  const before = { ...brought }
  Object.assign(brought, { ruleSetKey: a?.ruleSetKey ?? '', procedureId: a?.procedureIds[0] ?? 0 })
  // What was chosen before the draft was kept stays.
  if (a && a.id === asDrafted) return void (asDrafted = 0)
  if (form.ruleSetKey === before.ruleSetKey) form.ruleSetKey = brought.ruleSetKey
  if (form.procedureId === before.procedureId) form.procedureId = brought.procedureId
  for (const t of a?.team ?? [])
    if (t.userId !== form.leadId && !form.team.some((x) => x.userId === t.userId))
      form.team.push({ userId: t.userId, name: staff.value.find((s) => s.id === t.userId)?.name ?? '', rate: null })
})
watch(another, (c) => {
  if (!c) return
  if (c.id !== form.client?.id && !form.clients.some((x) => x.id === c.id)) form.clients.push(c)
  another.value = null
})
const arrangement = computed({ get: () => form, set: (a) => Object.assign(form, a) })

const enquiryFault = ref('')
/** An enquiry that becomes a matter brings what it gathered, and writes over nothing that was typed meanwhile. */
async function bringEnquiry() {
  if (!fromEnquiry) return
  form.enquiryId = fromEnquiry
  try {
    const e = await api.people.getEnquiry({ id: fromEnquiry })
    form.client ??= { id: e.contactId, text: e.name }
    form.description ||= e.about
    form.areaId ||= e.areaId ?? 0
  } catch {
    form.enquiryId = null
    enquiryFault.value = 'The enquiry could not be read. Load the page again, or open the matter without it.'
  }
}
if (!draft.found) void bringEnquiry()
watch(
  () => form.client,
  (c) => (form.billTo ??= c),
)
const staff = computed(() => setting.value?.staff ?? [])
const lawyers = computed(() => staff.value.filter((s) => s.role === 'lawyer').map((s) => ({ value: s.id, text: s.name })))
const free = computed(() => staff.value.filter((s) => s.id !== form.leadId && !form.team.some((t) => t.userId === s.id)))
const leadName = computed(() => staff.value.find((s) => s.id === form.leadId)?.name ?? '')

function addMember() {
  const who = staff.value.find((s) => s.id === member.value)
  if (who) form.team.push({ userId: who.id, name: who.name, rate: null })
  member.value = 0
}

const roleOf = (userId: number) => teamRoleOf(staff.value.find((s) => s.id === userId)?.role)

const team = computed(() => form.team.map((t) => ({ userId: t.userId, role: roleOf(t.userId) })))

const leadFault = ref('')
watch(
  () => form.leadId,
  () => (leadFault.value = ''),
)
const { state, fault, send } = useForm(() =>
  api.matters.open({
    clientId: form.client?.id ?? 0,
    name: form.name,
    shortName: form.shortName,
    openedOn: form.openedOn ?? '',
    areaId: form.areaId || null,
    description: form.description,
    parties: form.parties.map((p) => ({ contactId: p.who.id, role: p.role, side: p.side, counselId: p.counsel?.id ?? null })),
    conflictCheckId: check.value?.id ?? null,
    kind: form.kind,
    secondNumber: form.secondNumber,
    clientIds: form.clients.map((c) => c.id),
    tags: form.tags
      .split(',')
      .map((t) => t.trim())
      .filter(Boolean),
    judgeId: form.judge?.id ?? null,
    originatingId: form.originatingId || null,
    fields: form.fields,
    enquiryId: form.enquiryId,
    procedures: firstRef.value?.procedures() ?? [],
    court: form.court,
    caseNumber: form.caseNumber,
    ourSide: form.ourSide,
    ruleSetKey: form.ruleSetKey || null,
    leadId: form.leadId,
    team: [{ userId: form.leadId, role: 'lead', rate: form.leadRate }, ...team.value.map((t, i) => ({ ...t, rate: form.team[i]!.rate }))],
    access: form.access,
    ...arrangementToSend(form),
    billToId: form.billTo?.id ?? null,
    payers: payersToSend(form.payers),
  }),
)

async function open() {
  if (partiesRef.value?.addParty() === false) return
  if (!form.leadId) {
    leadFault.value = 'Choose who leads the matter'
    document.getElementById('team')?.scrollIntoView()
    return
  }
  const made = await send()
  if (!made) return
  opened.value = true
  draft.drop()
  notes.say(`Matter ${made.number} opened`)
  session.changed()
  await router.push(`/matters/${made.id}`)
}

useEventListener(window, 'keydown', (e: KeyboardEvent) => {
  if (e.key === 'Enter' && (e.ctrlKey || e.metaKey) && !document.querySelector('[role="dialog"]')) {
    e.preventDefault()
    void open()
  }
})
const sections = computed(() => [
  { id: 'client', name: 'Client and name', hint: '' },
  { id: 'parties', name: 'Parties', hint: form.parties.length ? plural(form.parties.length, 'party', 'parties') : '' },
  { id: 'court', name: 'Court and rules', hint: form.ruleSetKey ? 'rules chosen' : 'none yet' },
  { id: 'team', name: 'Team and access', hint: plural(form.team.length + 1, 'person', 'people') },
  { id: 'billing', name: 'Billing', hint: arrangementNames[form.billing].toLowerCase() },
  { id: 'first', name: 'First steps', hint: procedures.value?.find((p) => p.id === form.procedureId)?.name ?? '' },
])
const missing = computed(() =>
  [
    form.areaId ? '' : 'practice area',
    form.ruleSetKey ? '' : 'court rules',
    form.billTo ? '' : 'whom to bill',
    form.parties.length ? '' : 'parties',
  ].filter(Boolean),
)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Open a matter" hint="Only the name, the client and the date are needed now.">
      <Btn @click="router.back()">Leave</Btn>
      <Btn main key-name="Ctrl Enter" :busy="state.busy" @click="open">Open {{ setting?.nextNumber }}</Btn>
    </PageHead>
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <p v-if="enquiryFault" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ enquiryFault }}</p>
    <p v-if="restored" class="mb-3 flex items-center gap-3 rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
      What you began to enter here earlier is back. <Btn small @click="beginAnew">Begin anew</Btn>
    </p>
    <div class="grid stacks grid-cols-[130px_minmax(0,1fr)_320px] gap-5 xl:grid-cols-[150px_minmax(0,1fr)_372px]">
      <nav aria-label="Parts of the sheet">
        <a
          v-for="s in sections"
          :key="s.id"
          :href="`#${s.id}`"
          class="block border-l-[3px] border-line py-2 pl-3 font-medium text-ink-2 hover:border-bill hover:text-ink"
          >{{ s.name }}<span class="block text-xs text-ink-3">{{ s.hint }}</span></a
        >
      </nav>
      <div class="sheet space-y-5 px-[18px] py-4">
        <section id="client" aria-label="Client and name">
          <h2 class="mb-2.5">Client and name</h2>
          <div class="grid stacks grid-cols-[2fr_1fr] gap-3">
            <ContactPicker v-model="form.client" label="Client" :fault="fault('clientId')" autofocus as="client" />
            <DayField v-model="form.openedOn" label="Opened" :fault="fault('openedOn')" />
            <TextField v-model="form.name" label="Name of the matter" :fault="fault('name')" />
            <ChoiceField
              v-model="form.areaId"
              label="Area"
              :options="[{ value: 0, text: 'None yet' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
            />
            <TextField v-model="form.description" label="What the firm is engaged to do" optional />
            <TextField v-model="form.shortName" label="Short name for calendars" optional :fault="fault('shortName')" />
            <div>
              <ContactPicker v-model="another" label="Further client" optional as="client" />
              <span v-for="(c, i) in form.clients" :key="c.id" class="tag mt-1 mr-1 bg-mist"
                >{{ c.text }} <button type="button" :aria-label="`Take out ${c.text}`" @click="form.clients.splice(i, 1)">×</button></span
              >
            </div>
            <TextField v-model="form.secondNumber" label="Second number" optional />
            <TextField v-model="form.tags" label="Tags, with commas between" optional />
            <ChoiceField
              v-model="form.kind"
              label="Kind"
              :options="[
                { value: 'client', text: 'For a client' },
                { value: 'firm', text: 'The firm’s own' },
                { value: 'practice', text: 'For practice, outside all figures' },
              ]"
            />
          </div>
        </section>
        <section id="parties" aria-label="Parties"><OpenParties ref="partiesRef" v-model="form.parties" /></section>
        <section id="court" aria-label="Court and rules">
          <h2 class="mb-2.5">Court and rules</h2>
          <div class="grid stacks grid-cols-2 gap-3">
            <ChoiceField
              v-model="form.ruleSetKey"
              label="Rules by which dates are counted"
              :fault="fault('ruleSetKey')"
              :options="[
                { value: '', text: 'None: dates by hand' },
                ...(setting?.ruleSets ?? []).map((r) => ({ value: r.key, text: r.title })),
              ]"
            />
            <TextField v-model="form.court" label="Court" optional />
            <TextField v-model="form.caseNumber" label="Court’s case number" optional />
            <TextField v-model="form.ourSide" label="We act for the" optional :list="partyRoles" />
            <ContactPicker v-model="form.judge" label="Judge" optional as="judge" />
          </div>
        </section>
        <section id="team" aria-label="Team and access">
          <h2 class="mb-2.5">Team and access</h2>
          <div class="grid stacks grid-cols-[1fr_130px_1fr] gap-3">
            <ChoiceField
              v-model="form.leadId"
              label="Lead lawyer"
              :options="[...(form.leadId ? [] : [{ value: 0, text: 'Choose the lead lawyer' }]), ...lawyers]"
              :fault="fault('leadId') || leadFault"
            />
            <MoneyField v-model="form.leadRate" label="Own rate" optional />
            <ChoiceField
              v-model="form.access"
              label="Open to"
              :options="[
                { value: 'area', text: area && !area.open ? 'The team only, as usual here' : 'As usual for the area' },
                { value: 'firm', text: 'All staff' },
                { value: 'team', text: 'The team only' },
              ]"
            />
            <ChoiceField v-model="form.originatingId" label="Brought in by" :options="[{ value: 0, text: 'Nobody named' }, ...lawyers]" />
          </div>
          <div
            v-for="(t, i) in form.team"
            :key="t.userId"
            class="mt-2 grid stacks grid-cols-[1fr_130px_auto] items-end gap-3 border-t border-line-2 pt-2"
          >
            <span class="pb-1.5"
              >{{ t.name }} <span class="text-ink-2">{{ roleOf(t.userId) }}</span></span
            >
            <MoneyField v-model="t.rate" :label="`Rate of ${t.name.split(' ')[0]}`" optional />
            <Btn small @click="form.team.splice(i, 1)">Take out</Btn>
          </div>
          <div class="mt-2 grid stacks grid-cols-[1fr_auto] items-end gap-3">
            <ChoiceField
              v-model="member"
              label="Add to the team"
              :options="[{ value: 0, text: 'Choose a person' }, ...free.map((s) => ({ value: s.id, text: `${s.name}, ${s.title}` }))]"
            />
            <Btn :disabled="!member" @click="addMember">Add to team</Btn>
          </div>
        </section>
        <section id="billing" aria-label="Billing">
          <h2 class="mb-2.5">Billing</h2>
          <ArrangementFields v-model="arrangement" :fault="fault" :stages="area?.stages ?? []" :fees="setting?.fees ?? []" />
          <PayersField
            v-model="form.billTo"
            v-model:payers="form.payers"
            class="mt-3"
            hint="Needed before anything can be billed"
            :fault="fault"
          />
        </section>
        <section v-if="groups?.length" id="fields" aria-label="The firm’s own fields" class="space-y-2">
          <FieldInputs v-model="form.fields" :groups="groups" :area-id="form.areaId || null" :fault="fault" />
        </section>
        <section id="first" aria-label="First steps">
          <OpenProcedure
            ref="firstRef"
            v-model="form.procedureId"
            :procedures="procedures ?? []"
            :start="form.openedOn"
            :lead-id="form.leadId"
            :team="team"
            :staff="staff.map((s) => ({ value: s.id, text: s.name }))"
            :fault="fault"
          />
        </section>
      </div>
      <div class="space-y-3.5">
        <section
          class="sheet border-l-4 px-4 py-3.5"
          :class="undecided ? 'border-l-rust' : check ? 'border-l-lagoon' : ''"
          aria-label="Conflicts"
          aria-live="polite"
        >
          <h2>Conflicts</h2>
          <ConflictHits v-if="check" :check="check" />
          <p v-else-if="checking.state.busy" class="text-ink-2">Checking …</p>
          <p v-else-if="checking.state.message" class="text-rust">{{ checking.state.message }}</p>
          <p v-else class="text-ink-2">Choose the client: its name and every party’s are checked as they are added.</p>
          <p v-if="undecided" class="mt-1 text-ink-2">Deciding may wait; the file says so until it is done.</p>
        </section>
        <WillBe
          :number="setting?.nextNumber ?? ''"
          :billing="arrangementNames[form.billing]"
          :bill-to="form.payers.length ? form.payers.map((p) => p.who.text).join(', ') : (form.billTo?.text ?? '')"
          :lead="leadName"
          :team="form.team.map((t) => t.name)"
          :procedure="procedures?.find((p) => p.id === form.procedureId)?.name ?? ''"
          :missing="missing"
        />
      </div>
    </div>
  </div>
</template>
