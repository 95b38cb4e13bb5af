<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import NewContact from '../people/NewContact.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import PageHead from '../ui/PageHead.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import { plural, showMoney } from '../ui/show'
import TextField from '../ui/TextField.vue'
import { useAct, useFirstField, useLoad } from '../use'
import ConflictHits from './ConflictHits.vue'
import { partyRoles } from './roles'

interface Party {
  who: Choice
  role: string
  side: 'ours' | 'adverse' | 'other'
  counsel: string
}
interface Member {
  userId: number
  name: string
  rate: number | null
}

const session = useSession()
useFirstField()
const router = useRouter()
const notes = useNotes()
const { state, act, fault } = useAct()
const checking = useAct()
const { data: setting } = useLoad(() => api.matters.setting())
const { data: procedures } = useLoad(() => api.tasks.procedures())

const form = reactive({
  client: null as Choice | null,
  name: '',
  openedOn: session.today as string | null,
  areaId: 0,
  description: '',
  parties: [] as Party[],
  court: '',
  caseNumber: '',
  ourSide: '',
  ruleSetKey: '',
  leadId: session.me!.id,
  team: [] as Member[],
  access: 'firm' as 'firm' | 'team',
  billing: 'hourly' as 'hourly' | 'flat',
  leadRate: null as number | null,
  flatFee: null as number | null,
  billTo: null as Choice | null,
  procedureId: 0,
})
const party = reactive({ who: null as Choice | null, role: '', side: 'adverse' as Party['side'], counsel: '' })
const member = ref(0)
const check = ref<Answer<typeof api.people.checkConflicts> | null>(null)
const making = ref<{ name: string; for: 'client' | 'party' | 'payer' } | null>(null)

const area = computed(() => setting.value?.areas.find((a) => a.id === form.areaId))
watch(area, (a) => (form.ruleSetKey = a?.ruleSetKey ?? ''))
watch(
  () => form.client,
  (c) => (form.billTo ??= c),
)
watch(setting, (s) => {
  if (s && !s.staff.some((x) => x.id === form.leadId && x.role === 'lawyer'))
    form.leadId = s.staff.find((x) => x.role === 'lawyer')?.id ?? form.leadId
})
const staff = computed(() => setting.value?.staff ?? [])
const lawyers = computed(() => staff.value.filter((s) => s.role === 'lawyer').map((s) => ({ value: s.id, text: s.name })))
const free = computed(() => staff.value.filter((s) => s.id !== form.leadId && !form.team.some((t) => t.userId === s.id)))
const leadName = computed(() => staff.value.find((s) => s.id === form.leadId)?.name ?? '')

const names = computed(() => [form.client?.text, ...form.parties.map((p) => p.who.text)].filter((n): n is string => Boolean(n)))
const ours = computed(() =>
  [form.client?.text, ...form.parties.filter((p) => p.side === 'ours').map((p) => p.who.text)].filter((n): n is string => Boolean(n)),
)
// Each change of the names is checked again at once, so that the record is never older than the parties.
watch(names, async (list) => {
  check.value = null
  if (list.length) check.value = await checking.act(() => api.people.checkConflicts({ terms: list, ours: ours.value }))
})

function addParty() {
  if (!party.who || !party.role.trim()) return
  form.parties.push({ who: party.who, role: party.role, side: party.side, counsel: party.counsel })
  Object.assign(party, { who: null, role: '', counsel: '' })
}
function addMember() {
  const who = staff.value.find((s) => s.id === member.value)
  if (who) form.team.push({ userId: who.id, name: who.name, rate: null })
  member.value = 0
}
function made(c: Choice) {
  if (making.value?.for === 'client') form.client = c
  else if (making.value?.for === 'payer') form.billTo = c
  else party.who = c
  making.value = null
}

const roleOf = (userId: number) => {
  const role = staff.value.find((s) => s.id === userId)?.role
  return role === 'lawyer'
    ? ('lawyer' as const)
    : role === 'outside lawyer'
      ? ('outside' as const)
      : role === 'paralegal'
        ? ('paralegal' as const)
        : ('assistant' as const)
}

