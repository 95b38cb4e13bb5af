<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../../api'
import { useShown } from '../../shown'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import DataTable from '../../ui/DataTable.vue'
import PageHead from '../../ui/PageHead.vue'
import Pager from '../../ui/Pager.vue'
import type { Column } from '../../ui/table/columns'
import { useAct } from '../../use'
import PapersTabs from '../PapersTabs.vue'
import { readMail } from './reading'

/** E-mail that waits to be filed: dropped here, or sent to the firm's address for filing. */
type Row = Answer<typeof api.filing.tray>['rows'][number]
const router = useRouter()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const page = ref(1)
const { data, problem, loading, reload } = useShown(() => asks.filing.tray.queryOptions({ input: { page: page.value, size: 50 } }))
const columns: Column<Row>[] = [
  { key: 'subject', text: 'Subject', grow: 3, fixed: true, narrow: 'title', value: (m) => m.subject || 'No subject' },
  { key: 'from', text: 'From', grow: 2, quiet: true },
  { key: 'day', text: 'Written', kind: 'day', quiet: true },
  { key: 'parts', text: 'With it', kind: 'number', show: (m) => String(m.parts || '') },
  { key: 'proposal', text: 'Likely matter', grow: 2, value: (m) => m.proposal?.matter ?? '' },
  { key: 'comeAt', text: 'Came', kind: 'when', quiet: true },
]
const picker = ref<HTMLInputElement | null>(null)
async function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  const first = await act(async () => (await Promise.all(files.map(readMail)))[0] ?? 0)
  if (first) void router.push(`/papers/mail/${first}`)
}
async function aside(m: Row) {
  if (!(await act(() => api.filing.putAside({ id: m.id })))) return
  notes.say(`${m.subject || 'The e-mail'} is put aside`)
  session.changed()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="E-mail to file" hint="Drop a message saved as .eml anywhere, or choose it here.">
      <Btn main :busy="state.busy" @click="picker?.click()">Choose e-mail</Btn>
    </PageHead>
    <input
      ref="picker"
      type="file"
      accept=".eml,message/rfc822"
      multiple
      class="sr-only"
      tabindex="-1"
      aria-label="E-mail to file"
      @change="choose"
    />
    <PapersTabs />
    <p v-if="state.message" role="alert" class="mb-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="E-mail to file">
      <DataTable
        label="E-mail to file"
        name="mail-to-file"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(m) => m.id"
        :open="(m) => router.push(`/papers/mail/${m.id}`)"
        :acts="
          (m) => [
            { text: 'File it', to: `/papers/mail/${m.id}` },
            { text: 'Put aside', act: () => aside(m) },
          ]
        "
        :loading="loading && !data"
        :problem="problem"
        @again="reload()"
      >
        <template #empty
          >Nothing waits. What you drop here, or send or forward to the firm’s address for filing, waits in this list.</template
        >
        <template #cell-subject="{ row: m }"
          ><RouterLink :to="`/papers/mail/${m.id}`" class="font-semibold hover:underline">{{ m.subject || 'No subject' }}</RouterLink
          ><span v-if="!m.known" class="ml-1.5 rounded-full bg-rust-wash px-1.5 text-[11px] text-rust">not from the firm</span
          ><span v-if="m.filedBefore" class="ml-1.5 rounded-full bg-bill-wash px-1.5 text-[11px] text-bill-ink"
            >on file already</span
          ></template
        >
      </DataTable>
      <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="messages" />
    </section>
  </div>
</template>
