<script setup lang="ts">
import { charges, timeGroups, timeStates } from '@heron/contract'
import { dayOf, daysInMonth, monthStart } from '@heron/core/calendar'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAddress, dayOr } from '../address'
import { type Answer, api, asks } from '../api'
import { recent, useShown } from '../shown'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts, searchMatters } from '../ui/search'
import { monthText, plural, showHours, showMoney } from '../ui/show'
import type { Column } from '../ui/table/columns'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import Views from '../ui/Views.vue'
import { useLoad } from '../use'
import { useTimeSetUp } from './set-up'
import TimeTabs from './TimeTabs.vue'

type Row = Answer<typeof api.time.all>['rows'][number]
type Asked = Parameters<typeof api.time.all>[0]
const session = useSession()
const router = useRouter()
const setUp = useTimeSetUp()
void setUp.ready()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()).catch(() => null))
const usual = {
  q: '',
  from: monthStart(session.today) as string,
  to: '',
  userId: '',
  matterId: '',
  clientId: '',
  areaId: '',
  activity: '',
  charge: '',
  state: 'all',
  fundingId: '',
  inCourt: '',
  privateAttorney: '',
  by: session.may('bills.see') ? 'person' : 'matter',
  as: 'entries' as 'entries' | 'sums',
  columns: '',
  page: '1',
}
const shown = useAddress(usual, ['page', 'as'], false, true)
const words = refDebounced(
  computed(() => shown.q),
  150,
)
const filter = computed(() => {
  const { by: _by, as: _as, page: _page, columns: _columns, ...rest } = shown
  return Object.fromEntries(Object.entries({ ...rest, q: words.value.trim() }).filter(([, v]) => v)) as Omit<Asked, 'page'>
})
const asked = computed(() => JSON.stringify(filter.value))
watch(asked, () => (shown.page = '1'))
const size = 100
const fieldsShown = computed(() =>
  shown.columns
    .split(',')
    .filter((k) => /^f\d+$/.test(k))
    .map((k) => k.slice(1))
    .join(','),
)
const { data, problem, loading, reload } = useShown(() =>
  asks.time.all.queryOptions({ input: { ...filter.value, page: Number(shown.page), size, fields: fieldsShown.value } }),
)
const { data: sums, loading: adding } = useShown(() =>
  asks.time.sums.queryOptions({ input: { ...filter.value, by: shown.by as (typeof timeGroups)[number] } }),
)
const matter = ref<Choice | null>(null)
const client = ref<Choice | null>(null)
watch(matter, (m) => (shown.matterId = m ? String(m.id) : ''))
watch(client, (c) => (shown.clientId = c ? String(c.id) : ''))
// What the address names, and what a sum was opened by, stands in the fields by its name.
const named = (by: string, key: string) => sums.value?.groups.find((g) => shown.by === by && g.key === key)?.name
watch(
  () => shown.matterId,
  async (key) => {
    if (key === String(matter.value?.id ?? '')) return
    const m = key ? await api.matters.get({ id: Number(key) }).catch(() => null) : null
    if (key !== shown.matterId) return
    matter.value = key ? { id: Number(key), text: m?.name ?? named('matter', key) ?? key } : null
  },
  { immediate: true },
)
watch(
  () => shown.clientId,
  async (key) => {
    if (key === String(client.value?.id ?? '')) return
    const c = key ? await api.people.get({ id: Number(key) }).catch(() => null) : null
    if (key !== shown.clientId) return
    client.value = key ? { id: Number(key), text: c?.name ?? named('client', key) ?? key } : null
  },
  { immediate: true },
)
const people = computed(() => {
  const list = (setting.value?.staff ?? []).map((p) => ({ value: String(p.id), text: p.name }))
  const own = shown.userId && !list.some((p) => p.value === shown.userId)
  return own
    ? [...list, { value: shown.userId, text: named('person', shown.userId) ?? data.value?.rows[0]?.who ?? 'Someone who left' }]
    : list
})

