<script setup lang="ts">
import { parts, type Part } from '@heron/contract'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad, useOpening } from '../use'
import GrantFields from './GrantFields.vue'
import { teamRoleOf } from './roles'

type Matter = Answer<typeof api.matters.get>
const props = defineProps<{ matter: Matter }>()
const session = useSession()
const notes = useNotes()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const keeps = computed(() => props.matter.own.keeps)
const partNames: Record<Part, string> = { file: 'file', docket: 'docket', papers: 'papers', money: 'time and bills', trust: 'trust' }
const said = (g: Record<Part, number>) => {
  const change = parts.filter((p) => g[p] === 2).map((p) => partNames[p])
  const see = parts.filter((p) => g[p] === 1).map((p) => partNames[p])
  if (change.length === parts.length) return 'changes everything'
  if (!change.length && !see.length) return 'sees nothing'
  return [change.length ? `changes ${change.join(', ')}` : '', see.length ? `sees ${see.join(', ')}` : ''].filter(Boolean).join('; ')
}

const editing = ref(false)
const member = reactive({
  userId: 0,
  role: 'lawyer' as 'lead',
  keeps: false,
  rate: null as number | null,
  usual: true,
  grants: { file: 2, docket: 2, papers: 2, money: 2, trust: 2 },
})
function edit(t?: Matter['team'][number]) {
  Object.assign(
    member,
    t
      ? { userId: t.userId, role: t.role, keeps: t.keeps, rate: t.rate, usual: false, grants: { ...t.grants } }
      : { userId: 0, role: 'lawyer', keeps: false, rate: null, usual: true, grants: { file: 2, docket: 2, papers: 2, money: 2, trust: 2 } },
  )
  editing.value = true
}
const free = computed(() =>
  (setting.value?.staff ?? []).filter(
    (s) => !props.matter.team.some((t) => t.userId === s.id) && !props.matter.screens.some((x) => x.userId === s.id),
  ),
)
const known = computed(() => props.matter.team.find((t) => t.userId === member.userId))
watch(
  () => member.userId,
  (id) => {
    if (!known.value) member.role = teamRoleOf(setting.value?.staff.find((s) => s.id === id)?.role) as 'lead'
  },
)
const { state, act, fault, send } = useForm(() => {
  const { id } = props.matter
  if (screening.value) return api.matters.screen({ id, ...screen })
  if (opening.value) return api.matters.setAccess({ id, staff: staff.value })
  const { usual, grants, ...rest } = member
  return api.matters.setTeam({ id, ...rest, ...(usual ? {} : { grants }) })
})
async function saveMember() {
  if (!(await send())) return
  notes.say(known.value ? 'Team changed' : 'On the team, and told by e-mail')
  editing.value = false
  session.changed()
}
async function takeOff(t: Matter['team'][number]) {
  if (!(await act(() => api.matters.leaveTeam({ id: props.matter.id, userId: t.userId })))) return
  const { userId, rate, keeps: kept, grants } = t
  notes.say(`${t.name} is off the team`, {
    label: 'Undo',
    act: () =>
      api.matters.setTeam({ id: props.matter.id, userId, role: t.role as 'lawyer', rate, keeps: kept, grants }).then(session.changed),
  })
  session.changed()
}

const screening = ref(false)
const screen = reactive({ userId: 0, reason: '' })
useOpening(screening, () => Object.assign(screen, { userId: 0, reason: '' }))
async function saveScreen() {
  if (!(await send())) return
  notes.say('Screened: this matter is gone for them, everywhere')
  screening.value = false
  session.changed()
}
async function unscreen(s: Matter['screens'][number]) {
  if (!(await act(() => api.matters.unscreen({ id: props.matter.id, userId: s.userId })))) return
  notes.say(`Screen of ${s.name} taken down`, {
    label: 'Undo',
    act: () => api.matters.screen({ id: props.matter.id, userId: s.userId, reason: s.reason }).then(session.changed),
  })
  session.changed()
}

const opening = ref(false)
const staff = ref({ ...props.matter.staff })
useOpening(opening, () => (staff.value = { ...props.matter.staff }))
async function saveAccess() {
  if (!(await send())) return
  notes.say('Access changed')
  opening.value = false
  session.changed()
}
async function follow() {
  if (await act(() => api.matters.follow({ id: props.matter.id, on: !props.matter.own.follows }))) session.changed()
}
</script>

