<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useAddress } from '../address'
import { api, asks } from '../api'
import { recent } from '../shown'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import { plural } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import DocketTabs from './DocketTabs.vue'
import { useRouter } from 'vue-router'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

/** How long cases take: from commencement to trial, from motion to ruling. */
const SpreadChart = defineAsyncComponent(() => import('./SpreadChart.vue'))
const s = useAddress({ of: 'trial', scope: 'firm', areaId: '0', judgeId: '0' }, ['of'])
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const { data, problem, loading, reload } = useLoad(
  () =>
    api.reports.figures({
      of: s.of as 'trial',
      scope: s.scope as 'firm',
      ...(Number(s.areaId) ? { areaId: Number(s.areaId) } : {}),
      ...(Number(s.judgeId) ? { judgeId: Number(s.judgeId) } : {}),
    }),
  [() => JSON.stringify(s)],
)
const what = computed(() => (s.of === 'trial' ? 'From commencement to trial' : 'From motion to ruling'))
const days = (n: number | null) => (n === null ? '' : Number.isInteger(n) ? String(n) : n.toFixed(1))
const figures = computed(() => {
  const f = data.value?.spread
  if (!f?.count) return []
  return [
    { value: days(f.shortest), name: 'shortest' },
    { value: days(f.lowerQuartile), name: 'a quarter take at most' },
    { value: days(f.median), name: 'median' },
    { value: days(f.upperQuartile), name: 'three quarters take at most' },
    { value: days(f.longest), name: 'longest' },
  ]
})
const router = useRouter()
const measured = computed(() => (data.value?.matters ?? []).map((m, at) => ({ ...m, at })))
const columns = computed((): Column<(typeof measured.value)[number]>[] => [
  { key: 'name', text: 'Matter', grow: 1.4, narrow: 'title', sort: true },
  { key: 'what', text: s.of === 'trial' ? 'Trial' : 'Motion', sort: true },
  { key: 'from', text: 'From', kind: 'day', sort: true },
  { key: 'to', text: 'To', kind: 'day', sort: true },
  { key: 'days', text: 'Days', kind: 'number', sort: true },
])
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Figures" hint="In calendar days, over matters you may see, closed ones too" />
    <DocketTabs />
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <Switch
        v-model="s.of"
        label="Which figure"
        :options="[
          { value: 'trial', text: 'Commencement to trial' },
          { value: 'ruling', text: 'Motion to ruling' },
        ]"
      />
      <Switch
        v-model="s.scope"
        label="Whose matters"
        :options="[
          { value: 'mine', text: 'Mine' },
          { value: 'firm', text: 'The firm' },
        ]"
      />
      <ChoiceField
        v-model="s.areaId"
        label="Practice area"
        :options="[{ value: '0', text: 'Any' }, ...(setting?.areas ?? []).map((a) => ({ value: String(a.id), text: a.name }))]"
      />
      <ChoiceField
        v-model="s.judgeId"
        label="Judge"
        :options="[{ value: '0', text: 'Any' }, ...(data?.judges ?? []).map((j) => ({ value: String(j.id), text: j.name }))]"
      />
    </div>
    <section class="sheet" :aria-label="what">
      <State :loading="loading && !data" :problem="problem" :empty="data?.spread.count === 0" @again="reload()">
        <template #empty>{{
          s.of === 'trial'
            ? 'No matter here has both a commencement and a trial date that is set. Both are entered as events on its Docket.'
            : 'No motion here has a ruling yet. Both are entered as events on a matter’s Docket.'
        }}</template>
        <template v-if="data">
          <div class="px-4 pt-3">
            <h2>{{ what }}</h2>
            <p class="text-ink-2">{{ plural(data.spread.count, s.of === 'trial' ? 'matter' : 'motion') }}</p>
          </div>
          <dl class="flex flex-wrap gap-x-9 gap-y-2 px-4 py-3">
            <div v-for="f in figures" :key="f.name" class="flex flex-col-reverse">
              <dt class="text-sm text-ink-2">{{ f.name }}</dt>
              <dd class="font-serif text-xl font-semibold">{{ f.value }} days</dd>
            </div>
          </dl>
          <div class="px-4 pb-4"><SpreadChart :bars="data.spread.bars" :median="data.spread.median" /></div>
          <DataTable
            label="Matters"
            name="figures"
            :rows="measured"
            :columns="columns"
            :row-id="(m) => m.at"
            :open="(m) => router.push(`/matters/${m.matterId}/docket`)"
          >
            <template #cell-name="{ row: m }"
              ><RouterLink :to="`/matters/${m.matterId}/docket`" class="hover:underline">{{ m.name }}</RouterLink>
              <span class="text-ink-2"> {{ m.number }}</span></template
            >
          </DataTable>
        </template>
      </State>
    </section>
  </div>
</template>