const columns = computed((): Column<Row>[] => [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'who', text: 'Timekeeper', size: 150, hidden: !session.may('bills.see') },
  { key: 'matter', text: 'Matter', grow: 1.1 },
  { key: 'client', text: 'Client', grow: 1, hidden: true },
  { key: 'text', text: 'Work', grow: 2.2, narrow: 'title' },
  ...(setUp.uses('activity') ? [{ key: 'activity', text: 'Code', size: 64, quiet: true }] : []),
  ...(setUp.uses('task') ? [{ key: 'task', text: 'Task', size: 72, hidden: true, value: (t: Row) => t.task ?? '' }] : []),
  ...(setUp.uses('times')
    ? [{ key: 'times', text: 'From – to', size: 110, hidden: true, value: (t: Row) => (t.start ? `${t.start}–${t.end}` : '') }]
    : []),
  ...(setUp.uses('court')
    ? [{ key: 'inCourt', text: 'In court', size: 80, hidden: true, value: (t: Row) => (t.inCourt ? 'in court' : '') }]
    : []),
  ...(setUp.uses('funding') ? [{ key: 'funding', text: 'Funding', size: 130, hidden: true, value: (t: Row) => t.funding ?? '' }] : []),
  ...(setUp.uses('private attorney')
    ? [{ key: 'privateAttorney', text: 'Private attorney', size: 120, hidden: true, value: (t: Row) => (t.privateAttorney ? 'yes' : '') }]
    : []),
  ...setUp.groups.flatMap((g) =>
    g.fields
      .filter((f) => !f.retired)
      .map((f) => ({ key: `f${f.id}`, text: f.name, quiet: true, hidden: true, value: (t: Row) => t.fields[f.id] ?? '' })),
  ),
  { key: 'state', text: 'State', size: 124, value: (t) => (t.billed ? `billed ${t.billed}` : t.state) },
  { key: 'rateOrigin', text: 'Rate by', size: 150, hidden: true, quiet: true },
  { key: 'minutes', text: 'Hours', kind: 'hours' },
  { key: 'rate', text: 'Rate', kind: 'money', size: 92, quiet: true },
  { key: 'amount', text: 'Amount', kind: 'money', show: (t) => (t.charge === 'billable' ? showMoney(t.amount) : t.charge) },
])
const acts = (t: Row): Act[] => [{ text: 'Time of the matter', to: `/matters/${t.matterId}/time` }]
const keys = computed(() => (shown.columns ? shown.columns.split(',') : columns.value.filter((c) => !c.hidden).map((c) => c.key)))
const file = computed(
  () => `/api/time/file?${new URLSearchParams({ ...(filter.value as Record<string, string>), columns: keys.value.join(',') }).toString()}`,
)