async function open() {
  if (party.who) addParty()
  const opened = await act(() =>
    api.matters.open({
      clientId: form.client?.id ?? 0,
      name: form.name,
      openedOn: form.openedOn ?? '',
      areaId: form.areaId || null,
      description: form.description,
      parties: form.parties.map((p) => ({ contactId: p.who.id, role: p.role, side: p.side, counsel: p.counsel })),
      conflictCheckId: check.value?.id ?? 0,
      court: form.court,
      caseNumber: form.caseNumber,
      ourSide: form.ourSide,
      ruleSetKey: form.ruleSetKey || null,
      leadId: form.leadId,
      team: [
        { userId: form.leadId, role: 'lead', rate: form.leadRate },
        ...form.team.map((t) => ({ userId: t.userId, role: roleOf(t.userId), rate: t.rate })),
      ],
      access: form.access,
      billing: form.billing,
      flatFee: form.billing === 'flat' && form.flatFee ? [{ label: 'Flat fee', amount: form.flatFee }] : [],
      billToId: form.billTo?.id ?? null,
    }),
  )
  if (!opened) return
  if (form.procedureId) {
    const steps = await act(() => api.tasks.preview({ id: opened.id, procedureId: form.procedureId, start: form.openedOn! }))
    if (steps) await act(() => api.tasks.start({ id: opened.id, procedureId: form.procedureId, start: form.openedOn!, steps }))
  }
  notes.say(`Matter ${opened.number} opened`)
  session.changed()
  await router.push(`/matters/${opened.id}`)
}

