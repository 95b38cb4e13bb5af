<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import ConflictHits from '../matters/ConflictHits.vue'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useFirstField } from '../use'
import PeopleTabs from './PeopleTabs.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const route = useRoute()
const router = useRouter()
useFirstField()
const names = ref('')
const about = ref('')
const check = ref<Answer<typeof api.people.checkConflicts> | null>(null)
const { page, undecided } = useFiltered({ page: 1, undecided: false as boolean })
const { data, problem, loading, reload } = useShown(() =>
  asks.people.checks.queryOptions({ input: { page: page.value, size: 20, undecided: String(undecided.value) } }),
)
const terms = computed(() =>
  names.value
    .split(/\n|;/)
    .map((n) => n.trim())
    .filter(Boolean),
)
const { state, fault, send } = useForm(() => api.people.checkConflicts({ terms: terms.value, about: about.value }))

async function run() {
  const done = await send()
  if (!done) return
  check.value = done
  void router.replace({ query: { ...route.query, check: done.id } })
  await reload()
}
watch(
  () => route.query['check'],
  async (id) => {
    if (id && Number(id) !== check.value?.id) check.value = await api.people.getCheck({ id: Number(id) })
  },
  { immediate: true },
)
const columns: Column<Answer<typeof api.people.checks>['rows'][number]>[] = [
  { key: 'terms', text: 'Names', size: 140, grow: 2, narrow: 'title', value: (k) => k.terms.join('; ') },
  { key: 'for', text: 'For', size: 130, grow: 1.4, quiet: true, value: (k) => k.matter ?? k.about },
  { key: 'madeAt', text: 'Made', kind: 'when', size: 172, quiet: true },
  { key: 'madeBy', text: 'By', size: 120, quiet: true, hidden: true },
  { key: 'hits', text: 'Hits', kind: 'number', size: 84 },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Conflict checks" hint="Every name of every contact, party and enquiry is searched, also by sound and near spelling." />
    <PeopleTabs />
    <div class="grid stacks gap-[18px] lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div class="space-y-3.5">
        <form class="sheet space-y-3 px-4 py-3.5" aria-label="New check" @submit.prevent="run">
          <TextField
            v-model="names"
            label="Names, one a line"
            :lines="4"
            autofocus
            placeholder="Corvane Towing&#10;J. Sequeira"
            :fault="fault('terms')"
            hint="An e-mail address, a phone or a tax number is found too."
          />
          <TextField v-model="about" label="What it is for" optional />
          <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
          <Btn main type="submit" :busy="state.busy" :disabled="!terms.length">Check for conflicts</Btn>
        </form>
        <section class="sheet" aria-label="Checks made">
          <div class="flex items-center px-4 pt-3 pb-1">
            <h2>Checks made</h2>
            <label class="ml-auto flex gap-2 text-ink-2"
              ><input v-model="undecided" type="checkbox" class="accent-ink" /> with hits to decide</label
            >
          </div>
          <DataTable
            label="Checks"
            name="conflict-checks"
            :rows="data?.rows ?? []"
            :columns="columns"
            :row-id="(k) => k.id"
            :loading="loading"
            :problem="problem"
            :row-class="(k) => (k.id === check?.id ? 'bg-bill-wash' : '')"
            @again="reload()"
          >
            <template #empty>No check yet. Each one is kept with its terms, hits and decisions.</template>
            <template #cell-terms="{ row: k }"
              ><RouterLink :to="{ query: { ...route.query, check: k.id } }" class="font-semibold hover:underline">{{
                k.terms.slice(0, 3).join('; ')
              }}</RouterLink
              ><template v-if="k.terms.length > 3"> and {{ k.terms.length - 3 }} more</template></template
            >
            <template #cell-hits="{ row: k }"
              >{{ k.hits }}<span v-if="k.open" class="text-rust">, {{ k.open }} open</span></template
            >
            <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="20" what="checks" /></template>
          </DataTable>
        </section>
      </div>
      <section v-if="check" class="sheet self-start px-4 py-3.5" aria-label="Hits" aria-live="polite">
        <h2>{{ check.matter ?? (check.about || 'Check') }}</h2>
        <ConflictHits :check="check" record @changed="session.changed()" />
      </section>
    </div>
  </div>
</template>