type Group = Answer<typeof api.time.sums>['groups'][number]
const groupWords: Record<(typeof timeGroups)[number], string> = { person: 'Timekeeper', matter: 'Matter', client: 'Client', area: 'Area', activity: 'Activity', month: 'Month', charge: 'Charge', funding: 'Funding source' } // prettier-ignore
const groups = computed(() =>
  timeGroups.filter((g) => (g !== 'activity' || setUp.uses('activity')) && (g !== 'funding' || setUp.uses('funding'))),
)
const groupColumns = computed((): Column<Group>[] => [
  {
    key: 'name',
    text: groupWords[shown.by as 'person'],
    grow: 1,
    fixed: true,
    narrow: 'title',
    value: (g) => (shown.by === 'month' ? monthText(g.key) : g.name),
  },
  { key: 'entries', text: 'Entries', kind: 'number', sort: true, total: sums.value ? sums.value.entries.toLocaleString('en-US') : '' },
  { key: 'minutes', text: 'Hours', kind: 'hours', sort: true, total: showHours(sums.value?.minutes ?? 0) },
  { key: 'worth', text: 'Recorded value', kind: 'money', size: 130, sort: true, total: showMoney(sums.value?.worth ?? 0) },
])
/** A sum opens to the entries behind it. */
function narrow(g: Group) {
  const by = shown.by as (typeof timeGroups)[number]
  if (!g.key) return
  if (by === 'month') {
    const first = `${g.key}-01`
    const last = dayOf(Number(g.key.slice(0, 4)), Number(g.key.slice(5)), daysInMonth(Number(g.key.slice(0, 4)), Number(g.key.slice(5))))
    shown.from = shown.from > first ? shown.from : first
    shown.to = shown.to && shown.to < last ? shown.to : last
  } else {
    const keys = {
      person: 'userId',
      matter: 'matterId',
      client: 'clientId',
      area: 'areaId',
      activity: 'activity',
      charge: 'charge',
      funding: 'fundingId',
    } as const
    shown[keys[by]] = g.key
  }
  shown.as = 'entries'
}
const narrowedBy = computed(() =>
  Object.keys(usual).some((k) => !['by', 'as', 'page', 'columns'].includes(k) && shown[k as 'q'] !== usual[k as 'q']),
)
const widen = () => Object.assign(shown, { ...usual, by: shown.by, as: shown.as, columns: shown.columns })
const any = (text: string) => ({ value: '', text })
const yesNo = [any('Either'), { value: 'yes', text: 'Yes' }, { value: 'no', text: 'No' }]
const more = ref(false)
const view = computed(() => Object.fromEntries(Object.entries(shown).filter(([k, v]) => k !== 'page' && v !== usual[k as 'q'])))
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      :title="session.may('bills.see') ? 'All time' : 'All my time'"
      :hint="
        sums
          ? sums.tooMany
            ? 'More than is added up at once. Narrow the span.'
            : `${plural(sums.entries, 'entry', 'entries')}, ${showHours(sums.minutes)} h, ${showMoney(sums.worth)} recorded`
          : ''
      "
    >
      <ChoiceField
        v-if="shown.as === 'sums'"
        v-model="shown.by"
        label="Added up by"
        bare
        :options="groups.map((g) => ({ value: g, text: `by ${groupWords[g].toLowerCase()}` }))"
      />
      <Switch
        v-model="shown.as"
        label="Show"
        :options="[
          { value: 'entries', text: 'Entries' },
          { value: 'sums', text: 'Added up' },
        ]"
      />
      <Views list="time" :state="view" @choose="(state) => Object.assign(shown, usual, state)" />
      <Btn v-if="session.may('time.record')" main key-name="R" @click="router.push('/time?record=1')">Record time</Btn>
    </PageHead>
    <TimeTabs />
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <div class="w-36">
        <DayField :model-value="dayOr(shown.from, null)" label="From" optional @update:model-value="shown.from = $event ?? ''" />
      </div>
      <div class="w-36">
        <DayField :model-value="dayOr(shown.to, null)" label="To" optional @update:model-value="shown.to = $event ?? ''" />
      </div>
      <div v-if="session.may('bills.see')" class="w-44">
        <ChoiceField v-model="shown.userId" label="Timekeeper" :options="[any('Anyone'), ...people]" />
      </div>
      <div class="w-60 max-w-full"><Picker v-model="matter" label="Matter" optional :search="searchMatters" /></div>
      <div class="w-36">
        <ChoiceField
          v-model="shown.state"
          label="State"
          :options="timeStates.map((s) => ({ value: s, text: s === 'all' ? 'all that stands' : s }))"
        />
      </div>
      <Btn :aria-expanded="more" @click="more = !more">{{ more ? 'Fewer filters' : 'More filters' }}</Btn>
      <Btn v-if="narrowedBy" @click="widen">This month, all of it</Btn>
    </div>
    <div v-if="more" class="mb-3 flex flex-wrap items-end gap-3">
      <div class="w-56 max-w-full"><TextField v-model="shown.q" label="Words of the work" /></div>
      <div class="w-56 max-w-full"><Picker v-model="client" label="Client" optional :search="searchContacts" /></div>
      <div class="w-40">
        <ChoiceField
          v-model="shown.areaId"
          label="Area"
          :options="[any('Any area'), ...(setting?.areas ?? []).map((a) => ({ value: String(a.id), text: a.name }))]"
        />
      </div>
      <div v-if="setUp.uses('activity')" class="w-44">
        <ChoiceField
          v-model="shown.activity"
          label="Activity"
          :options="[any('Any'), ...setUp.activities.map((a) => ({ value: a.code, text: `${a.name} (${a.code})` }))]"
        />
      </div>
      <div class="w-36">
        <ChoiceField v-model="shown.charge" label="Charge" :options="[any('Any'), ...charges.map((c) => ({ value: c, text: c }))]" />
      </div>
      <div v-if="setUp.uses('funding')" class="w-44">
        <ChoiceField
          v-model="shown.fundingId"
          label="Funding source"
          :options="[any('Any'), ...setUp.funding.map((f) => ({ value: String(f.id), text: f.name }))]"
        />
      </div>
      <div v-if="setUp.uses('court')" class="w-28"><ChoiceField v-model="shown.inCourt" label="In court" :options="yesNo" /></div>
      <div v-if="setUp.uses('private attorney')" class="w-36">
        <ChoiceField v-model="shown.privateAttorney" label="Private attorney" :options="yesNo" />
      </div>
    </div>
    <section v-if="shown.as === 'entries'" class="sheet" aria-label="Time entries">
      <DataTable
        label="All time"
        name="all-time"
        no-views
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(t) => t.id"
        :loading="loading && !data"
        :problem="problem"
        :acts="acts"
        :open="(t) => router.push(`/matters/${t.matterId}/time`)"
        :shown-keys="keys"
        :export-to="[{ text: 'CSV of all that fit', to: file }]"
        :row-class="(t) => (t.state === 'reversed' ? 'text-ink-3 line-through' : '')"
        @again="reload()"
        @update:shown-keys="shown.columns = $event?.join(',') ?? ''"
      >
        <template #empty>No time fits.</template>
        <template #cell-matter="{ row: t }"
          ><RouterLink :to="`/matters/${t.matterId}/time`" class="hover:underline">{{ t.matter }}</RouterLink></template
        >
        <template #cell-rate="{ row: t }"
          ><span :title="t.rateOrigin">{{ showMoney(t.rate) }}</span></template
        >
        <template #foot
          ><Pager
            :model-value="Number(shown.page)"
            :total="sums && !sums.tooMany ? sums.entries : Number(shown.page) * size + (data?.more ? 1 : 0)"
            :size="size"
            what="entries"
            @update:model-value="shown.page = String($event)"
        /></template>
      </DataTable>
    </section>
    <section v-else class="sheet" aria-label="Sums">
      <DataTable
        label="Sums of time"
        name="time-sums"
        no-views
        :rows="sums?.groups ?? []"
        :columns="groupColumns"
        :row-id="(g) => g.key"
        :loading="adding && !sums"
        :open="narrow"
      >
        <template #empty>Nothing to add up.</template>
      </DataTable>
    </section>
  </div>
</template>
