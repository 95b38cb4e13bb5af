<script setup lang="ts">
import { roles, type FirstSteps } from '@heron/contract'
import { reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
import TextField from '../ui/TextField.vue'
import { keyOf } from '../ui/rows'
import { useForm } from '../ui/form'
import { useUnsaved } from '../ui/unsaved'
import { useFirstField } from '../use'
import WorkDays from './WorkDays.vue'

useFirstField()
const session = useSession()
const router = useRouter()
// A fault may stand on a step that is not shown; its step is shown then.

const zones = Intl.supportedValuesOf('timeZone')
const step = ref(0)
const names = ['The firm and you', 'People', 'Practice areas', 'Accounts and numbers']
/** Areas to begin with; each can be changed or taken out, here and later. */
const offered: FirstSteps['areas'] = [
  {
    name: 'Litigation',
    ruleSetKey: 'us-federal-civil',
    stages: ['Intake', 'Pleadings', 'Discovery', 'Motions', 'Trial', 'After judgment'],
  },
  { name: 'Estates', ruleSetKey: null, stages: ['Opening', 'Inventory', 'Claims', 'Accounts', 'Distribution'] },
  { name: 'Business advice', ruleSetKey: null, stages: ['Intake', 'Advice', 'Papers', 'Done'] },
  { name: 'Real property', ruleSetKey: null, stages: ['Intake', 'Title', 'Papers', 'Closing'] },
]
const form = reactive<FirstSteps>({
  firm: { name: '', address: '', phone: '', zone: Intl.DateTimeFormat().resolvedOptions().timeZone },
  administrator: { name: '', initials: '', email: '', password: '' },
  people: [],
  areas: offered.map((a) => ({ ...a })),
  matterPattern: '{yy}-{n:4}',
  workDays: [1, 2, 3, 4, 5],
  operatingBank: { name: 'Operating', bank: '', ending: '' },
  trustBank: { name: 'Pooled client trust', bank: '', ending: '' },
})
// Closing the tab asks, once something was filled in.
const begun = JSON.stringify(form)
let isSetUp = false
useUnsaved({ changed: () => !isSetUp && JSON.stringify(form) !== begun })
/** Stages as they are written, of each area; what is typed stays as it is typed. */
const stageText = ref(form.areas.map((a) => a.stages.join(', ')))
watch(
  stageText,
  (texts) =>
    texts.forEach((text, i) => {
      const stages = text.split(',').map((s) => s.trim()).filter(Boolean) // prettier-ignore
      if (form.areas[i]) form.areas[i].stages = stages
    }),
  { deep: true, flush: 'sync' },
)
function addArea() {
  form.areas.push({ name: '', ruleSetKey: null, stages: ['Intake', 'Work', 'Done'] })
  stageText.value.push('Intake, Work, Done')
}
const faultOfStages = (i: number) => fault(`areas.${i}.stages`) || form.areas[i]!.stages.map((_, k) => fault(`areas.${i}.stages.${k}`)).find(Boolean) // prettier-ignore
/** Initials go with the name until they are written by hand. */
function named(p: { name: string; initials: string }, name: string) {
  if (p.initials === initialsOf(p.name)) p.initials = initialsOf(name)
  p.name = name
}
const initialsOf = (name: string) =>
  name
    .split(/\s+/)
    .map((w) => w[0] ?? '')
    .join('')
    .slice(0, 3)
    .toUpperCase()
const stepOf = (path: string) => (/^(firm|administrator)/.test(path) ? 0 : path.startsWith('people') ? 1 : path.startsWith('areas') ? 2 : 3)
const wrong = (i: number) => state.fields.some((f) => stepOf(f.path) === i)
const { state, fault, send } = useForm(
  () => api.firm.setUp(form),
  () => true,
)

async function save() {
  const done = await send()
  if (!done) {
    // The step that holds the first fault is shown.
    const at = names.findIndex((_, i) => wrong(i))
    if (at >= 0) step.value = at
    return
  }
  isSetUp = true
  await session.look()
  await session.signIn(form.administrator.email, form.administrator.password)
  await router.push('/today')
}
function next() {
  if (step.value < names.length - 1) step.value += 1
  else void save()
}
</script>

<template>
  <main id="main" class="mx-auto max-w-[760px] px-6 py-8">
    <h1>Set up your firm</h1>
    <p class="mb-4 text-ink-2">Four short steps. All of it can be changed later under Set-up.</p>
    <ol class="mb-4 flex gap-4 border-b border-line">
      <li v-for="(n, i) in names" :key="n">
        <button
          type="button"
          class="-mb-px border-b-2 pb-1.5"
          :class="i === step ? 'border-b-bill font-semibold' : 'border-transparent text-ink-2'"
          :aria-current="i === step ? 'step' : undefined"
          @click="step = i"
        >
          {{ i + 1 }}. {{ n }}<span v-if="wrong(i)" class="ml-1 text-rust">to mend</span>
        </button>
      </li>
    </ol>
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">
      {{ state.fields.length ? 'Something is not right yet; the field says what. All that you filled in is kept.' : state.message }}
    </p>
    <form class="sheet space-y-3 px-5 py-4" @submit.prevent="next">
      <template v-if="step === 0">
        <TextField v-model="form.firm.name" label="Name of the firm" :fault="fault('firm.name')" autofocus />
        <TextField v-model="form.firm.address" label="Address" :lines="3" :fault="fault('firm.address')" />
        <div class="grid stacks grid-cols-2 gap-3">
          <TextField v-model="form.firm.phone" label="Phone" optional :fault="fault('firm.phone')" />
          <TextField v-model="form.firm.zone" label="Time zone" :list="zones" :fault="fault('firm.zone')" />
        </div>
        <h2 class="pt-2">You, as administrator</h2>
        <div class="grid stacks grid-cols-2 gap-3">
          <TextField
            :model-value="form.administrator.name"
            label="Your name"
            :fault="fault('administrator.name')"
            @update:model-value="named(form.administrator, $event)"
          />
          <TextField v-model="form.administrator.initials" label="Initials" :fault="fault('administrator.initials')" />
          <TextField v-model="form.administrator.email" label="E-mail, to sign in with" :fault="fault('administrator.email')" />
          <TextField
            v-model="form.administrator.password"
            label="Password, ten characters or more"
            type="password"
            :fault="fault('administrator.password')"
          />
        </div>
      </template>
      <template v-else-if="step === 1">
        <p class="text-ink-2">Who works here besides you? At least one lawyer is needed to lead matters; more can be added later.</p>
        <fieldset v-for="(p, i) in form.people" :key="keyOf(p)" class="grid stacks grid-cols-3 gap-3 border-t border-line-2 pt-2">
          <TextField :model-value="p.name" label="Name" :fault="fault(`people.${i}.name`)" @update:model-value="named(p, $event)" />
          <TextField v-model="p.initials" label="Initials" :fault="fault(`people.${i}.initials`)" />
          <TextField v-model="p.email" label="E-mail" :fault="fault(`people.${i}.email`)" />
          <ChoiceField v-model="p.role" label="Role" :options="roles.map((r) => ({ value: r, text: r }))" />
          <MoneyField v-model="p.rate" label="Rate an hour" optional :fault="fault(`people.${i}.rate`)" />
          <TextField v-model="p.password" label="First password" type="password" :fault="fault(`people.${i}.password`)" />
          <div class="self-end"><Btn @click="form.people.splice(i, 1)">Take out</Btn></div>
        </fieldset>
        <Btn @click="form.people.push({ name: '', initials: '', email: '', role: 'lawyer', rate: null, password: '' })">Add someone</Btn>
      </template>
      <template v-else-if="step === 2">
        <p class="text-ink-2">Each area has stages of its own, in order, with commas between.</p>
        <div
          v-for="(a, i) in form.areas"
          :key="keyOf(a)"
          class="grid stacks grid-cols-[180px_1fr_auto] items-end gap-3 border-t border-line-2 pt-2"
        >
          <TextField v-model="a.name" label="Area" :fault="fault(`areas.${i}.name`)" />
          <TextField v-model="stageText[i]!" label="Stages" :fault="faultOfStages(i)" />
          <Btn @click="(form.areas.splice(i, 1), stageText.splice(i, 1))">Take out</Btn>
        </div>
        <Btn @click="addArea">Another area</Btn>
        <p v-if="fault('areas')" class="text-rust">{{ fault('areas') }}</p>
      </template>
      <template v-else>
        <h2>Bank accounts</h2>
        <div class="grid stacks grid-cols-3 gap-3">
          <TextField v-model="form.operatingBank.name" label="Operating account" :fault="fault('operatingBank.name')" />
          <TextField v-model="form.operatingBank.bank" label="At which bank" :fault="fault('operatingBank.bank')" />
          <TextField v-model="form.operatingBank.ending" label="Last four digits" :fault="fault('operatingBank.ending')" />
          <TextField v-model="form.trustBank.name" label="Pooled trust account" :fault="fault('trustBank.name')" />
          <TextField v-model="form.trustBank.bank" label="At which bank (trust)" :fault="fault('trustBank.bank')" />
          <TextField v-model="form.trustBank.ending" label="Last four digits (trust)" :fault="fault('trustBank.ending')" />
        </div>
        <TextField
          v-model="form.matterPattern"
          label="Pattern of matter numbers"
          :fault="fault('matterPattern')"
          hint="{yy} the year, {n:4} the running number"
        />
        <WorkDays v-model="form.workDays" :fault="fault('workDays')" />
      </template>
      <div class="flex gap-2 border-t border-line-2 pt-3">
        <Btn v-if="step" @click="step -= 1">Back</Btn>
        <Btn main type="submit" :busy="state.busy">{{ step < names.length - 1 ? 'Go on' : 'Set up the firm' }}</Btn>
      </div>
    </form>
  </main>
</template>
