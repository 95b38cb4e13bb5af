<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { roles } from '@heron/contract'
import { reactive, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedMinutes, useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type Person = Answer<typeof api.firm.people>[number]
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.firm.people())
const open = ref<'person' | 'rate' | 'password' | null>(null)
const who = ref<Person | null>(null)
const form = reactive({
  name: '',
  initials: '',
  email: '',
  role: 'lawyer' as Person['role'],
  title: '',
  goal: '',
  mayOverride: false,
  password: '',
})
const rate = reactive({ from: null as Day | null, to: null as Day | null, rate: null as number | null, usual: true })
const password = ref('')
function edit(p: Person | null) {
  who.value = p
  Object.assign(
    form,
    p
      ? { ...p, goal: p.dayGoalMinutes ? String(p.dayGoalMinutes / 60) : '', password: '' }
      : { name: '', initials: '', email: '', role: 'lawyer', title: '', goal: '', mayOverride: false, password: '' },
  )
  open.value = 'person'
}
function act2(kind: 'rate' | 'password', p: Person) {
  who.value = p
  password.value = ''
  Object.assign(rate, { from: null, to: null, rate: null, usual: true })
  open.value = kind
}
const { state, fault, send } = useForm(() => {
  const own = {
    name: form.name,
    initials: form.initials,
    email: form.email,
    role: form.role,
    title: form.title,
    dayGoalMinutes: typedMinutes(form.goal) ?? 0,
    mayOverride: form.mayOverride,
  }
  if (open.value === 'rate')
    return api.firm.addRate({ id: who.value!.id, from: rate.from ?? '', to: rate.to, rate: rate.rate ?? -1, usual: rate.usual })
  if (open.value === 'password') return api.firm.setPassword({ id: who.value!.id, password: password.value })
  return who.value ? api.firm.changePerson({ id: who.value.id, ...own }) : api.firm.makePerson({ ...own, password: form.password })
})
async function savePerson() {
  if (!(await send())) return
  notes.say(who.value ? `${form.name} changed` : `${form.name} works here`)
  open.value = null
  await reload()
}
async function saveRate() {
  if (!(await send())) return
  notes.say('Rate kept')
  open.value = null
  await reload()
}
async function savePassword() {
  if (!(await send())) return
  notes.say(`${who.value?.name} has a new password and is signed out`)
  open.value = null
}
/** Why somebody is not, or soon not, here; nothing for whoever is. */
function stateOf(p: Person): string {
  if (!p.active) return `left ${p.leftOn ? dayText(p.leftOn) : ''}`
  if (!p.absence) return ''
  const { begun, kind, from, to } = p.absence
  if (!begun) return `${kind === 'leave' ? 'leave' : 'departure'} planned from ${dayText(from)}`
  return `on leave${to ? ` to ${dayText(to)}` : ''}`
}
const columns: Column<Person>[] = [
  { key: 'name', text: 'Name', grow: 1.4, wrap: true, narrow: 'title', sort: true },
  { key: 'role', text: 'Role', wrap: true, sort: true },
  {
    key: 'goal',
    text: 'Goal a day',
    kind: 'number',
    size: 92,
    value: (p) => p.dayGoalMinutes / 60 || null,
    show: (p) => (p.dayGoalMinutes ? `${p.dayGoalMinutes / 60} h` : ''),
  },
  {
    key: 'rates',
    text: 'Rates',
    grow: 1.4,
    wrap: true,
    value: (p) => p.rates.map((r) => `${showMoney(r.rate)} from ${r.from}`).join('; '),
  },
]
const acts = (p: Person): Act[] =>
  p.active
    ? [
        { text: `Change ${p.name}`, act: () => edit(p) },
        { text: `New rate for ${p.name}`, act: () => act2('rate', p) },
        { text: `New password for ${p.name}`, act: () => act2('password', p) },
      ]
    : []
</script>

<template>
  <SetUpPage>
    <template #acts><Btn main @click="edit(null)">Add someone</Btn></template>
    <section class="sheet" aria-label="People">
      <DataTable
        label="People"
        name="staff"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(p) => p.id"
        :loading="loading"
        :problem="problem"
        :acts="acts"
        :open="(p) => (p.active ? edit(p) : undefined)"
        @again="reload()"
      >
        <template #cell-name="{ row: p }"
          ><b>{{ p.name }}</b> <span class="text-ink-2">{{ p.initials }}</span><span class="block text-sm text-ink-2">{{
            p.email
          }}</span></template
        >
        <template #cell-role="{ row: p }"
          >{{ p.role }}<span class="block text-sm text-ink-2">{{ p.title }}</span>
          <span v-if="stateOf(p)" class="block text-sm text-bill-ink">{{ stateOf(p) }}</span></template
        >
        <template #cell-rates="{ row: p }"
          ><span v-for="r in p.rates" :key="r.id" class="block"
            >{{ showMoney(r.rate) }}
            <span class="text-ink-2"
              >from {{ dayText(r.from) }}<template v-if="r.to"> to {{ dayText(r.to) }}</template
              ><template v-if="!r.usual">, beside the usual one</template></span
            ></span
          ></template
        >
      </DataTable>
    </section>
    <SideSheet
      v-if="open === 'person'"
      :title="who ? who.name : 'Add someone'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      :changed="form.name !== (who?.name ?? '')"
      @save="savePerson"
      @close="open = null"
    >
      <TextField v-model="form.name" label="Name" :fault="fault('name')" autofocus />
      <TextField v-model="form.initials" label="Initials" :fault="fault('initials')" />
      <TextField v-model="form.email" label="E-mail, to sign in with" :fault="fault('email')" />
      <ChoiceField v-model="form.role" label="Role" :fault="fault('role')" :options="roles.map((r) => ({ value: r, text: r }))" />
      <TextField v-model="form.title" label="Title" optional />
      <TextField v-model="form.goal" label="Goal of hours a day" optional :fault="fault('dayGoalMinutes')" />
      <TextField
        v-if="!who"
        v-model="form.password"
        label="First password"
        type="password"
        :fault="fault('password')"
        hint="At least ten characters; tell it to them in person."
      />
      <label class="flex gap-2"
        ><input v-model="form.mayOverride" type="checkbox" class="accent-ink" /> May spend trust money before it has cleared, with a
        reason</label
      >
    </SideSheet>
    <SideSheet
      v-if="open === 'rate'"
      :title="`New rate for ${who?.name}`"
      save="Keep the rate"
      :busy="state.busy"
      :message="state.said"
      :changed="rate.rate !== null"
      @save="saveRate"
      @close="open = null"
    >
      <DayField v-model="rate.from" label="From" :fault="fault('from')" autofocus />
      <MoneyField v-model="rate.rate" label="Rate an hour" :fault="fault('rate')" />
      <DayField v-model="rate.to" label="To" optional :fault="fault('to')" />
      <label class="flex gap-2"
        ><input v-model="rate.usual" type="checkbox" class="accent-ink" /> The usual rate: the one before it ends the day before</label
      >
      <p class="text-ink-2">Time already recorded keeps the rate it was recorded at.</p>
    </SideSheet>
    <SideSheet
      v-if="open === 'password'"
      :title="`New password for ${who?.name}`"
      save="Set it"
      :busy="state.busy"
      :message="state.said"
      :changed="password !== ''"
      @save="savePassword"
      @close="open = null"
    >
      <TextField v-model="password" label="New password" type="password" :fault="fault('password')" autofocus />
    </SideSheet>
  </SetUpPage>
</template>
