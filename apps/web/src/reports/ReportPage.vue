<script setup lang="ts">
import { yearStart } from '@heron/core/calendar'
import { matterGroups, spanReports, type ReportKey, type ReportTable } from '@heron/contract'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAddress, useSpan } from '../address'
import { api } from '../api'
import { useSession } from '../shell/session'
import ActMenu from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Progress from '../ui/Progress.vue'
import { showHours, showMoney } from '../ui/show'
import { showShare, type Column } from '../ui/table/columns'
import Views from '../ui/Views.vue'
import ReportTabs from './ReportTabs.vue'
import { useFigures } from './figures'
import { fileActs, overOpen, reports } from './reports'
import ScheduleSheet from './ScheduleSheet.vue'

const Bars = defineAsyncComponent(() => import('./Bars.vue'))
/** One of the reports that share a page; what it is asked with stands in the address. */
const props = defineProps<{ what: ReportKey }>()
const session = useSession()
const router = useRouter()
const key = computed(() => props.what)
const chosen = ref<string>(props.what)
watch(chosen, (k) => void router.push(`/reports/${k}`))
const asks = computed(() => reports.find((r) => r.key === key.value)!.asks)
const usual = { from: yearStart(session.today), to: session.today, by: 'court', days: '60' }
const state = useAddress(usual, ['by', 'days'])
const { from, to } = useSpan(state)
const by = computed({ get: () => state.by as (typeof matterGroups)[number], set: (v) => (state.by = v) })
const choose = (view: Record<string, string>) => Object.assign(state, { ...usual, ...view })
const asked = computed(() => ({
  ...(asks.value.includes('span') ? { from: state.from, to: state.to } : {}),
  ...(asks.value.includes('by') ? { by: by.value } : {}),
  ...(asks.value.includes('days') ? { days: Number(state.days) } : {}),
}))
const over = computed(() => spanReports.find((s) => s === key.value))
const { data, problem, loading, reload, adding, added } = useFigures(
  {
    now: async () => ({ of: key.value, ...(await api.oversight.report({ key: key.value, ...asked.value })) }),
    asked: () => (over.value ? { what: over.value, from: state.from, to: state.to, as: 'act', by: 'person' } : null),
    take: (a) => a.table && { of: key.value, ...a.table },
  },
  () => [key.value, asked.value],
)
// What is shown belongs to the report that is chosen; the one before is not shown under its name.
const shown = computed(() => (data.value?.of === key.value ? data.value : null))
type Row = ReportTable['rows'][number]
const kindOf = (k: ReportTable['columns'][number]['kind']) => (k === 'text' ? undefined : k)
function told(value: string | number | null | undefined, kind: ReportTable['columns'][number]['kind']): string {
  if (value === null || value === undefined || value === '') return ''
  if (kind === 'money') return showMoney(Number(value))
  if (kind === 'hours') return showHours(Number(value))
  return kind === 'share' ? showShare(Number(value)) : String(value)
}
/** Wide enough for what all come to together. */
const sizes: Partial<Record<ReportTable['columns'][number]['kind'], number>> = { money: 124, hours: 92, number: 96 }
const columns = computed((): Column<Row>[] =>
  (shown.value?.columns ?? []).map((c, i): Column<Row> => ({
    key: c.key,
    text: c.text,
    ...(kindOf(c.kind) ? { kind: kindOf(c.kind)!, ...(sizes[c.kind] ? { size: sizes[c.kind]! } : {}) } : { grow: i === 0 ? 1.6 : 1 }),
    fixed: i === 0,
    narrow: i === 0 ? 'title' : 'line',
    sort: true,
    value: (r) => r.cells[i] ?? null,
    ...(c.kind === 'day' ? {} : { show: (r: Row) => told(r.cells[i], c.kind) }),
    ...(shown.value!.rows.length ? { total: told(shown.value!.totals[i], c.kind) } : {}),
  })),
)
const most = 10
const bars = computed(() => {
  const t = shown.value
  if (!t || !t.bars.length || t.rows.length < 2) return null
  const at = t.bars.map((k) => t.columns.findIndex((c) => c.key === k)).filter((i) => i >= 0)
  if (!at.length) return null
  const rows = t.rows.slice(0, most)
  return {
    kind: t.columns[at[0]!]!.kind as 'money',
    names: rows.map((r) => String(r.cells[0] ?? '')),
    series: at.map((i) => ({ text: t.columns[i]!.text, values: rows.map((r) => Number(r.cells[i] ?? 0)) })),
  }
})
const sending = ref(false)
const byNames = { court: 'Court', area: 'Practice area', stage: 'Stage', lead: 'Lead lawyer' }
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead :title="reports.find((r) => r.key === key)!.name" :hint="overOpen">
      <Views v-if="asks.length" :list="`report ${key}`" :state="{ ...state }" @choose="choose" />
      <Btn @click="sending = true">Send …</Btn>
      <ActMenu text="As a file" label="As a file" :acts="fileActs(key, { ...asked, added })" />
    </PageHead>
    <ReportTabs />
    <div class="mb-3 flex flex-wrap items-end gap-3 print:hidden">
      <div class="w-80">
        <ChoiceField v-model="chosen" label="Report" :options="reports.map((r) => ({ value: r.key as string, text: r.name }))" />
      </div>
      <template v-if="asks.includes('span')">
        <div class="w-40"><DayField v-model="from" label="From" /></div>
        <div class="w-40"><DayField v-model="to" label="To" /></div>
      </template>
      <div v-if="asks.includes('by')" class="w-44">
        <ChoiceField v-model="by" label="By" :options="matterGroups.map((g) => ({ value: g, text: byNames[g] }))" />
      </div>
      <div v-if="asks.includes('days')" class="w-44">
        <ChoiceField
          v-model="state.days"
          label="Nothing done for"
          :options="['14', '30', '60', '90', '180', '365'].map((d) => ({ value: d, text: `${d} days` }))"
        />
      </div>
      <p v-if="shown" class="pb-1.5 text-ink-2">{{ shown.under }}</p>
    </div>
    <p v-if="shown" class="mb-3 hidden print:block">{{ shown.under }}</p>
    <section class="sheet" :aria-label="reports.find((r) => r.key === key)!.name">
      <p v-if="adding !== null" class="px-4 py-6"><Progress label="Adding up a long span" :percent="adding" /></p>
      <template v-else>
        <div v-if="bars" class="px-4 pt-3"><Bars :label="shown!.title" :names="bars.names" :series="bars.series" :kind="bars.kind" /></div>
        <DataTable
          :key="key"
          :label="reports.find((r) => r.key === key)!.name"
          :name="`report ${key}`"
          no-views
          :rows="shown?.rows ?? []"
          :columns="columns"
          :row-id="(r) => r.key"
          :open="(r) => r.to && router.push(r.to)"
          :loading="loading"
          :problem="problem"
          @again="reload()"
        >
          <template #empty>Nothing to report.</template>
        </DataTable>
        <p v-if="shown?.more" class="px-4 pb-3 text-ink-2">The first {{ shown.rows.length }} are listed; what stands together is of all.</p>
      </template>
    </section>
    <ScheduleSheet v-if="sending" :what="key" :asked="asked" @close="sending = false" />
  </div>
</template>
