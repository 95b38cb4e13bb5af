<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import ChoiceField from '../ui/ChoiceField.vue'
import ManyField from '../ui/ManyField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedNumber, useAct, useLoad } from '../use'

/** When bills of a matter, or of a client, are due, and whether interest runs on overdue ones; empty fields leave it as usual. */
const props = defineProps<{ of: 'matter' | 'client'; id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data } = useLoad(() =>
  props.of === 'matter' ? api.billing.matterTerms({ id: props.id }) : api.billing.clientTerms({ id: props.id }),
)
const form = ref({
  due: '',
  rate: '',
  grace: '',
  format: '' as '' | 'pdf' | 'ledes',
  theirNumber: '',
  budget: null as number | null,
  capped: false,
  warnAt: '',
  warnIds: [] as number[],
})
const { data: setting } = useLoad(() => (props.of === 'matter' ? api.matters.setting().catch(() => null) : Promise.resolve(null)))
const read = computed(() => {
  const text = (n: number | null | undefined) => (n === null || n === undefined ? '' : String(n))
  const d = data.value
  const rate = d?.interestBasisPoints
  return {
    due: text(d?.dueDays),
    rate: rate === null || rate === undefined ? '' : String(rate / 100),
    grace: text(d?.graceDays),
    format: d?.format ?? ('' as const),
    theirNumber: d?.theirNumber ?? '',
    budget: d?.budget ?? null,
    capped: d?.capped ?? false,
    warnAt: (d?.warnAt ?? '').replaceAll(',', ', '),
    warnIds: d?.warnIds ?? [],
  }
})
watch(data, (d) => d && (form.value = { ...read.value, warnIds: [...read.value.warnIds] }))
const changed = computed(() => data.value !== null && JSON.stringify(form.value) !== JSON.stringify(read.value))
async function save() {
  const rate = typedNumber(form.value.rate)
  const terms = {
    id: props.id,
    dueDays: typedNumber(form.value.due),
    interestBasisPoints: typeof rate === 'number' ? Math.round(rate * 100) : rate,
    graceDays: typedNumber(form.value.grace),
    format: form.value.format || null,
    theirNumber: form.value.theirNumber,
    ...(props.of === 'matter'
      ? { budget: form.value.budget, capped: form.value.capped, warnAt: form.value.warnAt, warnIds: form.value.warnIds }
      : {}),
  }
  if (!(await act(() => (props.of === 'matter' ? api.billing.changeMatterTerms(terms) : api.billing.changeClientTerms(terms))))) return
  notes.say('Kept; it holds for bills issued from now on, and for interest at once')
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Terms of bills, ${name}`"
    save="Save"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="changed"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
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
