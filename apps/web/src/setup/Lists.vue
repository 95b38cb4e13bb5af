<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { api, type Answer } from '../api'
import FlatFee from '../matters/FlatFee.vue'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import { useKeptForm } from '../ui/kept'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import CostKinds from './CostKinds.vue'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type Fee = Answer<typeof api.firm.fees>[number]
const notes = useNotes()
const { data: fees, problem, loading, reload } = useLoad(() => api.firm.fees())
const {
  form: kinds,
  problem: noKinds,
  reload: readKinds,
  save: keepKinds,
} = useKeptForm(async () => ({ text: (await api.people.kinds()).join('\n') }))
const {
  form: activities,
  problem: noActivities,
  reload: readActivities,
  save: keepActivities,
} = useKeptForm(async () => ({
  text: (await api.time.activities()).map((x) => `${x.code} ${x.name}`).join('\n'),
}))
const { data: setting } = useLoad(() => api.matters.setting())
const lines = (text: string) =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
const { state, act, fault, send } = useForm(() => {
  const own = {
    name: fee.name,
    areaId: fee.areaId || null,
    portions: fee.portions.map((p) => ({ label: p.label, amount: p.amount ?? 0 })),
    retired: fee.retired,
  }
  return fee.id ? api.firm.changeFee({ id: fee.id, ...own }) : api.firm.makeFee(own)
})
async function saveKinds() {
  if (await keepKinds((own) => act(() => api.firm.setKinds({ kinds: lines(own.text) })))) notes.say('Kinds kept')
}
async function saveActivities() {
  const codes = (text: string) => lines(text).map((l) => ({ code: l.split(/\s+/)[0] ?? '', name: l.split(/\s+/).slice(1).join(' ') }))
  if (await keepActivities((own) => act(() => api.firm.setActivities({ activities: codes(own.text) })))) notes.say('Activity codes kept')
}
const open = ref(false)
const fee = reactive({ id: 0, name: '', areaId: 0, portions: [] as { label: string; amount: number | null }[], retired: false })
function edit(f: Fee | null) {
  Object.assign(
    fee,
    f
      ? { ...f, areaId: f.areaId ?? 0, portions: f.portions.map((p) => ({ ...p })) }
      : { id: 0, name: '', areaId: 0, portions: [{ label: '', amount: null }], retired: false },
  )
  open.value = true
}
async function saveFee() {
  if (!(await send())) return
  open.value = false
  notes.say(`${fee.name} kept`)
  await reload()
}
const feeFault = (path: string) => fault(path.replace('flatFee', 'portions'))
const feeColumns = computed((): Column<Answer<typeof api.firm.fees>[number]>[] => [
  { key: 'name', text: 'Fee', grow: 1.2, wrap: true, narrow: 'title', sort: true },
  { key: 'area', text: 'Area', size: 120, quiet: true, value: (f) => setting.value?.areas.find((a) => a.id === f.areaId)?.name ?? 'any' },
  {
    key: 'portions',
    text: 'Portions',
    grow: 2,
    wrap: true,
    quiet: true,
    value: (f) => f.portions.map((p) => `${p.label} ${showMoney(p.amount)}`).join('; '),
  },
])
</script>

<template>
  <SetUpPage>
    <template #acts><Btn main @click="edit(null)">New flat fee</Btn></template>
    <p v-if="state.said && !open" role="alert" class="text-rust">{{ state.said }}</p>
    <div class="grid stacks gap-[18px] lg:grid-cols-2">
      <section class="sheet self-start overflow-x-auto lg:col-span-2" aria-label="Flat fees">
        <h2 class="px-4 pt-3 pb-1">Flat fees</h2>
        <DataTable
          label="Fees"
          name="fees"
          :rows="fees ?? []"
          :columns="feeColumns"
          :row-id="(f) => f.id"
          :loading="loading"
          :problem="problem"
          :open="edit"
          :acts="(f) => [{ text: `Change ${f.name}`, act: () => edit(f) }]"
          @again="reload()"
        >
          <template #empty>No fee listed yet. A listed fee is chosen when a matter is opened, with its portions.</template>
          <template #cell-name="{ row: f }"
            ><b>{{ f.name }}</b> <span v-if="f.retired" class="tag bg-mist text-ink-2">retired</span></template
          >
        </DataTable>
      </section>
      <CostKinds />
      <section class="sheet space-y-2 self-start px-4 py-3.5" aria-label="Kinds of contacts">
        <State :loading="!kinds" :problem="noKinds" @again="readKinds()">
          <TextField v-if="kinds" v-model="kinds.text" label="Kinds of contacts, one a line" :lines="16" :fault="fault('kinds')" />
          <Btn :busy="state.busy" @click="saveKinds">Save kinds</Btn>
        </State>
      </section>
      <section class="sheet space-y-2 self-start px-4 py-3.5" aria-label="Activity codes">
        <State :loading="!activities" :problem="noActivities" @again="readActivities()">
          <TextField
            v-if="activities"
            v-model="activities.text"
            label="Activity codes, one a line: code, then name"
            :lines="16"
            :fault="fault('activities')"
          />
          <Btn :busy="state.busy" @click="saveActivities">Save codes</Btn>
        </State>
      </section>
    </div>
    <SideSheet
      v-if="open"
      :title="fee.id ? fee.name : 'New flat fee'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      @save="saveFee"
      @close="open = false"
    >
      <TextField v-model="fee.name" label="Name" :fault="fault('name')" autofocus />
      <ChoiceField
        v-model="fee.areaId"
        label="Area"
        :options="[{ value: 0, text: 'Any' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
      />
      <FlatFee v-model="fee.portions" :fault="feeFault" />
      <label v-if="fee.id" class="flex gap-2"
        ><input v-model="fee.retired" type="checkbox" class="accent-ink" /> Retired: no longer offered</label
      >
    </SideSheet>
  </SetUpPage>
</template>