useEventListener(window, 'keydown', (e: KeyboardEvent) => {
  if (e.key === 'Enter' && (e.ctrlKey || e.metaKey) && !document.querySelector('[role="dialog"]')) {
    e.preventDefault()
    void open()
  }
})
const undecided = computed(() => check.value?.hits.filter((h) => !h.decision).length ?? 0)
const sections = computed(() => [
  { id: 'client', name: 'Client and name', hint: '' },
  { id: 'parties', name: 'Parties', hint: form.parties.length ? plural(form.parties.length, 'party', 'parties') : '' },
  { id: 'court', name: 'Court and rules', hint: form.ruleSetKey ? 'rules chosen' : 'none yet' },
  { id: 'team', name: 'Team and access', hint: plural(form.team.length + 1, 'person', 'people') },
  { id: 'billing', name: 'Billing', hint: form.billing === 'hourly' ? 'hourly' : 'flat fee' },
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
  <div class="px-6 pt-[18px]">
    <PageHead title="Open a matter" hint="Only the name, the client and the date are needed now.">
      <Btn @click="router.back()">Leave</Btn>
      <Btn main key-name="Ctrl Enter" :busy="state.busy" @click="open">Open {{ setting?.nextNumber }}</Btn>
    </PageHead>
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <div class="grid grid-cols-[130px_minmax(0,1fr)_320px] gap-5 xl:grid-cols-[150px_minmax(0,1fr)_372px]">
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
          <div class="grid grid-cols-[2fr_1fr] gap-3">
            <Picker
              v-model="form.client"
              label="Client"
              :search="searchContacts"
              :fault="fault('clientId')"
              make="New person or organization"
              autofocus
              @make="making = { name: $event, for: 'client' }"
            />
            <DayField v-model="form.openedOn" label="Opened" :fault="fault('openedOn')" />
            <TextField v-model="form.name" label="Name of the matter" :fault="fault('name')" />
            <ChoiceField
              v-model="form.areaId"
              label="Area"
              :options="[{ value: 0, text: 'None yet' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
            />
            <div class="col-span-2"><TextField v-model="form.description" label="What the firm is engaged to do" optional /></div>
          </div>
        </section>
        <section id="parties" aria-label="Parties">
          <h2 class="mb-1">Parties</h2>
          <table v-if="form.parties.length" class="list-table mb-2">
            <thead>
              <tr>
                <th class="pl-0!">Who</th>
                <th>Role</th>
                <th>Counsel</th>
                <th><span class="sr-only">Take out</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(p, i) in form.parties" :key="p.who.id">
                <td class="pl-0!">
                  <b>{{ p.who.text }}</b>
                </td>
                <td class="text-ink-2">{{ p.role }}, {{ p.side }}</td>
                <td class="text-ink-2">{{ p.counsel }}</td>
                <td class="num">
                  <button type="button" class="px-1 text-ink-3" :aria-label="`Take out ${p.who.text}`" @click="form.parties.splice(i, 1)">
                    ×
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
          <div class="grid grid-cols-[1.5fr_1fr_100px_1fr_auto] items-end gap-2">
            <Picker
              v-model="party.who"
              label="Party"
              :search="searchContacts"
              make="New person or organization"
              @make="making = { name: $event, for: 'party' }"
            />
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
            <TextField v-model="party.counsel" label="Counsel" />
            <Btn :disabled="!party.who || !party.role.trim()" @click="addParty">Add party</Btn>
          </div>
        </section>
        <section id="court" aria-label="Court and rules">
          <h2 class="mb-2.5">Court and rules</h2>
          <div class="grid grid-cols-2 gap-3">
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
          </div>
        </section>
        <section id="team" aria-label="Team and access">
          <h2 class="mb-2.5">Team and access</h2>
          <div class="grid grid-cols-[1fr_130px_1fr] gap-3">
            <ChoiceField v-model="form.leadId" label="Lead lawyer" :options="lawyers" :fault="fault('leadId')" />
            <MoneyField v-model="form.leadRate" label="Own rate" optional />
            <ChoiceField
              v-model="form.access"
              label="Open to"
              :options="[
                { value: 'firm', text: 'All staff' },
                { value: 'team', text: 'The team only' },
              ]"
            />
          </div>
          <div
            v-for="(t, i) in form.team"
            :key="t.userId"
            class="mt-2 grid grid-cols-[1fr_130px_auto] items-end gap-3 border-t border-line-2 pt-2"
          >
            <span class="pb-1.5"
              >{{ t.name }} <span class="text-ink-2">{{ roleOf(t.userId) }}</span></span
            >
            <MoneyField v-model="t.rate" :label="`Rate of ${t.name.split(' ')[0]}`" optional />
            <Btn small @click="form.team.splice(i, 1)">Take out</Btn>
          </div>
          <div class="mt-2 grid grid-cols-[1fr_auto] items-end gap-3">
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
          <div class="grid grid-cols-3 gap-3">
            <Picker
              v-model="form.billTo"
              label="Whom to bill"
              :search="searchContacts"
              hint="Needed before anything can be billed"
              :fault="fault('billToId')"
              make="New person or organization"
              @make="making = { name: $event, for: 'payer' }"
            />
            <ChoiceField
              v-model="form.billing"
              label="Arrangement"
              :options="[
                { value: 'hourly', text: 'Hourly' },
                { value: 'flat', text: 'Flat fee' },
              ]"
            />
            <MoneyField v-if="form.billing === 'flat'" v-model="form.flatFee" label="Flat fee" :fault="fault('flatFee')" />
          </div>
        </section>
        <section id="first" aria-label="First steps">
          <h2 class="mb-2.5">First steps</h2>
          <ChoiceField
            v-model="form.procedureId"
            label="Procedure to start on opening"
            :options="[
              { value: 0, text: 'None now' },
              ...(procedures ?? []).map((p) => ({ value: p.id, text: `${p.name}, ${p.steps} steps` })),
            ]"
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
        <section
          class="sheet px-4 py-3.5 [&_dt]:text-ink-2 [&_dl>div]:grid [&_dl>div]:grid-cols-[80px_1fr] [&_dl>div]:border-t [&_dl>div]:border-line-2 [&_dl>div]:py-[5px]"
          aria-label="What will be there"
        >
          <h2 class="mb-1.5">What will be there</h2>
          <dl>
            <div>
              <dt>Number</dt>
              <dd>{{ setting?.nextNumber }}</dd>
            </div>
            <div>
              <dt>Billing</dt>
              <dd>
                {{ form.billing === 'hourly' ? 'Hourly' : `Flat fee ${form.flatFee ? showMoney(form.flatFee) : ''}`
                }}<template v-if="form.billTo"
                  >, to <b>{{ form.billTo.text }}</b></template
                >
              </dd>
            </div>
            <div>
              <dt>Team</dt>
              <dd>
                {{ leadName }} <span class="text-ink-2">keeps it</span
                ><template v-for="t in form.team" :key="t.userId">, {{ t.name }}</template>
              </dd>
            </div>
            <div v-if="form.procedureId">
              <dt>Procedure</dt>
              <dd>{{ procedures?.find((p) => p.id === form.procedureId)?.name }}</dd>
            </div>
            <div v-if="missing.length">
              <dt>Missing</dt>
              <dd class="text-bill-ink">{{ missing.join(', ') }}</dd>
            </div>
          </dl>
        </section>
      </div>
    </div>
    <NewContact
      v-if="making"
      :name="making.name"
      :as="making.for === 'client' ? 'client' : making.for === 'payer' ? 'payee' : 'opposing party'"
      @made="made"
      @close="making = null"
    />
  </div>
</template>
