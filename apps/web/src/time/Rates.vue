<script setup lang="ts">
import { rateKinds } from '@heron/contract'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import TimeTabs from './TimeTabs.vue'

/** By what an hour is priced, in the order in which it is asked, and where each is changed. */
type Row = Answer<typeof api.time.rates>['rows'][number]
type Kind = (typeof rateKinds)[number]
const kindWords: Record<Kind, string> = { matter: 'Person on a matter', client: 'Person for a client', role: 'Role on a matter', activity: 'Activity', timekeeper: 'Person’s own' } // prettier-ignore
const session = useSession()
const router = useRouter()
const q = ref('')
const named = refDebounced(q, 150)
const kind = ref<Kind | ''>('')
const past = ref<'yes' | 'no'>('no')
const page = ref(1)
watch([named, kind, past], () => (page.value = 1))
const { data, problem, loading, reload } = useShown(() =>
  asks.time.rates.queryOptions({
    input: { q: named.value.trim(), ...(kind.value ? { kind: kind.value } : {}), past: past.value, page: page.value, size: 100 },
  }),
)
const columns: Column<Row>[] = [
  { key: 'kind', text: 'Priced by', size: 170, quiet: true, value: (r) => kindWords[r.kind] },
  { key: 'who', text: 'Whose hour', grow: 1, narrow: 'title' },
  { key: 'of', text: 'For', grow: 1.4 },
  { key: 'from', text: 'From', kind: 'day', quiet: true },
  { key: 'to', text: 'To', kind: 'day', quiet: true },
  { key: 'rate', text: 'An hour', kind: 'money' },
]
const place = (r: Row): string | null =>
  r.kind === 'client'
    ? `/people/${r.ofId}`
    : r.ofId
      ? `/matters/${r.ofId}/${r.kind === 'role' ? 'time' : ''}`
      : session.may('firm.set-up')
        ? r.kind === 'activity'
          ? '/set-up/lists'
          : '/set-up/people'
        : null
const acts = (r: Row): Act[] => (place(r) ? [{ text: 'Change it where it stands', to: place(r)! }] : [])
const open = (r: Row) => place(r) && void router.push(place(r)!)
const kinds = computed(() => [{ value: '' as const, text: 'All' }, ...rateKinds.map((k) => ({ value: k, text: kindWords[k] }))])
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Rates" hint="The first that exists, in this order, prices an hour; one typed on an entry comes before all." />
    <TimeTabs />
    <section class="sheet" aria-label="Rates">
      <div class="flex flex-wrap items-end gap-3 px-3.5 py-3">
        <div class="w-60 max-w-full"><TextField v-model="q" label="Find by person, matter or client" /></div>
        <div class="w-48"><ChoiceField v-model="kind" label="Priced by" :options="kinds" /></div>
        <div class="w-44">
          <ChoiceField
            v-model="past"
            label="Rates of people"
            :options="[
              { value: 'no', text: 'those that hold' },
              { value: 'yes', text: 'those of before too' },
            ]"
          />
        </div>
      </div>
      <DataTable
        label="Rates"
        name="rates"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(r) => r.key"
        :loading="loading && !data"
        :problem="problem"
        :acts="acts"
        :open="open"
        @again="reload()"
      >
        <template #empty>No rate fits.</template>
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="100" what="rates" /></template>
      </DataTable>
    </section>
  </div>
</template>
