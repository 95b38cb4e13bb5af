<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { useAct, useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import type { Act } from '../ui/ActMenu.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const router = useRouter()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.tasks.procedures())
const { state, act } = useAct()
const file = ref<HTMLInputElement | null>(null)
async function read() {
  const chosen = file.value?.files?.[0]
  if (!chosen) return
  const made = await act(() => api.tasks.readProcedure({ file: chosen }))
  if (file.value) file.value.value = ''
  if (!made) return
  notes.say(`${made.name} read`)
  await router.push(`/set-up/procedures/${made.id}`)
}
async function retire(id: number, retired: boolean) {
  if (await act(() => api.tasks.retireProcedure({ id, retired }))) await reload()
}
type Row = Answer<typeof api.tasks.procedures>[number]
const columns: Column<Row>[] = [
  { key: 'name', text: 'Procedure', grow: 2, wrap: true, narrow: 'title', sort: true },
  { key: 'area', text: 'Area', size: 120, quiet: true, value: (p) => p.area ?? 'any', sort: true },
  { key: 'steps', text: 'Steps', kind: 'number', size: 70 },
  { key: 'version', text: 'Version', kind: 'number', size: 76 },
  {
    key: 'dates',
    text: 'Counted from',
    wrap: true,
    quiet: true,
    value: (p) => (p.dates.length ? `the ${p.dates.join(', the ')}` : 'its start'),
  },
]
const acts = (p: Row): Act[] => [
  { text: `${p.name} as a file`, to: `/api/procedures/${p.id}/file`, out: true },
  { text: p.retired ? `Offer ${p.name} again` : `No longer offer ${p.name}`, act: () => retire(p.id, !p.retired) },
]
</script>

<template>
  <SetUpPage>
    <template #acts>
      <input
        ref="file"
        type="file"
        class="sr-only"
        accept=".json,application/json"
        aria-label="Procedure file"
        tabindex="-1"
        @change="read"
      />
      <Btn @click="file?.click()">Read from a file</Btn>
      <Btn main @click="router.push('/set-up/procedures/new')">New procedure</Btn>
    </template>
    <p v-if="state.message" role="alert" class="mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="Procedures">
      <DataTable
        label="Procedures"
        name="procedures"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(p) => p.id"
        :loading="loading"
        :problem="problem"
        :acts="acts"
        :open="(p) => router.push(`/set-up/procedures/${p.id}`)"
        @again="reload()"
      >
        <template #empty>No procedure yet. Write down once what is done each time: steps, who does them, and when.</template>
        <template #cell-name="{ row: p }"
          ><RouterLink :to="`/set-up/procedures/${p.id}`" class="font-semibold hover:underline">{{ p.name }}</RouterLink>
          <span v-if="p.retired" class="tag ml-1 bg-mist text-ink-2">no longer offered</span>
          <span class="block text-sm text-ink-2">{{ p.description }}</span></template
        >
      </DataTable>
    </section>
  </SetUpPage>
</template>
