<script setup lang="ts">
import { computed, ref } from 'vue'
import { useClipboard } from '@vueuse/core'
import { api, type Answer } from '../../api'
import { useNotes } from '../../shell/notes'
import DataTable from '../../ui/DataTable.vue'
import PageHead from '../../ui/PageHead.vue'
import Picker, { type Choice } from '../../ui/Picker.vue'
import { searchMatters } from '../../ui/search'
import type { Column } from '../../ui/table/columns'
import TextField from '../../ui/TextField.vue'
import { useLoad } from '../../use'
import PapersTabs from '../PapersTabs.vue'

/** Every field and format that templates may use, with the values on a matter of one's choice. */
type Row = Answer<typeof api.templates.fields>['fields'][number]
const notes = useNotes()
const matter = ref<Choice | null>(null)
const q = ref('')
const { data, problem, loading, reload } = useLoad(
  () => api.templates.fields(matter.value ? { matterId: matter.value.id } : {}),
  [() => matter.value?.id],
)
const rows = computed(() => {
  const words = q.value.toLowerCase().split(/\s+/).filter(Boolean) // prettier-ignore
  return (data.value?.fields ?? []).filter((f) => words.every((w) => `${f.path} ${f.label} ${f.value}`.toLowerCase().includes(w)))
})
const tagOf = (f: Row) => (f.type === 'list' ? `{for each x in ${f.path}}` : `{${f.path}}`)
const columns: Column<Row>[] = [
  { key: 'path', text: 'Field', size: 260, fixed: true, narrow: 'title', sort: true },
  { key: 'label', text: 'What it is', grow: 1, sort: true },
  { key: 'type', text: 'Type', size: 80, quiet: true, show: (f) => (f.type === 'day' ? 'date' : f.type) },
  { key: 'value', text: 'Value', grow: 2, show: (f) => f.value.replaceAll('\n', ', ') || (f.within ? `of each of ${f.within}` : '') },
]
const { copy: copyText } = useClipboard({ legacy: true })
async function copy(f: Row) {
  await copyText(tagOf(f))
  notes.say(`${tagOf(f)} is copied`)
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Fields" hint="Enter copies the field; the list can be taken home as a workbook from its menu." />
    <PapersTabs />
    <div class="grid stacks gap-[18px] min-[1100px]:grid-cols-[minmax(0,1fr)_320px]">
      <div>
        <div class="mb-3 grid stacks grid-cols-2 gap-2">
          <TextField v-model="q" label="Find a field" placeholder="name, date, vessel" autofocus /><Picker
            v-model="matter"
            label="Values on the matter"
            :search="searchMatters"
            optional
          />
        </div>
        <section class="sheet" aria-label="Fields">
          <DataTable
            label="Fields"
            name="template-fields"
            :rows="rows"
            :columns="columns"
            :row-id="(f) => f.path"
            :open="copy"
            :acts="(f) => [{ text: `Copy ${tagOf(f)}`, act: () => copy(f) }]"
            :loading="loading && !data"
            :problem="problem"
            @again="reload()"
          >
            <template #empty>No field is like this.</template>
            <template #cell-path="{ row: f }"
              ><code class="font-mono text-[12.5px]">{{ f.path }}</code></template
            >
          </DataTable>
        </section>
      </div>
      <section class="sheet self-start px-4 py-3.5" aria-label="Formats">
        <h2>Formats</h2>
        <p class="text-ink-2">Written behind a bar: <code>{client.name | capitals}</code></p>
        <dl>
          <div v-for="f in data?.formats" :key="f.name" class="border-t border-line-2 py-1">
            <dt>
              <code class="font-mono text-[12.5px]">{{ f.name }}</code> <span class="text-ink-2">{{ f.about }}</span>
            </dt>
            <dd class="text-sm text-ink-3">{{ f.example }}</dd>
          </div>
        </dl>
        <h2 class="mt-3">Conditions and lists</h2>
        <p class="whitespace-pre-line text-ink-2">
          {if client.is_person and matter.hourly} … {else if …} … {else} … {end if} = &lt;&gt; &lt; &lt;= &gt; &gt;= and or not in ["a",
          "b"] empty {for each p in parties} {p.name}{if not last}, {end if} {end for} Within a list: first, last, number, count.
        </p>
      </section>
    </div>
  </div>
</template>
