<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import MoneyField from '../ui/MoneyField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedNumber, useLoad } from '../use'
import RateAnew from './RateAnew.vue'
import { useTimeSetUp } from './set-up'

/** How time is rounded and priced on a matter, or for a client; empty fields leave it as usual. */
const props = defineProps<{ of: 'matter' | 'client'; id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const roles = ['lead', 'lawyer', 'paralegal', 'assistant', 'outside'] as const
const anew = ref(false)
const setUp = useTimeSetUp()
void setUp.ready()
const form = reactive({
  unit: '',
  rounding: '' as 'up' | 'nearest' | '',
  fundingId: 0,
  /** By role on a matter, by person for a client. */
  rates: {} as Record<string, number | null>,
})
async function read() {
  const { id } = props
  if (props.of === 'matter') {
    const t = await api.time.matterTerms({ id })
    return {
      ...t,
      list: roles.map((r) => ({ key: r as string, text: r as string })),
      given: t.roles.map((r) => [r.role as string, r.rate] as const),
    }
  }
  const [t, setting] = await Promise.all([api.time.clientTerms({ id }), api.matters.setting()])
  const staff = setting.staff.map((p) => ({ key: String(p.id), text: p.name }))
  // Whose rate is kept and who works here no more stays in the list, so that saving takes nothing of theirs away.
  const left = t.rates.map((r) => String(r.userId)).filter((key) => !staff.some((p) => p.key === key))
  return {
    ...t,
    list: [...staff, ...left.map((key) => ({ key, text: `Someone who left (${key})` }))],
    given: t.rates.map((r) => [String(r.userId), r.rate] as const),
  }
}
type Kept = Awaited<ReturnType<typeof read>>
const formOf = (d: Kept): typeof form => ({
  unit: d.unit === null ? '' : String(d.unit),
  rounding: d.rounding ?? '',
  fundingId: ('fundingId' in d && d.fundingId) || 0,
  rates: Object.fromEntries(d.given),
})
const { data } = useLoad(read)
let seen = form
watch(data, (d) => {
  if (!d) return
  Object.assign(form, formOf(d))
  seen = formOf(d)
  meanwhile.begin()
})
const meanwhile = useMeanwhile(form, {
  unit: 'Unit in minutes',
  rounding: ['Rounded', (r) => (r === 'up' ? 'up' : r ? 'to the nearest' : 'as usual')],
  fundingId: ['Funding source', (id) => setUp.funding.find((f) => f.id === id)?.name ?? ''],
  rates: ['Rates', (rates) => listed(rates).map((l) => `${l.text} ${showMoney(rates[l.key]!)}`).join(', ')], // prettier-ignore
})
const listed = (rates: typeof form.rates) => (data.value?.list ?? []).filter((l) => typeof rates[l.key] === 'number')
const sent = computed(() => listed(form.rates))
const faultOf = (key: string) => {
  const at = sent.value.findIndex((l) => l.key === key)
  return at < 0 ? '' : fault(`${props.of === 'matter' ? 'roles' : 'rates'}.${at}.rate`)
}
const own = (f: typeof form) => ({ unit: typedNumber(f.unit), rounding: f.rounding || null })
const ofMatter = (f: typeof form) => ({
  ...own(f),
  fundingId: f.fundingId || null,
  roles: listed(f.rates).map((l) => ({ role: l.key as 'lead', rate: f.rates[l.key]! })),
})
const ofClient = (f: typeof form) => ({
  ...own(f),
  rates: listed(f.rates).map((l) => ({ userId: Number(l.key), rate: f.rates[l.key]! })),
})
const { state, fault, send } = useForm(() =>
  props.of === 'matter'
    ? api.time.changeMatterTerms({ id: props.id, ...ofMatter(form), seen: ofMatter(seen) })
    : api.time.changeClientTerms({ id: props.id, ...ofClient(form), seen: ofClient(seen) }),
)

async function save() {
  const { id } = props
  if (!(await meanwhile.save(state, send, async () => (seen = formOf(await read()))))) return
  notes.say('Kept; it holds for time recorded from now on')
  session.changed()
  // What is not billed yet may be rated anew; where nothing differs, there is nothing to ask.
  const found = await api.time.previewRates(props.of === 'matter' ? { matterId: id } : { clientId: id }).catch(() => null)
  if (found?.rows.length) anew.value = true
  else emit('close')
}
</script>

<template>
  <RateAnew v-if="anew" :id="id" :of="of" :name="name" @close="emit('close')" />
  <SideSheet
    v-else
    :title="`Rounding and rates, ${name}`"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="meanwhile.changed.value"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <Meanwhile :of="meanwhile" />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField
        v-model="form.unit"
        label="Unit in minutes"
        optional
        :fault="fault('unit')"
        :hint="`Empty: ${data?.usual.unit} minutes, as usual`"
        autofocus
      />
      <ChoiceField
        v-model="form.rounding"
        label="Rounded"
        :options="[
          { value: '', text: `As usual: ${data?.usual.rounding === 'up' ? 'up' : 'to the nearest'}` },
          { value: 'up', text: 'Up' },
          { value: 'nearest', text: 'To the nearest' },
        ]"
      />
    </div>
    <ChoiceField
      v-if="of === 'matter' && setUp.uses('funding')"
      v-model="form.fundingId"
      label="Funding source of the work"
      :fault="fault('fundingId')"
      :options="[{ value: 0, text: 'None' }, ...setUp.funding.map((f) => ({ value: f.id, text: f.name }))]"
    />
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">
        {{ of === 'matter' ? 'Rates by role on the team' : 'Rates for this client' }}
      </legend>
      <div v-for="l in data?.list ?? []" :key="l.key" class="grid grid-cols-[1fr_130px] items-center gap-3 border-t border-line-2 py-1">
        <span>{{ l.text }}</span>
        <MoneyField
          :model-value="form.rates[l.key] ?? null"
          :label="`Rate of ${l.text}`"
          bare
          :fault="faultOf(l.key)"
          @update:model-value="form.rates[l.key] = $event"
        />
      </div>
      <p v-if="fault('roles') || fault('rates')" class="text-sm text-rust">{{ fault('roles') || fault('rates') }}</p>
    </fieldset>
    <p class="text-ink-2">
      The first that exists is taken: typed on the entry, the person’s on the matter, the person’s for the client, the role’s on the matter,
      the activity’s, the person’s own. What is recorded keeps its rate.
    </p>
    <template #more><Btn @click="anew = true">Rate unbilled time anew …</Btn></template>
  </SideSheet>
</template>
