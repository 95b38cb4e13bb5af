<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, asks } from '../api'
import { recent, useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import TextField from '../ui/TextField.vue'
import Views from '../ui/Views.vue'
import { useLoad } from '../use'
import { matterColumns, usualColumns, type MatterRow } from './columns'
import MatterFilter from './MatterFilter.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
// What is shown stands in the address, so that a view can be sent on and Back works.
const { path } = route
const read = () => Object.fromEntries(Object.entries(route.query).map(([k, v]) => [k, String(v)]))
const q = ref<Record<string, string>>(read())
const text = ref(q.value['q'] ?? '')
/** Addresses written from here that have not come round yet: what is typed meanwhile is not put back by them. */
let outstanding: string[] = []
// A command or a link may lead to other matters while the list stands open.
watch(
  () => route.query,
  () => {
    if (route.path !== path) return
    const next = read()
    const own = outstanding.indexOf(JSON.stringify(next))
    if (own >= 0) return void (outstanding = outstanding.slice(own + 1))
    q.value = next
    text.value = next['q'] ?? ''
  },
)
const set = (key: string, value: string) => {
  const next = { ...q.value }
  if (value) next[key] = value
  else delete next[key]
  if (key !== 'page') delete next['page']
  q.value = next
}
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'matter' } })))
const shown = computed(() => (q.value['columns'] ?? usualColumns).split(','))
const columns = computed((): Column<MatterRow>[] => {
  const t = totals.data.value
  return [
    ...matterColumns
      .filter((c) => !c.money || session.may('bills.see'))
      .map((c) => {
        const total = c.money ? t?.[c.key as 'unbilled'] : null
        return c.key === 'number' && t
          ? { ...c, total: `All ${data.value?.total.toLocaleString('en-US')}` }
          : { ...c, total: total === null || total === undefined ? '' : showMoney(total) }
      }),
    ...(groups.value ?? []).flatMap((g) =>
      g.fields
        .filter((f) => !f.retired)
        .map((f) => ({ key: `f${f.id}`, text: f.name, quiet: true, hidden: true, value: (m: MatterRow) => m.fields[f.id] ?? '' })),
    ),
  ]
})
const money = computed(() => session.may('bills.see') && matterColumns.some((c) => c.money && shown.value.includes(c.key)))
const narrowing = [
  'q',
  'state',
  'areaId',
  'stageId',
  'court',
  'leadId',
  'userId',
  'partyId',
  'tag',
  'openedFrom',
  'openedTo',
  'idleSince',
  'unbilledOver',
  'heldOver',
  'conflicts',
  'fieldId',
  'fieldIs',
  'followed',
]
const filter = computed(() => Object.fromEntries(narrowing.flatMap((k) => (q.value[k] ? [[k, q.value[k]]] : []))))
const sort = computed(() => q.value['sort'] ?? 'active')
const page = computed({ get: () => Number(q.value['page'] ?? 1), set: (p: number) => set('page', p > 1 ? String(p) : '') })
const asked = computed(() => ({
  ...filter.value,
  sort: sort.value as 'active',
  money: String(money.value),
  fields: shown.value
    .filter((k) => /^f\d+$/.test(k))
    .map((k) => k.slice(1))
    .join(','),
  page: page.value,
  size: 50,
}))
type Asked = Parameters<typeof api.matters.list>[0]
const settled = refDebounced(asked, 150)
const { data, problem, loading, reload } = useShown(() => asks.matters.list.queryOptions({ input: settled.value as Asked }))
const totals = useShown(() =>
  money.value ? asks.matters.totals.queryOptions({ input: filter.value as Parameters<typeof api.matters.totals>[0] }) : null,
)
watch(settled, () => {
  if (JSON.stringify(q.value) === JSON.stringify(read())) return
  outstanding.push(JSON.stringify(q.value))
  void router.replace({ query: q.value })
})
watch(text, (t) => set('q', t))
const more = ref(narrowing.slice(5).some((k) => q.value[k]) || Boolean(q.value['stageId']))
const toDates = computed(() => q.value['then'] === 'dates')
const target = (id: number) => (toDates.value ? `/matters/${id}/docket?work=1` : `/matters/${id}`)
const exported = computed(
  () => `/api/matters/export?${new URLSearchParams({ ...filter.value, sort: sort.value, columns: shown.value.join(',') }).toString()}`,
)
const chooseColumns = (keys: string[] | null) => set('columns', keys && keys.join(',') !== usualColumns ? keys.join(',') : '')
function choose(state: Record<string, string>) {
  q.value = { ...state }
  text.value = state['q'] ?? ''
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Matters" :hint="toDates ? 'Choose the matter whose dates are to be worked out.' : undefined">
      <Views list="matters" :state="q" @choose="choose" />
      <Btn @click="router.push('/matters/board')">Board</Btn>
      <Btn v-if="session.may('matters.open')" main key-name="N" @click="router.push('/matters/new')">Open a matter</Btn>
    </PageHead>
    <div class="mb-3 grid stacks grid-cols-[1fr_130px_190px_190px_auto] items-end gap-3">
      <TextField v-model="text" label="Find by letters of number, name, client, party, tag or case number" />
      <ChoiceField
        :class="!more && 'max-[699px]:hidden'"
        :model-value="q['state'] ?? 'open'"
        label="State"
        :options="[
          { value: 'open', text: 'Open' },
          { value: 'closed', text: 'Closed' },
          { value: 'all', text: 'All' },
        ]"
        @update:model-value="set('state', $event === 'open' ? '' : String($event))"
      />
      <ChoiceField
        :class="!more && 'max-[699px]:hidden'"
        :model-value="Number(q['areaId'] ?? 0)"
        label="Area"
        :options="[{ value: 0, text: 'Any area' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
        @update:model-value="(set('stageId', ''), set('areaId', $event ? String($event) : ''))"
      />
      <ChoiceField
        :class="!more && 'max-[699px]:hidden'"
        :model-value="Number(q['leadId'] ?? 0)"
        label="Lead lawyer"
        :options="[
          { value: 0, text: 'Anyone' },
          ...(setting?.staff ?? []).filter((s) => s.role === 'lawyer').map((s) => ({ value: s.id, text: s.name })),
        ]"
        @update:model-value="set('leadId', $event ? String($event) : '')"
      />
      <Btn :aria-expanded="more" @click="more = !more">{{ more ? 'Fewer filters' : 'More filters' }}</Btn>
    </div>
    <MatterFilter v-if="more" v-model="q" />
    <section class="sheet" aria-label="Matters">
      <DataTable
        label="Matters"
        name="matters"
        no-views
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(m) => m.id"
        :shown-keys="shown"
        :sort="sort"
        :loading="loading"
        :problem="problem"
        :export-to="[{ text: 'CSV of all that fit', to: exported }]"
        :open="(m) => router.push(target(m.id))"
        @update:shown-keys="chooseColumns"
        @update:sort="set('sort', $event === 'active' ? '' : ($event ?? ''))"
        @again="reload()"
      >
        <template #empty>No matter fits. Clear the search, or open a matter.</template>
        <template #cell-name="{ row: m }">
          <span
            v-if="m.conflicts !== 'cleared' && !shown.includes('conflicts')"
            class="tag mr-1.5 bg-rust-wash text-rust"
            :title="`conflicts: ${m.conflicts}`"
            >conflicts</span
          ><span v-if="m.closedOn" class="tag mr-1.5 bg-mist text-ink-2">closed</span
          ><RouterLink :to="target(m.id)" class="font-semibold hover:underline">{{ m.name }}</RouterLink>
        </template>
        <template #cell-client="{ row: m }"
          ><RouterLink :to="`/people/${m.clientId}`" class="hover:underline">{{ m.client }}</RouterLink></template
        >
        <template #cell-next="{ row: m }"
          ><b v-if="m.overdue" class="tag mr-1.5 bg-rust-wash text-rust">{{ m.overdue }} overdue</b
          ><template v-if="m.nextDay"
            ><b class="font-semibold whitespace-nowrap text-ink">{{ dayText(m.nextDay) }}</b> {{ m.nextTitle }}</template
          ></template
        >
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="matters" /></template>
      </DataTable>
    </section>
  </div>
</template>
