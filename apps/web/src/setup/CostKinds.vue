<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedNumber, useLoad } from '../use'

/** Kinds of costs with what the firm charges for a unit of them. */
type Kind = Answer<typeof api.costs.kinds>[number]
const notes = useNotes()
const { data: kinds, problem, loading, reload } = useLoad(() => api.costs.kinds())
const columns = computed((): Column<Kind>[] => [
  { key: 'code', text: 'Code', size: 96, sort: true },
  { key: 'name', text: 'Kind', grow: 1.4, narrow: 'title', sort: true },
  { key: 'hard', text: 'Paid to', size: 130, quiet: true, value: (k) => (k.hard ? 'someone' : 'the firm itself') },
  { key: 'unitRate', text: 'Price', size: 140, value: (k) => (k.unitRate ? `$${k.unitRate} a ${k.unit}` : 'the amount') },
  { key: 'markup', text: 'Markup', size: 84, quiet: true, value: (k) => (k.markup ? `${k.markup / 100} %` : '') },
  { key: 'taxable', text: 'Taxed', size: 72, quiet: true, value: (k) => (k.taxable ? 'yes' : '') },
  { key: 'expenseCode', text: 'Expense code', size: 110, quiet: true },
])
const open = ref(false)
const empty = {
  id: 0,
  code: '',
  name: '',
  hard: true,
  unit: '',
  unitRate: '',
  markup: '',
  taxable: false,
  billable: true,
  expenseCode: '',
  retired: false,
}
const form = reactive({ ...empty })
function edit(k: Kind | null) {
  Object.assign(form, empty, k ? { ...k, markup: k.markup ? String(k.markup / 100) : '' } : {})
  open.value = true
}
const { state, fault, send } = useForm(() => {
  const { id, markup, ...own } = form
  const percent = typedNumber(markup)
  const body = { ...own, markup: typeof percent === 'number' ? Math.round(percent * 100) : percent === null ? 0 : percent }
  return id ? api.costs.changeKind({ id, ...body }) : api.costs.makeKind(body)
})

async function save() {
  const done = await send()
  if (!done) return
  open.value = false
  notes.say(`${form.name} kept`)
  await reload()
}
</script>

<template>
  <section class="sheet self-start overflow-x-auto lg:col-span-2" aria-label="Kinds of costs">
    <div class="flex items-center px-4 pt-3 pb-1">
      <h2>Kinds of costs</h2>
      <Btn class="ml-auto" @click="edit(null)">New kind of cost</Btn>
    </div>
    <DataTable
      label="Kinds of costs"
      name="cost-kinds"
      :rows="kinds ?? []"
      :columns="columns"
      :row-id="(k) => k.id"
      :loading="loading && !kinds"
      :problem="problem"
      :open="edit"
      :acts="(k) => [{ text: `Change ${k.name}`, act: () => edit(k) }]"
      @again="reload()"
    >
      <template #empty>No kind of cost yet.</template>
      <template #cell-name="{ row: k }">{{ k.name }} <span v-if="k.retired" class="tag bg-mist text-ink-2">retired</span></template>
    </DataTable>
    <SideSheet
      v-if="open"
      :title="form.id ? form.name : 'New kind of cost'"
      save="Save"
      :busy="state.busy"
      :message="state.said"
      @save="save"
      @close="open = false"
    >
      <div class="grid stacks grid-cols-[110px_1fr] gap-3">
        <TextField v-model="form.code" label="Code" :fault="fault('code')" autofocus />
        <TextField v-model="form.name" label="Name" :fault="fault('name')" />
      </div>
      <ChoiceField
        v-model="form.hard"
        label="Paid to"
        :options="[
          { value: true, text: 'Someone: an advance for the client' },
          { value: false, text: 'Nobody: the firm’s own, such as copies' },
        ]"
      />
      <div class="grid stacks grid-cols-2 gap-3">
        <TextField v-model="form.unit" label="Counted in" optional hint="page, mile; empty: by the amount" :fault="fault('unit')" />
        <TextField v-model="form.unitRate" label="Price of one, in dollars" optional hint="0.25 or 0.655" :fault="fault('unitRate')" />
      </div>
      <div class="grid stacks grid-cols-2 gap-3">
        <TextField v-model="form.markup" label="Markup in percent" optional :fault="fault('markup')" />
        <TextField
          v-model="form.expenseCode"
          label="Expense code"
          optional
          hint="E101 to E124, in electronic bills"
          :fault="fault('expenseCode')"
        />
      </div>
      <label class="flex items-center gap-2"
        ><input v-model="form.taxable" type="checkbox" class="accent-ink" /> Taxed where the firm charges tax</label
      >
      <label class="flex items-center gap-2"
        ><input v-model="form.billable" type="checkbox" class="accent-ink" /> Usually billed to the client</label
      >
      <label v-if="form.id" class="flex items-center gap-2"
        ><input v-model="form.retired" type="checkbox" class="accent-ink" /> Retired: no longer offered</label
      >
    </SideSheet>
  </section>
</template>
