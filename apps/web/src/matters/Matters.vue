<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText } from '../ui/show'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'

const session = useSession()
const route = useRoute()
const router = useRouter()
const text = (name: string, or: string) => String(route.query[name] ?? or)
const q = ref(text('q', ''))
const state = ref(text('state', 'open') as 'open' | 'closed' | 'all')
const areaId = ref(Number(text('area', '0')))
const leadId = ref(Number(text('lead', '0')))
const sort = ref(text('sort', 'active') as 'active' | 'number' | 'name' | 'client' | 'opened')
const page = ref(Number(text('page', '1')))
const { data: setting } = useLoad(() => api.matters.setting())
const filter = computed(() => ({
  q: q.value,
  state: state.value,
  areaId: areaId.value || undefined,
  leadId: leadId.value || undefined,
  sort: sort.value,
  page: page.value,
  size: 50,
}))
const { data, problem, loading, reload } = useLoad(() => api.matters.list(filter.value))
// What is shown stands in the address, so that a view can be sent on and Back works.
const look = useDebounceFn(() => {
  void router.replace({
    query: {
      ...route.query,
      q: q.value || undefined,
      state: state.value === 'open' ? undefined : state.value,
      area: areaId.value || undefined,
      lead: leadId.value || undefined,
      sort: sort.value === 'active' ? undefined : sort.value,
      page: page.value > 1 ? page.value : undefined,
    },
  })
  void reload()
}, 150)
watch([q, state, areaId, leadId, sort], () => (page.value = 1))
watch(filter, look)
const toDates = route.query['then'] === 'dates'
const target = (id: number) => (toDates ? `/matters/${id}/docket?work=1` : `/matters/${id}`)
const columns = [
  { key: 'number', text: 'Number' },
  { key: 'name', text: 'Matter' },
  { key: 'client', text: 'Client' },
] as const
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Matters" :hint="toDates ? 'Choose the matter whose dates are to be worked out.' : undefined">
      <Btn v-if="session.may('matters.open')" main key-name="N" @click="router.push('/matters/new')">Open a matter</Btn>
    </PageHead>
    <div class="mb-3 grid grid-cols-[1fr_150px_200px_200px] gap-3">
      <TextField v-model="q" label="Find by name, number, client or case number" />
      <ChoiceField
        v-model="state"
        label="State"
        :options="[
          { value: 'open', text: 'Open' },
          { value: 'closed', text: 'Closed' },
          { value: 'all', text: 'All' },
        ]"
      />
      <ChoiceField
        v-model="areaId"
        label="Area"
        :options="[{ value: 0, text: 'Any area' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
      />
      <ChoiceField
        v-model="leadId"
        label="Lead lawyer"
        :options="[
          { value: 0, text: 'Anyone' },
          ...(setting?.staff ?? []).filter((s) => s.role === 'lawyer').map((s) => ({ value: s.id, text: s.name })),
        ]"
      />
    </div>
    <section class="sheet overflow-x-auto" aria-label="Matters" :aria-busy="loading">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty>No matter fits. Clear the search, or open a matter.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th
                v-for="c in columns"
                :key="c.key"
                :aria-sort="sort === c.key ? (c.key === 'number' ? 'descending' : 'ascending') : 'none'"
              >
                <button type="button" class="hover:underline" @click="sort = c.key">{{ c.text }}{{ sort === c.key ? ' ↓' : '' }}</button>
              </th>
              <th>Area and stage</th>
              <th>Lead</th>
              <th :aria-sort="sort === 'opened' ? 'descending' : 'none'">
                <button type="button" class="hover:underline" @click="sort = 'opened'">Opened{{ sort === 'opened' ? ' ↓' : '' }}</button>
              </th>
              <th>Next date</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in data?.rows" :key="m.id" class="open-on">
              <td class="whitespace-nowrap text-ink-2">{{ m.number }}</td>
              <td>
                <RouterLink :to="target(m.id)" class="font-semibold hover:underline">{{ m.name }}</RouterLink>
              </td>
              <td>{{ m.client }}</td>
              <td class="text-ink-2">
                {{ m.area }}<template v-if="m.stage"> · {{ m.stage }}</template>
              </td>
              <td class="whitespace-nowrap text-ink-2">{{ m.lead }}</td>
              <td class="whitespace-nowrap text-ink-2">{{ dayText(m.openedOn) }}</td>
              <td>
                <template v-if="m.nextDay"
                  ><b class="font-semibold whitespace-nowrap">{{ dayText(m.nextDay) }}</b>
                  <span class="text-ink-2">{{ m.nextTitle }}</span></template
                >
              </td>
            </tr>
          </tbody>
        </table>
        <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="matters" />
      </State>
    </section>
  </div>
</template>
