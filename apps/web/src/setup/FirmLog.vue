<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useAddress, dayOr } from '../address'
import { api, type Answer } from '../api'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'
import LogText from '../matters/LogText.vue'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const at = useAddress({ who: '', kind: '', q: '', from: '', to: '', matter: '', before: '' }, ['before'])
const { data: people } = useLoad(() => api.firm.people())
const matter = ref<Choice | null>(null)
if (at.matter)
  void api.matters
    .get({ id: Number(at.matter) })
    .then((m) => (matter.value = { id: m.id, text: m.name, hint: m.number }))
    .catch(() => (at.matter = ''))
watch(matter, (m) => (at.matter = m ? String(m.id) : ''))
/** Looked for once the last letter is typed. */
const words = refDebounced(
  computed(() => at.q),
  250,
)
const filter = computed(() => ({
  userId: Number(at.who) || undefined,
  matterId: Number(at.matter) || undefined,
  kind: at.kind,
  q: words.value,
  from: at.from || undefined,
  to: at.to || undefined,
}))
const { data, problem, loading, reload } = useLoad(
  () => api.setUp.log({ ...filter.value, before: Number(at.before) || undefined, size: 50 }),
  [filter, () => at.before],
)
watch(filter, () => (at.before = ''))
const file = computed(() => {
  const given = Object.entries(filter.value).filter(([, v]) => v !== undefined && v !== '')
  return `/api/log.csv?${new URLSearchParams(given.map(([k, v]) => [k, String(v)])).toString()}`
})
const columns: Column<Answer<typeof api.setUp.log>['rows'][number]>[] = [
  { key: 'at', text: 'When', kind: 'when', quiet: true },
  { key: 'who', text: 'Who', size: 140 },
  { key: 'matter', text: 'Matter', size: 180 },
  { key: 'text', text: 'What', grow: 3, wrap: true, narrow: 'title' },
]
</script>

<template>
  <SetUpPage hint="Every act, by whom and when, as far as its matter is open to you. Nothing in it can be changed.">
    <template #acts><Btn :href="file">CSV</Btn></template>
    <div class="mb-3 grid stacks grid-cols-2 items-end gap-3 lg:grid-cols-[1.2fr_1fr_1fr_1.4fr_130px_130px]">
      <TextField v-model="at.q" label="Words" placeholder="in the last year" />
      <ChoiceField
        v-model="at.who"
        label="Who"
        :options="[{ value: '', text: 'Anyone' }, ...(people ?? []).map((p) => ({ value: String(p.id), text: p.name }))]"
      />
      <ChoiceField
        v-model="at.kind"
        label="Kind"
        :options="[{ value: '', text: 'All' }, ...(data?.kinds ?? []).map((k) => ({ value: k, text: k }))]"
      />
      <Picker v-model="matter" label="Matter" :search="searchMatters" />
      <DayField :model-value="dayOr(at.from, null)" label="From" @update:model-value="at.from = $event ?? ''" />
      <DayField :model-value="dayOr(at.to, null)" label="To" @update:model-value="at.to = $event ?? ''" />
    </div>
    <section class="sheet" aria-label="Log">
      <DataTable
        label="Log"
        name="firm-log"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(l) => l.id"
        :loading="loading"
        :problem="problem"
        @again="reload()"
      >
        <template #empty>Nothing of that kind.</template>
        <template #cell-matter="{ row: l }"
          ><RouterLink v-if="l.matterId" :to="`/matters/${l.matterId}/log`" class="hover:underline">{{ l.matter }}</RouterLink></template
        >
        <template #cell-text="{ row: l }"><LogText :text="l.text" :changes="l.changes" /></template>
        <template #foot>
          <div class="flex justify-end gap-1.5 border-t border-line-2 px-3.5 py-2">
            <Btn small :disabled="!at.before" @click="at.before = ''">Newest</Btn>
            <Btn small :disabled="!data?.more" @click="at.before = String(data!.rows.at(-1)!.id)">Further back</Btn>
          </div>
        </template>
      </DataTable>
    </section>
  </SetUpPage>
</template>
