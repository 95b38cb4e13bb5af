<script setup lang="ts">
import { watch } from 'vue'
import { aDay, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import LogText from './LogText.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const props = defineProps<{ matterId: number }>()
const { page, kind, userId, from, to } = useFiltered({ page: 1, kind: '', userId: 0, from: aDay(), to: aDay() })
const { data, problem, loading, reload } = useShown(() =>
  asks.matters.log.queryOptions({
    input: {
      id: props.matterId,
      kind: kind.value,
      userId: userId.value || undefined,
      from: from.value ?? undefined,
      to: to.value ?? undefined,
      page: page.value,
      size: 50,
    },
  }),
)
watch([kind, userId, from, to], () => (page.value = 1))
const columns: Column<Answer<typeof api.matters.log>['rows'][number]>[] = [
  { key: 'at', text: 'When', kind: 'when', quiet: true },
  { key: 'who', text: 'Who', size: 170 },

  { key: 'text', text: 'What', grow: 3, wrap: true, narrow: 'title' },
]
</script>

<template>
  <div class="flex flex-wrap items-end gap-3 px-4 py-3">
    <h2 class="mr-auto self-center">Log</h2>
    <div class="w-40">
      <ChoiceField
        v-model="kind"
        label="Kind"
        :options="[{ value: '', text: 'All' }, ...(data?.kinds ?? []).map((k) => ({ value: k, text: k }))]"
      />
    </div>
    <div class="w-48">
      <ChoiceField
        v-model="userId"
        label="Who"
        :options="[{ value: 0, text: 'Anyone' }, ...(data?.people ?? []).map((p) => ({ value: p.userId, text: p.name }))]"
      />
    </div>
    <div class="w-36"><DayField v-model="from" label="From" optional /></div>
    <div class="w-36"><DayField v-model="to" label="To" optional /></div>
  </div>
  <DataTable
    label="Log"
    name="log"
    :rows="data?.rows ?? []"
    :columns="columns"
    :row-id="(l) => l.id"
    :loading="loading"
    :problem="problem"
    @again="reload()"
  >
    <template #empty>Nothing of that kind.</template>
    <template #cell-text="{ row: l }"><LogText :text="l.text" :changes="l.changes" /></template>
    <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="entries" /></template>
  </DataTable>
</template>
