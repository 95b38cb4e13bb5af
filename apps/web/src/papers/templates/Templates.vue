<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../../api'
import { useShown } from '../../shown'
import { useSession } from '../../shell/session'
import type { Act } from '../../ui/ActMenu.vue'
import Btn from '../../ui/Btn.vue'
import DataTable from '../../ui/DataTable.vue'
import PageHead from '../../ui/PageHead.vue'
import { plural } from '../../ui/show'
import type { Column } from '../../ui/table/columns'
import { useAct } from '../../use'
import PapersTabs from '../PapersTabs.vue'
import AddTemplate from './AddTemplate.vue'
import SetSheet from './SetSheet.vue'

/** The firm's templates and the sets in which some are made together. */
type Row = Answer<typeof api.templates.list>[number]
type TemplateSet = Answer<typeof api.templates.sets>[number]
const session = useSession()
const router = useRouter()
const { state, act } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.templates.list.queryOptions())
const sets = useShown(() => asks.templates.sets.queryOptions())
const adding = ref(false)
const setOpen = ref<TemplateSet | 'new' | null>(null)
const columns: Column<Row>[] = [
  { key: 'name', text: 'Name', grow: 2, fixed: true, narrow: 'title', sort: true },
  { key: 'shelf', text: 'Under', size: 170, quiet: true, sort: true },
  { key: 'area', text: 'Practice area', size: 120, quiet: true, sort: true, value: (t) => t.area ?? 'all' },
  { key: 'language', text: 'Language', size: 90, quiet: true, show: (t) => (t.language === 'es' ? 'Spanish' : 'English') },
  { key: 'questions', text: 'Questions', kind: 'number', quiet: true, show: (t) => String(t.questions || '') },
  { key: 'version', text: 'Version', kind: 'number', quiet: true },
  { key: 'faults', text: 'Check', size: 110, sort: true, show: (t) => (t.faults ? plural(t.faults, 'fault') : 'passed') },
]
const acts = (t: Row): Act[] => [
  { text: 'Open', to: `/papers/templates/${t.id}` },
  { text: 'Download', to: `/api/templates/${t.id}/file`, out: true },
  ...(session.may('firm.set-up')
    ? [
        {
          text: t.retired ? 'Take back' : 'Put away',
          act: async () => ((await act(() => api.templates.retire({ id: t.id, retired: !t.retired }))) ? session.changed() : undefined),
        },
      ]
    : []),
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Templates" hint="Ordinary DOCX with fields and conditions. Papers are made from them on their matter.">
      <Btn v-if="session.may('firm.set-up')" @click="setOpen = 'new'">New set</Btn>
      <Btn v-if="session.may('firm.set-up')" main @click="adding = true">Add a template</Btn>
    </PageHead>
    <PapersTabs />
    <p v-if="state.message" role="alert" class="mb-2 text-rust">{{ state.message }}</p>
    <section class="sheet" aria-label="Templates">
      <DataTable
        label="Templates"
        name="templates"
        :rows="data ?? []"
        :columns="columns"
        :row-id="(t) => t.id"
        :open="(t) => router.push(`/papers/templates/${t.id}`)"
        :acts="acts"
        :loading="loading && !data"
        :problem="problem"
        @again="reload()"
      >
        <template #empty>No templates yet. Add a DOCX: its fields stand between braces, like {client.name}.</template>
        <template #cell-name="{ row: t }"
          ><RouterLink :to="`/papers/templates/${t.id}`" class="font-semibold hover:underline">{{ t.name }}</RouterLink
          ><span v-if="t.retired" class="ml-1.5 rounded-full bg-mist px-1.5 text-[11px] text-ink-2">put away</span
          ><span class="ml-2 text-ink-2">{{ t.description }}</span></template
        >
        <template #cell-faults="{ row: t }"
          ><span :class="t.faults ? 'font-semibold text-rust' : 'text-ink-2'">{{
            t.faults ? plural(t.faults, 'fault') : 'passed'
          }}</span></template
        >
      </DataTable>
    </section>
    <section v-if="sets.data.value?.length" class="sheet mt-[18px] px-4 py-3.5" aria-label="Sets">
      <h2 class="mb-1">Sets, made in one act</h2>
      <div v-for="s in sets.data.value" :key="s.id" class="flex flex-wrap items-baseline gap-x-3 border-t border-line-2 py-1.5">
        <b>{{ s.name }}</b><span class="min-w-0 flex-1 text-ink-2">{{ s.templates.map((t) => t.name).join(', ') }}</span>
        <Btn v-if="session.may('firm.set-up')" small :aria-label="`Change the set ${s.name}`" @click="setOpen = s">Change</Btn>
      </div>
    </section>
    <AddTemplate v-if="adding" @close="adding = false" @added="(id) => router.push(`/papers/templates/${id}`)" />
    <SetSheet v-if="setOpen" :set="setOpen === 'new' ? null : setOpen" :templates="data ?? []" @close="setOpen = null" />
  </div>
</template>
