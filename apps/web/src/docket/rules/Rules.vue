<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Answer } from '../../api'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import PageHead from '../../ui/PageHead.vue'
import { useLoad } from '../../use'
import DocketTabs from '../DocketTabs.vue'
import FileSheet from './FileSheet.vue'
import DataTable from '../../ui/DataTable.vue'
import type { Column } from '../../ui/table/columns'

/** The courts whose rules are known here, shipped or the firm's own. */
const session = useSession()
const router = useRouter()
const { data, problem, loading, reload } = useLoad(() => api.rules.list())
const may = session.may('docket.rules')
const importing = ref(false)
const columns: Column<Answer<typeof api.rules.list>[number]>[] = [
  { key: 'title', text: 'Rules', grow: 1.4, narrow: 'title', sort: true },
  { key: 'court', text: 'Court', grow: 1.2, quiet: true, value: (s) => `${s.court}, ${s.kind}`, sort: true },
  { key: 'edition', text: 'Edition', size: 130, quiet: true },
  { key: 'triggers', text: 'Events', kind: 'number', sort: true },
  { key: 'deadlines', text: 'Deadlines', kind: 'number', size: 92, sort: true },
  { key: 'practice', text: 'Own dates', kind: 'number', size: 92, show: (s) => (s.practice ? String(s.practice) : '') },
  { key: 'matters', text: 'Open matters', kind: 'number', size: 104, sort: true, show: (s) => (s.matters ? String(s.matters) : '') },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Court rules" hint="By these dates are counted.">
      <Btn href="/api/rule-set-schema" target="_blank">Format of rule files</Btn>
      <Btn v-if="may" main @click="importing = true">Bring in rules</Btn>
    </PageHead>
    <DocketTabs />
    <section class="sheet" aria-label="Rule sets">
      <DataTable
        label="Rule sets"
        name="rule-sets"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(s) => s.key"
        :loading="loading"
        :problem="problem"
        :open="(s) => router.push(`/docket/rules/${s.key}`)"
        @again="reload()"
      >
        <template #cell-title="{ row: s }"
          ><RouterLink class="font-semibold text-lagoon hover:underline" :to="`/docket/rules/${s.key}`">{{ s.title }}</RouterLink>
          <span v-if="s.own" class="tag ml-1.5 bg-plume-wash text-plume">the firm’s own</span></template
        >
      </DataTable>
    </section>
    <p class="mt-3 text-ink-2">
      Rules that ship with the application cannot be changed; dates of your own can stand on top of any court’s. For a court that is not
      here, take a similar set home as a file, or open it and start your own from it.
    </p>
    <FileSheet v-if="importing" @close="importing = false" @saved="router.push(`/docket/rules/${$event}`)" />
  </div>
</template>
