<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { momentText, plural, timeText } from '../ui/show'
import { useAct, useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

type Backup = Answer<typeof api.setUp.backups>['rows'][number]
const notes = useNotes()
const { state, act } = useAct()
const { data, problem, loading, reload } = useLoad(() => api.setUp.backups())
const going = computed(() => data.value?.rows.some((b) => b.state === 'wanted' || b.state === 'running') ?? false)
useIntervalFn(() => void (going.value && reload()), 2000)
async function now() {
  if (!(await act(() => api.setUp.backUp()))) return
  notes.say('A backup is being made')
  await reload()
}
const mega = (bytes: number) => `${(bytes / 1_000_000).toFixed(1)} MB`
const words: Record<Backup['state'], string> = { wanted: 'waiting', running: 'being made', done: 'made', failed: 'failed' }
const columns: Column<Answer<typeof api.setUp.backups>['rows'][number]>[] = [
  { key: 'wantedAt', text: 'When', kind: 'when' },
  { key: 'who', text: 'Who', size: 120, quiet: true },
  { key: 'name', text: 'What', grow: 1.4, wrap: true, narrow: 'title' },
  { key: 'state', text: 'State', size: 96 },
  { key: 'tried', text: 'Restore tried', grow: 1.4, wrap: true, value: (b) => b.triedAt },
]
</script>

<template>
  <SetUpPage hint="Database and files, at one moment, and whether each could be restored.">
    <template #acts><Btn main :busy="state.busy" :disabled="going" @click="now">Back up now</Btn></template>
    <p v-if="state.message" role="alert" class="mb-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="Backups">
      <DataTable
        label="Backups"
        name="backups"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(b) => b.id"
        :loading="loading"
        :problem="problem"
        @again="reload()"
      >
        <template #empty
          >No backup yet. One is made every night after {{ data ? timeText(data.nightly) : 'two' }}, while the application runs; or make one
          now.</template
        >
        <template #cell-name="{ row: b }"
          >{{ b.name }}
          <span v-if="b.tables" class="block text-sm text-ink-2"
            >{{ plural(b.tables, 'table') }}, {{ plural(b.rows, 'row') }}, {{ plural(b.files, 'file') }}; {{ mega(b.size) }}</span
          ></template
        >
        <template #cell-state="{ row: b }"
          ><span :class="{ 'text-rust': b.state === 'failed' }">{{ words[b.state] }}</span></template
        >
        <template #cell-tried="{ row: b }"
          ><template v-if="b.triedAt"
            ><b :class="b.restored ? 'text-lagoon' : 'text-rust'">{{ b.restored ? 'Restored' : 'Not whole' }}</b>
            {{ momentText(b.triedAt) }}</template
          >
          <span class="block text-sm text-ink-2">{{ b.words }}</span></template
        >
      </DataTable>
    </section>
    <div class="mt-3 max-w-[760px] space-y-1 text-ink-2">
      <p>
        One is made every night after {{ data ? timeText(data.nightly) : '2:00 am' }} by the firm’s clock, while the application runs; the
        last thirty nights are kept. Each is restored at once into a database of its own, where the books are compared.
      </p>
      <p v-if="data?.place">They are kept in {{ data.place }}. Set HERON_BACKUPS to keep them on another disk.</p>
      <p>
        To go back to one: stop the application and start it with <code>./start --restore</code> and its name. What is there then is backed
        up first.
      </p>
    </div>
  </SetUpPage>
</template>
