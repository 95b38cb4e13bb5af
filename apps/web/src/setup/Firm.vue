<script setup lang="ts">
import { faultOfNumberPattern, formatMatterNumber } from '@heron/core/matters'
import { computed } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useKeptForm } from '../ui/kept'
import { useAct } from '../use'
import SetUpPage from './SetUpPage.vue'
import WorkDays from './WorkDays.vue'

const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const zones = Intl.supportedValuesOf('timeZone')
const {
  form,
  problem,
  reload,
  save: keep,
} = useKeptForm(async () => {
  const d = await api.firm.get()
  return {
    name: d.name,
    address: d.address,
    phone: d.phone,
    taxNumber: d.taxNumber,
    district: d.district ?? '',
    districts: d.districts,
    zone: d.zone,
    timeUnitMinutes: String(d.timeUnitMinutes),
    timeRounding: d.timeRounding,
    billTermsDays: String(d.billTermsDays),
    trustNoticeDays: String(d.trustNoticeDays),
    tax: String(d.taxBasisPoints / 100),
    matterPattern: d.matterPattern,
    twoPeopleForBills: d.twoPeopleForBills,
    workDays: d.workDays,
    holidays: d.holidays.map((h): { day: string | null; name: string } => ({ ...h })),
  }
})
const example = computed(() => {
  const pattern = form.value?.matterPattern ?? ''
  const wrong = faultOfNumberPattern(pattern)
  return wrong ?? `For example ${formatMatterNumber(pattern, { year: Number(session.today.slice(0, 4)), n: 142, client: 37 })}`
})
const whole = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : -1)
async function save() {
  const done = await keep((own) =>
    act(async () => {
      await api.firm.change({
        name: own.name,
        address: own.address,
        phone: own.phone,
        taxNumber: own.taxNumber,
        district: own.district || null,
        zone: own.zone.trim(),
        timeUnitMinutes: whole(own.timeUnitMinutes),
        timeRounding: own.timeRounding,
        billTermsDays: whole(own.billTermsDays),
        trustNoticeDays: whole(own.trustNoticeDays),
        taxBasisPoints: Math.round(Number(own.tax) * 100),
        matterPattern: own.matterPattern,
        twoPeopleForBills: own.twoPeopleForBills,
        workDays: own.workDays,
      })
      return api.firm.setHolidays({ holidays: own.holidays.map((h) => ({ day: h.day ?? '', name: h.name })) })
    }),
  )
  if (!done) return
  notes.say('Settings kept')
  await session.look()
}
</script>

<template>
  <SetUpPage>
    <template #acts><Btn main :busy="state.busy" key-name="Ctrl Enter" @click="save">Save</Btn></template>
    <State :loading="!form" :problem="problem" @again="reload()">
      <form v-if="form" class="grid stacks max-w-[1000px] gap-[18px] lg:grid-cols-2" @submit.prevent="save" @keydown.ctrl.enter="save">
        <p v-if="state.message && !state.fields.length" role="alert" class="text-rust lg:col-span-2">{{ state.message }}</p>
        <section class="sheet space-y-3 px-4 py-3.5" aria-label="The firm">
          <h2>The firm</h2>
          <TextField v-model="form.name" label="Name" :fault="fault('name')" />
          <TextField v-model="form.address" label="Address" :lines="3" :fault="fault('address')" />
          <TextField v-model="form.phone" label="Phone" optional />
          <TextField v-model="form.taxNumber" label="Tax number" optional hint="Names the firm in electronic bills" />
          <TextField
            v-model="form.zone"
            label="Time zone"
            :list="zones"
            :fault="fault('zone')"
            hint="Days begin there, and letters go out by its clock; a court’s own hours stand in its rules."
          />
          <ChoiceField
            v-model="form.district"
            label="State whose holidays count"
            :options="[
              { value: '', text: 'None' },
              ...form.districts.map((d) => ({ value: d, text: d.charAt(0).toUpperCase() + d.slice(1) })),
            ]"
          />
        </section>
        <section class="sheet space-y-3 px-4 py-3.5" aria-label="Numbers, time and bills">
          <h2>Numbers, time and bills</h2>
          <TextField
            v-model="form.matterPattern"
            label="Pattern of matter numbers"
            :fault="fault('matterPattern')"
            :hint="`${example}. Use {yyyy}, {yy}, {n:4} and {client:5}; practice and firm matters have series of their own.`"
          />
          <div class="grid stacks grid-cols-2 gap-3">
            <TextField v-model="form.timeUnitMinutes" label="Unit of time, minutes" :fault="fault('timeUnitMinutes')" />
            <ChoiceField
              v-model="form.timeRounding"
              label="Rounding"
              :options="[
                { value: 'up', text: 'Upward' },
                { value: 'nearest', text: 'To the nearest' },
              ]"
            />
            <TextField v-model="form.billTermsDays" label="Bills are due after, days" :fault="fault('billTermsDays')" />
            <TextField v-model="form.trustNoticeDays" label="Notice before trust pays a bill, days" :fault="fault('trustNoticeDays')" />
            <TextField v-model="form.tax" label="Tax on fees, percent" :fault="fault('taxBasisPoints')" />
          </div>
          <label class="flex items-center gap-2"
            ><input v-model="form.twoPeopleForBills" type="checkbox" /> Whoever approves a pre-bill may not issue its bill</label
          >
        </section>
        <section class="sheet space-y-3 px-4 py-3.5 lg:col-span-2" aria-label="Working days">
          <h2>Working days</h2>
          <WorkDays v-model="form.workDays" />
          <p class="text-ink-2">Business days of procedures are these, less holidays of the courts and the days below.</p>
          <div v-for="(h, i) in form.holidays" :key="i" class="grid stacks grid-cols-[170px_1fr_auto] items-end gap-3">
            <DayField v-model="h.day" label="Closed on" :fault="fault(`holidays.${i}.day`)" />
            <TextField v-model="h.name" label="Name" :fault="fault(`holidays.${i}.name`)" />
            <Btn @click="form.holidays.splice(i, 1)">Take out</Btn>
          </div>
          <Btn @click="form.holidays.push({ day: null, name: '' })">Add a day on which the firm is closed</Btn>
        </section>
      </form>
    </State>
  </SetUpPage>
</template>
