<script setup lang="ts">
import { faultOfNumberPattern, formatMatterNumber } from '@heron/core/matters'
import { computed, reactive, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import SetUpTabs from './SetUpTabs.vue'
import WorkDays from './WorkDays.vue'

const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.firm.get())
const { state, act, fault } = useAct()
const form = reactive({
  name: '',
  address: '',
  phone: '',
  district: '',
  zone: '',
  timeUnitMinutes: '6',
  timeRounding: 'up' as 'up' | 'nearest',
  billTermsDays: '30',
  trustNoticeDays: '0',
  tax: '0',
  matterPattern: '',
  twoPeopleForBills: false,
  workDays: [] as number[],
})
const zones = Intl.supportedValuesOf('timeZone')
const holidays = ref<{ day: string | null; name: string }[]>([])
watch(data, (d) => {
  if (!d) return
  Object.assign(form, {
    ...d,
    district: d.district ?? '',
    timeUnitMinutes: String(d.timeUnitMinutes),
    billTermsDays: String(d.billTermsDays),
    trustNoticeDays: String(d.trustNoticeDays),
    tax: String(d.taxBasisPoints / 100),
    workDays: [...d.workDays],
  })
  holidays.value = d.holidays.map((h) => ({ ...h }))
})
const example = computed(() => {
  const wrong = faultOfNumberPattern(form.matterPattern)
  return wrong ?? `For example ${formatMatterNumber(form.matterPattern, { year: Number(session.today.slice(0, 4)), n: 142, client: 37 })}`
})
const whole = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : -1)
async function save() {
  const done = await act(async () => {
    await api.firm.change({
      name: form.name,
      address: form.address,
      phone: form.phone,
      district: form.district || null,
      zone: form.zone.trim(),
      timeUnitMinutes: whole(form.timeUnitMinutes),
      timeRounding: form.timeRounding,
      billTermsDays: whole(form.billTermsDays),
      trustNoticeDays: whole(form.trustNoticeDays),
      taxBasisPoints: Math.round(Number(form.tax) * 100),
      matterPattern: form.matterPattern,
      twoPeopleForBills: form.twoPeopleForBills,
      workDays: form.workDays,
    })
    return api.firm.setHolidays({ holidays: holidays.value.map((h) => ({ day: h.day ?? '', name: h.name })) })
  })
  if (!done) return
  notes.say('Settings kept')
  await session.look()
  await reload()
}
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Set-up"><Btn main :busy="state.busy" key-name="Ctrl Enter" @click="save">Save</Btn></PageHead>
    <SetUpTabs />
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <form class="grid max-w-[1000px] gap-[18px] lg:grid-cols-2" @submit.prevent="save" @keydown.ctrl.enter="save">
        <p v-if="state.message && !state.fields.length" role="alert" class="text-rust lg:col-span-2">{{ state.message }}</p>
        <section class="sheet space-y-3 px-4 py-3.5" aria-label="The firm">
          <h2>The firm</h2>
          <TextField v-model="form.name" label="Name" :fault="fault('name')" />
          <TextField v-model="form.address" label="Address" :lines="3" :fault="fault('address')" />
          <TextField v-model="form.phone" label="Phone" optional />
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
              ...(data?.districts ?? []).map((d) => ({ value: d, text: d.charAt(0).toUpperCase() + d.slice(1) })),
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
          <div class="grid grid-cols-2 gap-3">
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
          <div v-for="(h, i) in holidays" :key="i" class="grid grid-cols-[170px_1fr_auto] items-end gap-3">
            <DayField v-model="h.day" label="Closed on" :fault="fault(`holidays.${i}.day`)" />
            <TextField v-model="h.name" label="Name" :fault="fault(`holidays.${i}.name`)" />
            <Btn @click="holidays.splice(i, 1)">Take out</Btn>
          </div>
          <Btn @click="holidays.push({ day: null, name: '' })">Add a day on which the firm is closed</Btn>
        </section>
      </form>
    </State>
  </div>
</template>
