<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
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
const unit = ref('')
const anew = ref(false)
const rounding = ref<'up' | 'nearest' | ''>('')
const fundingId = ref(0)
const setUp = useTimeSetUp()
void setUp.ready()
/** Rates by role on a matter, by person for a client. */
const rates = ref<Record<string, number | null>>({})
const { data } = useLoad(async () => {
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
  return {
    ...t,
    list: setting.staff.map((p) => ({ key: String(p.id), text: p.name })),
    given: t.rates.map((r) => [String(r.userId), r.rate] as const),
  }
})
let asRead = ''
const stands = () => JSON.stringify([unit.value, rounding.value, rates.value, fundingId.value])
watch(data, (d) => {
  if (!d || asRead) return
  unit.value = d.unit === null ? '' : String(d.unit)
  rounding.value = d.rounding ?? ''
  fundingId.value = ('fundingId' in d && d.fundingId) || 0
  rates.value = Object.fromEntries(d.given)
  asRead = stands()
})
const changed = computed(() => Boolean(asRead) && stands() !== asRead)
const sent = computed(() => (data.value?.list ?? []).filter((l) => typeof rates.value[l.key] === 'number'))
const faultOf = (key: string) => {
  const at = sent.value.findIndex((l) => l.key === key)
  return at < 0 ? '' : fault(`${props.of === 'matter' ? 'roles' : 'rates'}.${at}.rate`)
}
const { state, fault, send } = useForm(() => {
  const own = { id: props.id, unit: typedNumber(unit.value), rounding: rounding.value || null }
  const rate = (key: string) => rates.value[key]!
  return props.of === 'matter'
    ? api.time.changeMatterTerms({
        ...own,
        fundingId: fundingId.value || null,
        roles: sent.value.map((l) => ({ role: l.key as 'lead', rate: rate(l.key) })),
      })
    : api.time.changeClientTerms({ ...own, rates: sent.value.map((l) => ({ userId: Number(l.key), rate: rate(l.key) })) })
})

async function save() {
  const { id } = props
  if (!(await send())) return
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
    :changed="changed"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField
        v-model="unit"
        label="Unit in minutes"
        optional
        :fault="fault('unit')"
        :hint="`Empty: ${data?.usual.unit} minutes, as usual`"
        autofocus
      />
      <ChoiceField
        v-model="rounding"
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
      v-model="fundingId"
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
          :model-value="rates[l.key] ?? null"
          :label="`Rate of ${l.text}`"
          bare
          :fault="faultOf(l.key)"
          @update:model-value="rates[l.key] = $event"
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