<template>
  <div class="flex items-center">
    <h2>Team</h2>
    <span class="ml-auto flex gap-2">
      <Btn v-if="!matter.team.some((t) => t.userId === session.me?.id)" small @click="follow">{{
        matter.own.follows ? 'No longer follow' : 'Follow'
      }}</Btn>
      <Btn v-if="keeps" small @click="edit()">Add someone</Btn>
    </span>
  </div>
  <p v-if="state.message && !editing && !screening && !opening" role="alert" class="text-rust">{{ state.message }}</p>
  <div v-for="t in matter.team" :key="t.userId" class="flex items-start gap-2 border-t border-line-2 py-[5px]">
    <span class="min-w-0 flex-1"
      >{{ t.name }}
      <span class="text-ink-2"
        >{{ t.role }}<template v-if="t.keeps">, keeps it</template><template v-if="!t.active">, has left</template></span
      ><span v-if="keeps" class="block text-sm text-ink-2">{{ said(t.grants) }}; since {{ dayText(t.since) }}</span></span
    >
    <span v-if="t.rate !== null" class="whitespace-nowrap">{{ showMoney(t.rate) }} <span class="text-ink-2">here</span></span>
    <template v-if="keeps">
      <Btn small :aria-label="`Change ${t.name}`" @click="edit(t)">Change</Btn>
      <Btn v-if="t.role !== 'lead'" small :aria-label="`Take ${t.name} off the team`" @click="takeOff(t)">Take off</Btn>
    </template>
  </div>
  <div class="flex items-center border-t border-line-2 py-[5px]">
    <span class="flex-1"
      ><span class="text-ink-2">All other staff:</span> {{ matter.staff.file ? said(matter.staff) : 'nothing; kept to the team' }}</span
    >
    <Btn v-if="keeps" small @click="opening = true">Change access</Btn>
  </div>
  <template v-if="keeps">
    <div v-for="s in matter.screens" :key="s.userId" class="flex items-center gap-2 border-t border-line-2 py-[5px]">
      <span class="flex-1"
        ><span class="tag bg-mist">screened</span> {{ s.name }}
        <span class="text-ink-2">{{ [s.reason, s.since ? `since ${dayText(s.since)}` : ''].filter(Boolean).join(', ') }}</span></span
      >
      <Btn small :aria-label="`Take down the screen of ${s.name}`" @click="unscreen(s)">Take down</Btn>
    </div>
    <Btn small class="mt-1" @click="screening = true">Screen someone</Btn>
  </template>

  <SideSheet
    v-if="editing"
    :title="known ? known.name : 'Add to the team'"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    @save="saveMember"
    @close="editing = false"
  >
    <ChoiceField
      v-if="!known"
      v-model="member.userId"
      label="Who"
      autofocus
      :fault="fault('userId')"
      :options="[{ value: 0, text: 'Choose a person' }, ...free.map((s) => ({ value: s.id, text: `${s.name}, ${s.title || s.role}` }))]"
    />
    <ChoiceField
      v-model="member.role"
      label="Role on this matter"
      :fault="fault('role')"
      :options="[
        { value: 'lead', text: 'Lead lawyer' },
        { value: 'lawyer' as 'lead', text: 'Lawyer' },
        { value: 'paralegal' as 'lead', text: 'Paralegal' },
        { value: 'assistant' as 'lead', text: 'Assistant' },
        { value: 'outside' as 'lead', text: 'Outside' },
      ]"
    />
    <p v-if="member.role === 'lead' && known?.role !== 'lead'" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
      Takes the place of {{ matter.lead }}, who stays on the team.
    </p>
    <MoneyField v-model="member.rate" label="Own rate on this matter" optional />
    <label class="flex gap-2"
      ><input v-model="member.keeps" type="checkbox" class="accent-ink" /> Keeps the matter: may change access and close it</label
    >
    <label class="flex gap-2"
      ><input v-model="member.usual" type="checkbox" class="accent-ink" /> Sees and changes what is usual for the person’s role in the
      firm</label
    >
    <GrantFields v-if="!member.usual" v-model="member.grants" :fault="fault('grants.file')" />
  </SideSheet>
  <SideSheet
    v-if="screening"
    title="Screen someone"
    save="Screen"
    :busy="state.busy"
    :message="state.said"
    @save="saveScreen"
    @close="screening = false"
  >
    <p class="text-ink-2">
      There will be no sign of this matter for that person: not in lists, searches, calendars, reports, logs or counts. A conflict check
      says only that there is a hit, and to ask {{ matter.lead }}.
    </p>
    <ChoiceField
      v-model="screen.userId"
      label="Who"
      autofocus
      :fault="fault('userId')"
      :options="[
        { value: 0, text: 'Choose a person' },
        ...(setting?.staff ?? [])
          .filter((s) => s.id !== matter.leadId && !matter.screens.some((x) => x.userId === s.id))
          .map((s) => ({ value: s.id, text: s.name })),
      ]"
    />
    <TextField v-model="screen.reason" label="Why" optional :fault="fault('reason')" />
  </SideSheet>
  <SideSheet
    v-if="opening"
    title="What all other staff may do"
    save="Save"
    :busy="state.busy"
    :message="state.message"
    @save="saveAccess"
    @close="opening = false"
  >
    <GrantFields v-model="staff" :fault="fault('staff.file')" />
    <p class="text-ink-2">
      Nobody does more than the role in the firm allows. The docket clerk sees every date and the bookkeeper every account, unless screened.
    </p>
  </SideSheet>
</template>
