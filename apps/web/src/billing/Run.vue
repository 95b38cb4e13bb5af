<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import Switch from '../ui/Switch.vue'
import { dayText, plural } from '../ui/show'
import type { Column } from '../ui/table/columns'
import { useLoad } from '../use'

/** What a run of bills has done, while it goes on and afterwards. */
const session = useSession()
const id = Number(useRoute().params['id'])
const state = ref<'all' | 'done' | 'refused' | 'waiting'>('all')
const page = ref(1)
watch(state, () => (page.value = 1))
const { data, problem, loading, reload } = useLoad(
  () => api.billing.run({ id, state: state.value, page: page.value, size: 100 }),
  [state, page],
)
useIntervalFn(() => data.value && !data.value.endedAt && document.visibilityState === 'visible' && void reload(), 700)
watch(
  () => data.value?.endedAt,
  (end, before) => end && before === null && session.changed(),
)
type Row = Answer<typeof api.billing.run>['rows'][number]
const columns: Column<Row>[] = [
  { key: 'number', text: 'Number', size: 98, quiet: true },
  { key: 'matter', text: 'Matter', grow: 1, narrow: 'title' },
  { key: 'state', text: 'State', size: 100 },
  { key: 'words', text: 'What came of it', grow: 1.4, wrap: true },
]
const title = computed(() => (data.value?.what === 'issue' ? 'Bills issued in one run' : 'Pre-bills made in one run'))
const finished = computed(() => (data.value ? data.value.done + data.value.refused : 0))
const link = (r: Row) => (r.bills.length ? `/bills/${r.bills[0]!.id}` : r.preBillId ? `/bills/pre/${r.preBillId}` : '')
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      :title="title"
      :hint="data ? `${data.what === 'issue' ? 'Dated' : 'Work up to'} ${dayText(data.day)} · begun by ${data.by}` : ''"
    >
      <Btn to="/bills">Pre-bills</Btn>
    </PageHead>
    <section class="sheet" aria-label="Run">
      <div v-if="data" class="flex flex-wrap items-center gap-3 px-3.5 py-3">
        <div
          role="progressbar"
          :aria-valuenow="finished"
          aria-valuemin="0"
          :aria-valuemax="data.of"
          aria-label="Done of this run"
          class="h-2.5 w-56 max-w-full overflow-hidden rounded-full bg-mist"
        >
          <div class="h-full bg-lagoon transition-[width]" :style="{ width: `${data.of ? (100 * finished) / data.of : 0}%` }"></div>
        </div>
        <p role="status">
          <b>{{ data.done }}</b> of {{ data.of }} done<template v-if="data.refused"
            >, <b class="text-rust">{{ data.refused }}</b> not</template
          ><template v-if="!data.endedAt">; it goes on, also when you leave this page</template>
        </p>
        <Switch
          v-model="state"
          class="ml-auto"
          label="Show"
          :options="[
            { value: 'all', text: 'All' },
            { value: 'done', text: 'Done' },
            { value: 'refused', text: 'Not done' },
          ]"
        />
      </div>
      <DataTable
        label="Matters of the run"
        name="bill-run"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(r) => r.ordinal"
        :loading="loading && !data"
        :problem="problem"
        @again="reload()"
      >
        <template #empty>{{ state === 'refused' ? 'Nothing was refused.' : 'None of these matters is open to you.' }}</template>
        <template #cell-matter="{ row: r }"
          ><RouterLink v-if="link(r)" :to="link(r)" class="font-semibold hover:underline">{{ r.matter }}</RouterLink
          ><template v-else>{{ r.matter }}</template></template
        >
        <template #cell-state="{ row: r }"
          ><span
            class="tag"
            :class="
              r.state === 'refused' ? 'bg-rust-wash text-rust' : r.state === 'done' ? 'bg-lagoon-wash text-lagoon' : 'bg-mist text-ink-2'
            "
            >{{ r.state === 'refused' ? 'not done' : r.state }}</span
          ></template
        >
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="100" what="matters" /></template>
      </DataTable>
    </section>
    <p v-if="data?.endedAt && data.what === 'make'" class="mt-3 text-ink-2">
      {{ plural(data.done, 'pre-bill waits', 'pre-bills wait') }} to be reviewed.
    </p>
  </div>
</template>
