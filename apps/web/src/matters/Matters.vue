<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import Views from '../ui/Views.vue'
import { useLoad } from '../use'
import { matterColumns, usualColumns } from './columns'
import MatterFilter from './MatterFilter.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
// What is shown stands in the address, so that a view can be sent on and Back works.
const q = ref<Record<string, string>>(Object.fromEntries(Object.entries(route.query).map(([k, v]) => [k, String(v)])))
const text = ref(q.value['q'] ?? '')
const set = (key: string, value: string) => {
  const next = { ...q.value }
  if (value) next[key] = value
  else delete next[key]
  if (key !== 'page') delete next['page']
  q.value = next
}
const { data: setting } = useLoad(() => api.matters.setting())
const { data: groups } = useLoad(() => api.fields.groups({ owner: 'matter' }))
const shown = computed(() => (q.value['columns'] ?? usualColumns).split(','))
const allColumns = computed(() => [
  ...matterColumns.filter((c) => !('money' in c) || session.may('bills.see')),
  ...(groups.value ?? []).flatMap((g) => g.fields.filter((f) => !f.retired).map((f) => ({ key: `f${f.id}`, text: f.name }))),
])
const columns = computed(
  () =>
    shown.value.flatMap((k) => allColumns.value.find((c) => c.key === k) ?? []) as {
      key: string
      text: string
      sort?: string
      money?: boolean
    }[],
)
const money = computed(() => columns.value.some((c) => c.money))
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
const { data, problem, loading, reload } = useLoad(() => api.matters.list(asked.value as Asked), [() => session.tick])
const totals = useLoad(
  async () => (money.value ? api.matters.totals(filter.value as Parameters<typeof api.matters.totals>[0]) : null),
  [() => JSON.stringify([filter.value, money.value])],
)
const look = useDebounceFn(() => {
  void router.replace({ query: q.value })
  void reload()
}, 150)
watch(asked, look)
watch(text, (t) => set('q', t))
const more = ref(narrowing.slice(5).some((k) => q.value[k]) || Boolean(q.value['stageId']))
const choosing = ref(false)
const toDates = route.query['then'] === 'dates'
const target = (id: number) => (toDates ? `/matters/${id}/docket?work=1` : `/matters/${id}`)
const exported = computed(
  () => `/api/matters/export?${new URLSearchParams({ ...filter.value, sort: sort.value, columns: shown.value.join(',') }).toString()}`,
)
function toggle(key: string) {
  const next = shown.value.includes(key) ? shown.value.filter((k) => k !== key) : [...shown.value, key]
  // The order is that of the list of columns, whatever was ticked first.
  const ordered = allColumns.value.map((c) => c.key as string).filter((k) => next.includes(k))
  set('columns', ordered.join(',') === usualColumns ? '' : ordered.join(','))
}
function choose(state: Record<string, string>) {
  q.value = { ...state }
  text.value = state['q'] ?? ''
}
type Row = Answer<typeof api.matters.list>['rows'][number]
function cell(m: Row, key: string): string {
  if (key.startsWith('f') && /^f\d+$/.test(key)) return m.fields[key.slice(1)] ?? ''
  if (key === 'tags') return m.tags.join(', ')
  if (key === 'openedOn' || key === 'activeOn') return dayText(m[key])
  if (key === 'closedOn') return m.closedOn ? dayText(m.closedOn) : ''
  if (key === 'unbilled' || key === 'owed' || key === 'held') return m[key] ? showMoney(m[key]) : ''
  return String(m[key as 'court'] ?? '')
}
const totalOf = (key: string) => {
  const t = totals.data.value?.[key as 'unbilled']
  return t === null || t === undefined ? '' : showMoney(t)
}
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Matters" :hint="toDates ? 'Choose the matter whose dates are to be worked out.' : undefined">
      <Views list="matters" :state="q" @choose="choose" />
      <Btn @click="choosing = true">Columns</Btn>
      <Btn :href="exported">CSV</Btn>
      <Btn v-if="session.may('matters.open')" main key-name="N" @click="router.push('/matters/new')">Open a matter</Btn>
    </PageHead>
    <div class="mb-3 grid grid-cols-[1fr_130px_190px_190px_auto] items-end gap-3">
      <TextField v-model="text" label="Find by letters of number, name, client, party, tag or case number" />
      <ChoiceField
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
        :model-value="Number(q['areaId'] ?? 0)"
        label="Area"
        :options="[{ value: 0, text: 'Any area' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
        @update:model-value="(set('stageId', ''), set('areaId', $event ? String($event) : ''))"
      />
      <ChoiceField
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
    <section class="sheet overflow-x-auto" aria-label="Matters" :aria-busy="loading">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty>No matter fits. Clear the search, or open a matter.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th
                v-for="c in columns"
                :key="c.key"
                :class="c.money && 'num'"
                :aria-sort="c.sort && sort === c.sort ? 'descending' : 'none'"
              >
                <button v-if="c.sort" type="button" class="hover:underline" @click="set('sort', c.sort === 'active' ? '' : c.sort!)">
                  {{ c.text }}{{ sort === c.sort ? ' ↓' : '' }}
                </button>
                <template v-else>{{ c.text }}</template>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in data?.rows" :key="m.id" class="open-on">
              <td
                v-for="c in columns"
                :key="c.key"
                :class="[
                  c.money && 'num',
                  ['name', 'client'].includes(c.key) ? '' : 'text-ink-2',
                  ['number', 'lead', 'openedOn', 'activeOn', 'closedOn'].includes(c.key) && 'whitespace-nowrap',
                ]"
              >
                <template v-if="c.key === 'name'"
                  ><RouterLink :to="target(m.id)" class="font-semibold text-ink hover:underline">{{ m.name }}</RouterLink>
                  <span v-if="m.closedOn" class="tag ml-1 bg-mist text-ink-2">closed</span>
                  <span v-if="m.conflicts !== 'cleared' && !shown.includes('conflicts')" class="tag ml-1 bg-rust-wash text-rust"
                    >conflicts: {{ m.conflicts }}</span
                  ></template
                >
                <RouterLink v-else-if="c.key === 'client'" :to="`/people/${m.clientId}`" class="hover:underline">{{ m.client }}</RouterLink>
                <template v-else-if="c.key === 'next'"
                  ><b v-if="m.overdue" class="tag mr-1.5 bg-rust-wash text-rust">{{ m.overdue }} overdue</b
                  ><template v-if="m.nextDay"
                    ><b class="font-semibold whitespace-nowrap text-ink">{{ dayText(m.nextDay) }}</b> {{ m.nextTitle }}</template
                  ></template
                >
                <template v-else>{{ cell(m, c.key) }}</template>
              </td>
            </tr>
          </tbody>
          <tfoot v-if="money && totals.data.value">
            <tr>
              <td v-for="(c, i) in columns" :key="c.key" class="font-semibold" :class="c.money && 'num'">
                {{ i === 0 ? `All ${data?.total.toLocaleString('en-US')}` : totalOf(c.key) }}
              </td>
            </tr>
          </tfoot>
        </table>
        <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="matters" />
      </State>
    </section>
    <SideSheet v-if="choosing" title="Columns" @close="choosing = false">
      <label v-for="c in allColumns" :key="c.key" class="flex gap-2 border-t border-line-2 py-1">
        <input type="checkbox" class="accent-ink" :checked="shown.includes(c.key)" :disabled="c.key === 'name'" @change="toggle(c.key)" />
        {{ c.text }}
      </label>
      <Btn @click="set('columns', '')">The usual ones</Btn>
    </SideSheet>
  </div>
</template>
