<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { faultOfNumberPattern, formatMatterNumber } from '@heron/core/matters'
import { computed } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { keyOf } from '../ui/rows'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useKeptForm } from '../ui/kept'
import { useForm } from '../ui/form'
import { typedBasisPoints } from '../use'
import SetUpPage from './SetUpPage.vue'
import WorkDays from './WorkDays.vue'

const session = useSession()
const notes = useNotes()
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
    taxSoft: String(d.taxSoftBasisPoints / 100),
    taxHard: String(d.taxHardBasisPoints / 100),
    paymentOrder: d.paymentOrder,
    matterPattern: d.matterPattern,
    twoPeopleForBills: d.twoPeopleForBills,
    workDays: d.workDays,
    holidays: d.holidays.map((h): { day: Day | null; name: string } => ({ ...h })),
  }
})
const example = computed(() => {
  const pattern = form.value?.matterPattern ?? ''
  const wrong = faultOfNumberPattern(pattern)
  return wrong ?? `For example ${formatMatterNumber(pattern, { year: Number(session.today.slice(0, 4)), n: 142, client: 37 })}`
})
const classNames = { costs: 'Costs', interest: 'Interest', tax: 'Tax', fees: 'Fees' }
/** One place up; what stood there goes down. */
function earlier(i: number) {
  const order = form.value!.paymentOrder
  order.splice(i - 1, 2, order[i]!, order[i - 1]!)
}
const whole = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : -1)
const { state, act, fault, send } = useForm(() => {
  const own = form.value!
  return api.firm.change({
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
    taxBasisPoints: typedBasisPoints(own.tax) ?? -1,
    taxSoftBasisPoints: typedBasisPoints(own.taxSoft) ?? -1,
    taxHardBasisPoints: typedBasisPoints(own.taxHard) ?? -1,
    paymentOrder: own.paymentOrder,
    matterPattern: own.matterPattern,
    twoPeopleForBills: own.twoPeopleForBills,
    workDays: own.workDays,
  })
})
async function save() {
  const done = await keep(async (own) => {
    const holidays = own.holidays.map((h) => ({ day: h.day ?? '', name: h.name }))
    return (await send()) && (await act(() => api.firm.setHolidays({ holidays })))
  })
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
        <p v-if="state.said" role="alert" class="text-rust lg:col-span-2">{{ state.said }}</p>
        <section class="sheet space-y-3 self-start px-4 py-3.5" aria-label="The firm">
          <h2>The firm</h2>
          <TextField v-model="form.name" label="Name" :fault="fault('name')" />
          <TextField v-model="form.address" label="Address" :lines="3" :fault="fault('address')" />
          <TextField v-model="form.phone" label="Phone" optional :fault="fault('phone')" />
          <TextField
            v-model="form.taxNumber"
            label="Tax number"
            optional
            hint="Names the firm in electronic bills"
            :fault="fault('taxNumber')"
          />
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
        <div class="space-y-[18px]">
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
            </div>
            <label class="flex items-center gap-2"
              ><input v-model="form.twoPeopleForBills" type="checkbox" /> Whoever approves a pre-bill may not issue its bill</label
            >
          </section>
          <section class="sheet space-y-3 px-4 py-3.5" aria-label="Tax on bills">
            <h2>Tax on bills</h2>
            <div class="grid stacks grid-cols-3 gap-3">
              <TextField v-model="form.tax" label="Fees, percent" :fault="fault('taxBasisPoints')" />
              <TextField v-model="form.taxSoft" label="Own costs, percent" :fault="fault('taxSoftBasisPoints')" />
              <TextField v-model="form.taxHard" label="Advanced, percent" :fault="fault('taxHardBasisPoints')" />
            </div>
            <p class="text-ink-2">
              Each rate is rounded once for a bill. Which kinds of costs bear tax stands with the kinds of costs; where costs advanced bear
              none as a rule, those that do bear the rate of fees. A client or matter has rates of its own where its terms of bills say so.
            </p>
          </section>
          <section class="sheet space-y-3 px-4 py-3.5" aria-label="What a payment pays first">
            <h2>What a payment pays first</h2>
            <ol class="grid grid-cols-2 gap-x-6 gap-y-1.5">
              <li v-for="(c, i) in form.paymentOrder" :key="c" class="flex items-center gap-2">
                <span class="w-4 text-ink-2">{{ i + 1 }}</span>
                <span class="grow">{{ classNames[c] }}</span>
                <Btn small :disabled="i === 0" :aria-label="`${classNames[c]} earlier`" @click="earlier(i)">↑</Btn>
                <Btn small :disabled="i === 3" :aria-label="`${classNames[c]} later`" @click="earlier(i + 1)">↓</Btn>
              </li>
            </ol>
            <p class="text-ink-2">Within one bill; among bills the oldest due is paid first. What was paid already stays where it is.</p>
          </section>
        </div>
        <section class="sheet space-y-3 px-4 py-3.5 lg:col-span-2" aria-label="Working days">
          <h2>Working days</h2>
          <WorkDays v-model="form.workDays" :fault="fault('workDays')" />
          <p class="text-ink-2">Business days of procedures are these, less holidays of the courts and the days below.</p>
          <div v-for="(h, i) in form.holidays" :key="keyOf(h)" class="grid stacks grid-cols-[170px_1fr_auto] items-end gap-3">
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
