<script setup lang="ts">
import { flowGroups } from '@heron/contract'
import { isDay, showDay, yearStart } from '@heron/core/calendar'
import { flowSteps, flowWords, losses, realization, type FlowStep } from '@heron/core/oversight'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useAddress, useSpan } from '../address'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'
import ActMenu from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Progress from '../ui/Progress.vue'
import { monthText, showMoney } from '../ui/show'
import Switch from '../ui/Switch.vue'
import { showShare, someMoney, type Column } from '../ui/table/columns'
import Views from '../ui/Views.vue'
import FlowLines from './FlowLines.vue'
import ReportTabs from './ReportTabs.vue'
import ScheduleSheet from './ScheduleSheet.vue'
import { useFigures } from './figures'
import { fileActs, overOpen } from './reports'

const Bars = defineAsyncComponent(() => import('./Bars.vue'))
type Group = Answer<typeof api.oversight.flow>['groups'][number]
const session = useSession()
const usual = {
  from: yearStart(session.today),
  to: session.today,
  as: 'work',
  by: 'person',
  beside: '',
  step: '',
  key: '',
  all: '',
}
const shown = useAddress(usual, ['as', 'by', 'beside', 'step', 'key', 'all'])
const { from, to } = useSpan(shown)
const choose = (view: Record<string, string>) => Object.assign(shown, { ...usual, ...view })
const inActs: FlowStep[] = ['worked', 'writtenDown', 'discount', 'billed', 'credited', 'writtenOff', 'collected']
const stepsOf = (counted: 'work' | 'act'): readonly FlowStep[] => (counted === 'act' ? inActs : flowSteps)
const as = computed({
  get: () => shown.as as 'work' | 'act',
  // What is not counted that way does not stand beside, either.
  set: (v) => Object.assign(shown, { as: v, beside: stepsOf(v).includes(shown.beside as FlowStep) ? shown.beside : '' }),
})
const by = computed(() => shown.by as (typeof flowGroups)[number])
const asked = computed(() => ({
  from: shown.from,
  to: shown.to,
  as: as.value,
  by: by.value,
  ...(shown.beside ? { beside: shown.beside as FlowStep } : {}),
}))
const { data, problem, loading, reload, adding, added } = useFigures(
  { now: () => api.oversight.flow(asked.value), asked: () => ({ ...asked.value, what: 'flow' }), take: (a) => a.flow },
  () => asked.value,
)
/** Steps that say something; what was worked, billed and collected always do. */
const steps = computed(() =>
  stepsOf(as.value).filter((s) => ['worked', 'billed', 'collected'].includes(s) || (data.value?.together[s] ?? 0) !== 0),
)
const groupWords = {
  person: 'Timekeeper',
  matter: 'Matter',
  client: 'Client',
  area: 'Area',
  originating: 'Originating lawyer',
  month: 'Month',
}
/** Told by what the group is: until the figures by month are there, those of before still stand. */
const nameOf = (g: Group) => (by.value === 'month' && isDay(`${g.key}-01`) ? monthText(g.key) : g.name)
const rates = (g: Pick<Group, 'flow'>) => realization(g.flow)
/** The figure whose entries are shown, as it stands in the table. */
const opened = computed(() => {
  const step = shown.step as FlowStep
  if (shown.all === 'yes') return data.value?.together[step] ?? null
  return data.value?.groups.find((g) => g.key === shown.key)?.flow[step] ?? null
})
const together = computed(() => (data.value ? realization(data.value.together) : null))
const columns = computed((): Column<Group>[] => [
  { key: 'name', text: groupWords[by.value], grow: 1.5, fixed: true, narrow: 'title', sort: true, value: nameOf, total: 'Together' },
  ...(shown.beside && data.value
    ? data.value.months.map((m, i): Column<Group> => ({ key: `m${m.month}`, text: monthText(m.month), kind: 'money', size: 110, value: (g) => g.months[i] ?? 0, show: (g) => someMoney(g.months[i] ?? 0), total: showMoney(m.amount) })) // prettier-ignore
    : []),
  ...(shown.beside
    ? [stepColumn(shown.beside as FlowStep)]
    : [
        ...steps.value.flatMap((s) => [
          ...(as.value === 'work' && s === 'billed' ? [lossColumn('before', 'Lost before')] : []),
          stepColumn(s),
          ...(as.value === 'work' && s === 'billed' ? [lossColumn('after', 'Lost after')] : []),
        ]),
        ...(as.value === 'work'
          ? [
              { key: 'billing', text: 'Billed %', kind: 'share' as const, size: 76, value: (g: Group) => rates(g).billing, total: together.value?.billing == null ? '' : showShare(together.value.billing) }, // prettier-ignore
              { key: 'collection', text: 'Coll. %', kind: 'share' as const, size: 76, value: (g: Group) => rates(g).collection, total: together.value?.collection == null ? '' : showShare(together.value.collection) }, // prettier-ignore
            ]
          : []),
      ]),
])
/** Each single loss, and what is open, can be chosen as a column; losses together stand before and after what was billed. */
const single: FlowStep[] = ['noCharge', 'dropped', 'writtenDown', 'discount', 'credited', 'writtenOff', 'open']
const lossColumn = (when: 'before' | 'after', text: string): Column<Group> => ({
  key: when,
  text,
  kind: 'money',
  size: 112,
  sort: true,
  value: (g) => losses(g.flow)[when],
  show: (g) => someMoney(losses(g.flow)[when]),
  total: data.value ? showMoney(losses(data.value.together)[when]) : '',
})
const stepColumn = (s: FlowStep): Column<Group> => ({
  key: s,
  size: s === 'worked' ? 132 : s === 'billed' || s === 'collected' || s === 'feeDifference' ? 124 : 116,
  hidden: as.value === 'work' && !shown.beside && single.includes(s),
  text: shown.beside ? 'Together' : flowWords[s],
  kind: 'money',
  sort: true,
  strong: s === 'worked' || s === 'billed' || s === 'collected',
  value: (g) => g.flow[s],
  show: (g) => someMoney(g.flow[s]),
  total: data.value ? showMoney(data.value.together[s]) : '',
})
function open(step: FlowStep, key: string | null) {
  Object.assign(shown, key === null ? { step, key: '', all: 'yes' } : { step, key, all: '' })
}
const most = 10
const chart = computed(() => {
  const list = (data.value?.groups ?? []).slice(0, most)
  const three: FlowStep[] = ['worked', 'billed', 'collected']
  const ordered = by.value === 'month' ? [...list].reverse() : list
  return list.length > 1
    ? { names: ordered.map(nameOf), series: three.map((s) => ({ text: flowWords[s], values: ordered.map((g) => g.flow[s]) })) }
    : null
})
const sending = ref(false)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Work to money" :hint="`Fees before tax. ${overOpen}`">
      <Views list="flow" :state="{ ...shown, step: '', key: '', all: '' }" @choose="choose" />
      <Btn @click="sending = true">Send …</Btn>
      <ActMenu
        text="As a file"
        label="As a file"
        :acts="fileActs('flow', { from: shown.from, to: shown.to, as: shown.as, group: shown.by, added })"
      />
    </PageHead>
    <ReportTabs />
    <div class="mb-3 flex flex-wrap items-end gap-3 print:hidden">
      <div class="w-36"><DayField v-model="from" label="From" /></div>
      <div class="w-36"><DayField v-model="to" label="To" /></div>
      <Switch
        v-model="as"
        label="What is counted"
        :options="[
          { value: 'work', text: 'What became of the work' },
          { value: 'act', text: 'What was done' },
        ]"
      />
      <div class="w-44">
        <ChoiceField v-model="shown.by" label="By" :options="flowGroups.map((g) => ({ value: g as string, text: groupWords[g] }))" />
      </div>
      <div class="w-44">
        <ChoiceField
          v-model="shown.beside"
          label="Month by month"
          :options="[{ value: '', text: 'No' }, ...stepsOf(as).map((s) => ({ value: s as string, text: flowWords[s] }))]"
        />
      </div>
    </div>
    <p class="mb-3 hidden print:block">
      {{ as === 'work' ? 'What became of the work' : 'What was done' }}, {{ showDay(shown.from) }} to {{ showDay(shown.to) }}
    </p>
    <section class="sheet" aria-label="Work to money">
      <p v-if="adding !== null" class="px-4 py-6"><Progress label="Adding up a long span" :percent="adding" /></p>
      <template v-else>
        <div v-if="chart && !shown.beside" class="px-4 pt-3">
          <Bars label="Worked, billed and collected" kind="money" :names="chart.names" :series="chart.series" />
        </div>
        <DataTable
          label="Work to money"
          name="flow"
          no-views
          :rows="data?.groups ?? []"
          :columns="columns"
          :row-id="(g) => g.key"
          :acts="
            (g) =>
              steps
                .filter((s) => g.flow[s])
                .map((s) => ({ text: `What stands behind ${flowWords[s].toLowerCase()}`, act: () => open(s, g.key) }))
          "
          :open="(g) => open('worked', g.key)"
          :loading="loading"
          :problem="problem"
          @again="reload()"
        >
          <template #empty>Nothing was worked or paid in this span.</template>
          <template v-for="s in steps" :key="s" #[`cell-${s}`]="{ row: g }"
            ><button v-if="g.flow[s]" type="button" class="hover:underline" tabindex="-1" @click.stop="open(s, g.key)">
              {{ showMoney(g.flow[s]) }}
            </button></template
          >
        </DataTable>
        <p v-if="data" class="flex flex-wrap gap-x-4 gap-y-1 px-4 py-2.5 text-sm text-ink-2 print:hidden">
          All together:
          <button v-for="s in steps" :key="s" type="button" class="underline" @click="open(s, null)">
            {{ flowWords[s].toLowerCase() }}
          </button>
        </p>
      </template>
    </section>
    <p class="mt-2 max-w-[900px] text-sm text-ink-2">
      {{
        as === 'work'
          ? 'Work of the span, whenever it was billed and paid. Worked, less what was at no charge, written off, written down, discounted and waits, with what fees are above or below the time they cover, is what was billed; that, less credits, write-offs and what is open, is what was collected. A fee stands in the month up to which its bill takes work.'
          : 'What was recorded, billed, credited, written off and collected on days of the span, whenever the work was done.'
      }}
    </p>
    <FlowLines
      v-if="shown.step"
      :asked="{
        from: shown.from,
        to: shown.to,
        as,
        by,
        key: shown.key,
        all: shown.all === 'yes' ? 'yes' : '',
        step: shown.step as FlowStep,
      }"
      :figure="opened"
      @close="Object.assign(shown, { step: '', key: '', all: '' })"
    />
    <ScheduleSheet v-if="sending" what="flow" :asked="{ as, group: by }" @close="sending = false" />
  </div>
</template>
