<script setup lang="ts">
import { reactive, watch } from 'vue'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import ChoiceField from '../ui/ChoiceField.vue'
import ManyField from '../ui/ManyField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedBasisPoints, typedNumber, useLoad } from '../use'

/** Terms of bills of a matter, or of a client: when they are due, interest, discount, tax, what they show, budget; empty fields leave it as usual. */
const props = defineProps<{ of: 'matter' | 'client'; id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const read = () => (props.of === 'matter' ? api.billing.matterTerms({ id: props.id }) : api.billing.clientTerms({ id: props.id }))
const { data } = useLoad(read)
type Group = 'none' | 'person' | 'day' | 'activity'
/** Empty as usual. */
type Said = '' | 'yes' | 'no'
const said = (b: boolean | null | undefined): Said => (b === null || b === undefined ? '' : b ? 'yes' : 'no')
const { data: setting } = useLoad(() =>
  props.of === 'matter' ? recent(asks.matters.setting.queryOptions()).catch(() => null) : Promise.resolve(null),
)
/** The form of what is kept; empty where it says nothing. */
function formOf(d: typeof data.value) {
  const text = (n: number | null | undefined) => (n === null || n === undefined ? '' : String(n))
  const percent = (n: number | null | undefined) => (n === null || n === undefined ? '' : String(n / 100))
  return {
    due: text(d?.dueDays),
    rate: percent(d?.interestBasisPoints),
    discount: percent(d?.discountBasisPoints),
    taxFees: percent(d?.taxFees),
    taxSoftCosts: percent(d?.taxSoftCosts),
    taxHardCosts: percent(d?.taxHardCosts),
    language: (d?.language ?? '') as '' | 'en' | 'es',
    group: (d?.billGroup ?? '') as '' | Group,
    summary: said(d?.billSummary),
    trust: said(d?.billTrust),
    slip: said(d?.billSlip),
    grace: text(d?.graceDays),
    format: (d?.format ?? '') as '' | 'pdf' | 'ledes',
    theirNumber: d?.theirNumber ?? '',
    budget: d?.budget ?? null,
    capped: d?.capped ?? false,
    warnAt: (d?.warnAt ?? '').replaceAll(',', ', '),
    warnIds: [...(d?.warnIds ?? [])],
  }
}
const form = reactive(formOf(null))
let seen = formOf(null)
watch(data, (d) => {
  if (!d) return
  Object.assign(form, formOf(d))
  seen = formOf(d)
  meanwhile.begin()
})
const groups: Record<Group, string> = {
  none: 'one after another',
  person: 'under each person',
  day: 'under each day',
  activity: 'under each activity',
}
const percentWords = (n: number | undefined) => (n === undefined ? '' : n ? `Empty: ${n / 100} %, as usual` : 'Empty: none')
const usualTax = (key: 'fees' | 'softCosts' | 'hardCosts') => percentWords(data.value?.usual.taxes[key])
const asked = (key: 'summary' | 'trust' | 'slip'): { value: Said; text: string }[] => [
  { value: '', text: `As usual: ${data.value?.usual[key] ? 'yes' : 'no'}` },
  { value: 'yes', text: 'Yes' },
  { value: 'no', text: 'No' },
]
const meanwhile = useMeanwhile(form, {
  due: 'Due after days',
  rate: 'Interest, % a year',
  grace: 'Days of grace',
  format: ['Sent as', (f) => (f === 'ledes' ? 'LEDES 1998B' : f === 'pdf' ? 'PDF' : 'as usual')],
  theirNumber: 'The client’s number of it',
  discount: 'Off fees, %',
  taxFees: 'Tax on fees, %',
  taxSoftCosts: 'Tax on own costs, %',
  taxHardCosts: 'Tax on advances, %',
  language: ['Language', (l) => (l === 'es' ? 'Spanish' : l === 'en' ? 'English' : 'as usual')],
  group: ['Lines of work stand', (g) => (g ? groups[g] : 'as usual')],
  summary: 'Hours by person, in sum',
  trust: 'What is held in trust',
  slip: 'A part to return',
  budget: ['Fees and costs', (cents) => (cents === null ? '' : showMoney(cents))],
  capped: 'A cap',
  warnAt: 'Warn at percent',
  warnIds: ['Whom to warn', (ids) => ids.map((id) => setting.value?.staff.find((p) => p.id === id)?.name).join(', ')],
})
const termsOf = (f: typeof form) => {
  const chosen = (s: Said) => (s === '' ? null : s === 'yes')
  return {
    id: props.id,
    dueDays: typedNumber(f.due),
    interestBasisPoints: typedBasisPoints(f.rate),
    discountBasisPoints: typedBasisPoints(f.discount),
    taxFees: typedBasisPoints(f.taxFees),
    taxSoftCosts: typedBasisPoints(f.taxSoftCosts),
    taxHardCosts: typedBasisPoints(f.taxHardCosts),
    language: f.language || null,
    billGroup: f.group || null,
    billSummary: chosen(f.summary),
    billTrust: chosen(f.trust),
    billSlip: chosen(f.slip),
    graceDays: typedNumber(f.grace),
    format: f.format || null,
    theirNumber: f.theirNumber,
    ...(props.of === 'matter' ? { budget: f.budget, capped: f.capped, warnAt: f.warnAt, warnIds: f.warnIds } : {}),
  }
}
const { state, fault, send } = useForm(() => {
  const terms = { ...termsOf(form), seen: termsOf(seen) }
  return props.of === 'matter' ? api.billing.changeMatterTerms(terms) : api.billing.changeClientTerms(terms)
})

async function save() {
  if (!(await meanwhile.save(state, send, async () => (seen = formOf(await read()))))) return
  notes.say('Kept; it holds for bills issued from now on, and for interest at once')
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Terms of bills, ${name}`"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="meanwhile.changed.value"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <Meanwhile :of="meanwhile" />
    <TextField
      v-model="form.due"
      label="Due after days"
      optional
      :fault="fault('dueDays')"
      :hint="`Empty: ${data?.usual.dueDays} days, as usual`"
      autofocus
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField
        v-model="form.rate"
        label="Interest, % a year"
        optional
        :fault="fault('interestBasisPoints')"
        :hint="data?.usual.interestBasisPoints ? `Empty: ${data.usual.interestBasisPoints / 100} %, as usual` : 'Empty: none'"
      />
      <TextField v-model="form.grace" label="Days of grace" optional :fault="fault('graceDays')" hint="After the due day" />
    </div>
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField
        v-model="form.format"
        label="Sent as"
        :options="[
          { value: '', text: 'As usual' },
          { value: 'pdf', text: 'PDF' },
          { value: 'ledes', text: 'PDF and LEDES 1998B' },
        ]"
      />
      <TextField
        v-model="form.theirNumber"
        :label="of === 'matter' ? 'The client’s number of it' : 'The client’s own number'"
        optional
        :fault="fault('theirNumber')"
        hint="In electronic bills"
      />
    </div>
    <fieldset class="space-y-2">
      <legend class="font-semibold">Discount and tax</legend>
      <div class="grid stacks grid-cols-2 gap-3">
        <TextField
          v-model="form.discount"
          label="Off fees, %"
          optional
          :fault="fault('discountBasisPoints')"
          :hint="percentWords(data?.usual.discountBasisPoints)"
        />
        <TextField v-model="form.taxFees" label="Tax on fees, %" optional :fault="fault('taxFees')" :hint="usualTax('fees')" />
        <TextField
          v-model="form.taxSoftCosts"
          label="Tax on own costs, %"
          optional
          :fault="fault('taxSoftCosts')"
          :hint="usualTax('softCosts')"
        />
        <TextField
          v-model="form.taxHardCosts"
          label="Tax on advances, %"
          optional
          :fault="fault('taxHardCosts')"
          :hint="usualTax('hardCosts')"
        />
      </div>
      <p class="text-ink-2">For pre-bills made from now on. 0 frees them of a tax.</p>
    </fieldset>
    <fieldset class="space-y-2">
      <legend class="font-semibold">What bills show</legend>
      <div class="grid stacks grid-cols-2 gap-3">
        <ChoiceField
          v-model="form.group"
          class="col-span-full"
          label="Lines of work stand"
          :options="[
            { value: '', text: `As usual: ${data ? groups[data.usual.group] : ''}` },
            ...Object.entries(groups).map(([value, text]) => ({ value: value as Group, text })),
          ]"
        />
        <ChoiceField v-model="form.summary" label="Hours by person, in sum" :options="asked('summary')" />
        <ChoiceField v-model="form.trust" label="What is held in trust" :options="asked('trust')" />
        <ChoiceField v-model="form.slip" label="A part to return" :options="asked('slip')" />
        <ChoiceField
          v-if="of === 'matter'"
          v-model="form.language"
          label="Language"
          :options="[
            { value: '', text: 'That of whoever is billed' },
            { value: 'en', text: 'English' },
            { value: 'es', text: 'Spanish' },
          ]"
        />
      </div>
    </fieldset>
    <fieldset v-if="of === 'matter'" class="space-y-2">
      <legend class="font-semibold">Budget</legend>
      <p v-if="data?.stands" role="status" aria-label="Budget as it stands">
        {{ showMoney(data.stands.used) }} of {{ showMoney(data.stands.budget) }} used, {{ data.stands.percent }} %.
      </p>
      <div class="grid stacks grid-cols-2 gap-3">
        <MoneyField v-model="form.budget" label="Fees and costs" optional hint="Before tax" :fault="fault('budget')" />
        <TextField v-model="form.warnAt" label="Warn at percent" optional hint="75, 90, 100" :fault="fault('warnAt')" />
      </div>
      <label class="flex items-center gap-2"
        ><input v-model="form.capped" type="checkbox" class="accent-ink" /> A cap: more than this is not to be billed</label
      >
      <ManyField
        v-if="setting"
        v-model="form.warnIds"
        label="Whom to warn"
        optional
        hint="Nobody chosen: the lead lawyer"
        :options="setting.staff.map((p) => ({ id: p.id, text: p.name }))"
        :fault="fault('warnIds')"
      />
    </fieldset>
    <p class="text-ink-2">Interest is charged only where the engagement allows it: simple, on what is open without earlier interest.</p>
  </SideSheet>
</template>
