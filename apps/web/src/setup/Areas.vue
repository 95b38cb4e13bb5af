<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { plural } from '../ui/show'
import { useLoad } from '../use'
import AreaSheet from './AreaSheet.vue'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type Area = Answer<typeof api.firm.areas>[number]
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.firm.areas())
const { data: setting } = useLoad(() => api.matters.setting())
const open = ref<Area | 'new' | null>(null)
async function saved(name: string) {
  open.value = null
  notes.say(`${name} kept`)
  await reload()
}
const rules = (key: string | null) => setting.value?.ruleSets.find((r) => r.key === key)?.title ?? ''
const columns: Column<Answer<typeof api.firm.areas>[number]>[] = [
  { key: 'name', text: 'Area', grow: 1.2, wrap: true, narrow: 'title' },
  {
    key: 'stages',
    text: 'Stages',
    grow: 2,
    wrap: true,
    quiet: true,
    value: (a) =>
      a.stages
        .filter((s) => !s.retired)
        .map((s) => s.name)
        .join(', '),
  },
  { key: 'rules', text: 'Rules', grow: 1.2, wrap: true, quiet: true, value: (a) => rules(a.ruleSetKey) },
  {
    key: 'staff',
    text: 'Open to',
    size: 130,
    quiet: true,
    value: (a) => (a.staff.file === 0 ? 'the team only' : a.staff.file === 1 ? 'all staff, to see' : 'all staff'),
  },
  { key: 'matters', text: 'Matters', kind: 'number', show: (a) => (a.matters ? String(a.matters) : '') },
]
</script>

<template>
  <SetUpPage>
    <template #acts><Btn main @click="open = 'new'">New area</Btn></template>
    <section class="sheet" aria-label="Practice areas">
      <DataTable
        label="Practice areas"
        name="areas"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(a) => a.id"
        :loading="loading"
        :problem="problem"
        :open="(a) => (open = a)"
        :acts="(a) => [{ text: `Change ${a.name}`, act: () => (open = a) }]"
        @again="reload()"
      >
        <template #empty>No practice area yet. Each brings its stages, rules, team and procedures to the matters opened in it.</template>
        <template #cell-name="{ row: a }"
          ><b>{{ a.name }}</b
          ><span v-if="a.retired" class="tag ml-1 bg-mist text-ink-2">retired</span>
          <span class="block text-sm text-ink-2">{{
            [
              a.team.length ? plural(a.team.length, 'person', 'people') : '',
              a.procedureIds.length ? plural(a.procedureIds.length, 'procedure') : '',
            ]
              .filter(Boolean)
              .join(', ')
          }}</span></template
        >
      </DataTable>
    </section>
    <AreaSheet v-if="open" :area="open === 'new' ? null : open" @saved="saved" @close="open = null" />
  </SetUpPage>
</template>
