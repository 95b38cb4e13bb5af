<script setup lang="ts">
import { importKinds } from '@heron/contract'
import { computed, onUnmounted, reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import Progress from '../ui/Progress.vue'
import { plural } from '../ui/show'
import Switch from '../ui/Switch.vue'
import { useAct } from '../use'
import { waitFor } from '../wait'
import PeopleTabs from './PeopleTabs.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const { state, act, fault } = useAct()
const asked0 = route.query['what']
const what = ref<(typeof importKinds)[number] | 'cards'>(importKinds.find((k) => k === asked0) ?? 'contacts')
const movesIn = session.may('books.post') && session.may('trust.post')
const run = ref<Answer<typeof api.imports.get> | null>(null)
const mapping = reactive<Record<string, string>>({})
const progress = ref<number | null>(null)
const doing = ref('')
const cards = ref<Answer<typeof api.people.readCards> | null>(null)
let gone = false
onUnmounted(() => (gone = true))

function show(r: NonNullable<typeof run.value>) {
  run.value = r
  Object.keys(mapping).forEach((k) => delete mapping[k])
  Object.assign(mapping, r.mapping)
  void router.replace({ query: { run: r.id } })
}
/** An import that was left stands there again, and what goes on in the background is followed again. */
async function resume(id: number) {
  const r = await api.imports.get({ id })
  if (gone) return
  what.value = r.what
  show(r)
  const job = r.jobId && (await api.papers.job({ id: r.jobId }).catch(() => null))
  if (job && ['waiting', 'running'].includes(job.state)) await follow(r.jobId!, r.state === 'tried' ? 'Loading' : 'Trying every row')
}
const asked = Number(route.query['run'] ?? 0)
if (asked) void resume(asked)

const chosen = ref<File | null>(null)
async function read() {
  const file = chosen.value
  if (!file) return
  if (what.value === 'cards') {
    cards.value = await act(() => api.people.readCards({ file, tryOnly: 'false' }))
    if (cards.value?.made) {
      notes.say(`${plural(cards.value.made, 'contact')} read`)
      session.changed()
    }
    return
  }
  const got = await act(() => api.imports.read({ what: what.value as 'contacts', file }))
  if (got) show(got)
}
/** Looks at the work in the background until it is done; it goes on without the page. */
async function follow(jobId: number, said: string) {
  doing.value = said
  progress.value = 0
  const done = await waitFor(
    () => api.papers.job({ id: jobId }),
    (percent) => (progress.value = percent),
    () => gone,
  ).catch(() => 'The server does not answer. The work goes on without this page; look again in a while.')
  if (gone) return
  if (done !== true) state.message = done
  progress.value = null
  const now = run.value && (await api.imports.get({ id: run.value.id }).catch(() => null))
  if (now) show(now)
}
async function tryOut() {
  const id = run.value!.id
  const job = await act(() => api.imports.tryOut({ id, mapping: { ...mapping } }))
  if (job) await follow(job.jobId, 'Trying every row')
}
async function load() {
  const id = run.value!.id
  const job = await act(() => api.imports.load({ id }))
  if (!job) return
  await follow(job.jobId, 'Loading')
  if (run.value?.state === 'loaded') {
    notes.say(`${plural(run.value.total, nouns[run.value.what])} loaded`)
    session.changed()
  }
}
const nouns = { contacts: 'contact', matters: 'matter', costs: 'cost', opening: 'row of opening books', chart: 'account' } as const
/** Columns stand as they were tried; matched otherwise since, the rows are tried again first. */
const asTried = computed(() => run.value?.fields.every((f) => (mapping[f.key] ?? '') === (run.value!.mapping[f.key] ?? '')))
const clean = computed(() => run.value?.state === 'tried' && run.value.good === run.value.total && asTried.value)
const sampleOf = (column: string | undefined) => {
  const at = column ? (run.value?.columns.indexOf(column) ?? -1) : -1
  return at < 0
    ? ''
    : (run.value?.sample
        .map((r) => r[at])
        .filter(Boolean)
        .join(' · ') ?? '')
}
const openingRows = [
  {
    what: 'account',
    needs: 'Account; Amount, or Debit or Credit',
    means: 'A balance of the chart: operating banks, equipment, loans, equity, income and expenses of the year so far',
  },
  {
    what: 'ledger',
    needs: 'Account, Client and Matter, Amount',
    means: 'What a trust account holds for a client; “the firm” for the firm’s own money, “unidentified” where the owner is not known',
  },
  { what: 'check', needs: 'Account, Number, Date, Name, Amount; in trust Client and Matter', means: 'A check that the bank has not paid' },
  { what: 'deposit', needs: 'Account, Date, Amount; Number; in trust Client or Matter', means: 'A deposit that the bank has not credited; in trust it pays nothing until it has cleared' }, // prettier-ignore
  { what: 'statement', needs: 'Account, Amount', means: 'What the bank’s statement shows on that day, to be compared' },
  {
    what: 'bill',
    needs: 'Matter, Number, Date, Due, Amount; Costs in it, Tax in it, Name of the timekeeper',
    means: 'A bill that is unpaid, with what is open of it',
  },
  { what: 'credit', needs: 'Client or Matter, Date, Amount; Number', means: 'What a payer paid beyond what was owed' },
  { what: 'vendor', needs: 'Name, Date, Due, Amount; Number, Account of the expense', means: 'A bill of a vendor that is unpaid' },
  { what: 'cost', needs: 'Matter, Date, Kind of cost, Name, Amount', means: 'A cost that was advanced and is not billed' },
  { what: 'time', needs: 'Matter, Date, Hours, Text; Name, Rate', means: 'Time that is not billed' },
]
const openingColumns: Column<(typeof openingRows)[number]>[] = [
  { key: 'what', text: 'What', size: 100, narrow: 'title' },
  { key: 'means', text: 'Is', grow: 1.3, wrap: true },
  { key: 'needs', text: 'Needs, with As of in every row', grow: 1.2, wrap: true, quiet: true },
]
const sampleFile = `data:text/csv;charset=utf-8,${encodeURIComponent('What,As of,Account,Client,Matter,Number,Date,Due,Name,Amount,Costs in it,Tax in it,Hours,Rate,Kind of cost,Text\n')}`
const faults = computed(() => (run.value?.faults ?? []).map((f, at) => ({ ...f, at })))
const faultColumns: Column<(typeof faults.value)[number]>[] = [
  { key: 'row', text: 'Row', kind: 'number' },
  { key: 'column', text: 'Column', size: 180 },
  { key: 'text', text: 'Why', grow: 2, wrap: true, narrow: 'title' },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Import" hint="Every row is tried first. Either all of them are loaded, or none." />
    <PeopleTabs />
    <div class="max-w-[980px] space-y-3.5">
      <form class="sheet flex flex-wrap items-end gap-3 px-4 py-3.5" aria-label="The file" @submit.prevent="read">
        <Switch
          v-model="what"
          label="What to import"
          :options="[
            { value: 'contacts', text: 'Contacts from CSV' },
            ...(session.may('matters.open') ? [{ value: 'matters' as const, text: 'Matters from CSV' }] : []),
            ...(session.may('costs.record') ? [{ value: 'costs' as const, text: 'Costs from CSV' }] : []),
            { value: 'cards', text: 'Contacts from vCard' },
            ...(session.may('books.post') || session.may('firm.set-up') ? [{ value: 'chart' as const, text: 'Chart of accounts' }] : []),
            ...(movesIn ? [{ value: 'opening' as const, text: 'Books as of a day' }] : []),
          ]"
        />
        <label class="text-sm font-medium text-ink-2"
          >File<input
            type="file"
            class="control mt-[3px] block"
            :accept="what === 'cards' ? '.vcf,text/vcard' : '.csv,.txt,text/csv'"
            @change="chosen = ($event.target as HTMLInputElement).files?.[0] ?? null"
          />
        </label>
        <Btn main type="submit" :busy="state.busy" :disabled="!chosen">{{ what === 'cards' ? 'Read the cards' : 'Read the file' }}</Btn>
      </form>
      <p v-if="what === 'chart' && !run" class="text-ink-2">
        One row for each account: its <b>Number</b>, <b>Name</b>, <b>Kind</b> (asset, liability, equity, income or expense) and, where it
        stands under another, that one’s number. What has a number of the firm’s chart takes the new name and place; the rest is added.
      </p>
      <section v-if="what === 'opening' && !run" class="sheet px-4 py-3.5" aria-label="How books are brought">
        <h2>Moving in: the books as of a day</h2>
        <p class="text-ink-2">
          One row for each thing, in any order; the column <b>What</b> says which. Contacts and matters are imported before. Nothing is
          loaded unless opening clearing ends at zero and each bank fits its statement.
        </p>
        <DataTable
          class="mt-2"
          label="Kinds of rows"
          name="opening-kinds"
          plain
          :rows="openingRows"
          :columns="openingColumns"
          :row-id="(r) => r.what"
        />
        <p class="mt-2">
          <a class="text-lagoon underline" :href="sampleFile" download="opening-books.csv">A file to begin with</a>
        </p>
      </section>
      <p v-if="state.message" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
      <section v-if="cards" class="sheet px-4 py-3" aria-label="Cards read">
        <p>
          {{ plural(cards.made, 'contact') }} made<template v-if="cards.alike"
            >, {{ cards.alike }} on record already and left as they are</template
          >.
        </p>
        <p v-for="f in cards.faults" :key="f.row" class="text-rust">
          Card {{ f.row }}: {{ f.text }}. Nothing was read; mend it and read the file again.
        </p>
      </section>
      <section v-if="run" class="sheet px-4 py-3.5" aria-label="Match of columns">
        <h2>{{ run.fileName }}</h2>
        <p class="text-ink-2">
          {{ plural(run.total, 'row') }}, {{ run.columns.length }} columns, {{ run.encoding }}. Say in which column each thing stands; leave
          out what the file does not have.
        </p>
        <fieldset class="mt-2 grid stacks gap-x-6 gap-y-2 md:grid-cols-2" :disabled="progress !== null || run.state === 'loaded'">
          <div v-for="f in run.fields" :key="f.key" class="grid stacks grid-cols-[1fr_1fr] items-end gap-2 border-t border-line-2 pt-1.5">
            <ChoiceField
              :model-value="mapping[f.key] ?? ''"
              :label="f.needed ? `${f.label} (needed)` : f.label"
              :fault="fault(`mapping.${f.key}`)"
              :options="[{ value: '', text: 'Not in the file' }, ...run.columns.map((c) => ({ value: c, text: c }))]"
              @update:model-value="mapping[f.key] = String($event)"
            />
            <span class="truncate pb-1.5 text-sm text-ink-2">{{ sampleOf(mapping[f.key]) }}</span>
          </div>
        </fieldset>
        <div class="mt-3 flex items-center gap-3">
          <Btn :main="!clean" :busy="state.busy || progress !== null" :disabled="run.state === 'loaded'" @click="tryOut">Try every row</Btn>
          <Btn :main="clean" :disabled="!clean || progress !== null" @click="load">Load {{ plural(run.total, 'row') }}</Btn>
          <Progress v-if="progress !== null" :label="doing" :percent="progress" />
        </div>
      </section>
      <section v-if="run && run.state !== 'read'" class="sheet px-4 py-3.5" aria-label="What would happen" aria-live="polite">
        <h2>{{ run.state === 'loaded' ? 'Loaded' : 'What would happen' }}</h2>
        <p v-if="run.state === 'loaded'" class="text-lagoon">All {{ plural(run.total, 'row') }} are on record.</p>
        <template v-else>
          <p>
            {{ plural(run.good, 'row') }} right,
            <b :class="run.total > run.good && 'text-rust'">{{ plural(run.total - run.good, 'row fails', 'rows fail') }}</b>.
            <a v-if="run.faults.length" :href="`/api/imports/${run.id}/faults`" class="text-lagoon underline">Rows that fail, as CSV</a>
          </p>
          <p v-if="run.faults.length" class="text-ink-2">
            Mend them in the file and read it again, or match other columns. Nothing is loaded while a row fails.
          </p>
          <DataTable
            v-if="run.faults.length"
            class="mt-2"
            label="Rows that fail"
            name="import-faults"
            plain
            :rows="faults"
            :columns="faultColumns"
            :row-id="(f) => f.at"
          />
          <p v-if="run.moreFaults" class="text-ink-2">and {{ run.moreFaults }} more</p>
        </template>
      </section>
    </div>
  </div>
</template>
