<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { watch } from 'vue'
import { useRouter } from 'vue-router'
import { useCalled, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText } from '../ui/show'
import Switch from '../ui/Switch.vue'
import EnquirySheet from './EnquirySheet.vue'
import PeopleTabs from './PeopleTabs.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const router = useRouter()
const { state, page } = useFiltered({ state: 'open' as 'open' | 'matter' | 'declined' | 'all', page: 1 })
const making = useCalled('new')
const { data, problem, loading, reload } = useShown(() =>
  asks.people.enquiries.queryOptions({ input: { state: state.value, page: page.value, size: 50 } }),
)
watch(state, () => (page.value = 1))
const late = (day: Day | null) => day !== null && day < session.today
const columns: Column<Answer<typeof api.people.enquiries>['rows'][number]>[] = [
  { key: 'name', text: 'Who', grow: 1.4, fixed: true, narrow: 'title' },
  { key: 'about', text: 'What about', grow: 2 },
  { key: 'area', text: 'Area', size: 120, quiet: true },
  { key: 'next', text: 'Next step', grow: 1.6, value: (e) => [e.nextOn, e.nextStep].filter(Boolean).join(' ') },
  { key: 'hits', text: 'Conflicts', size: 104, value: (e) => e.hitsOpen },
  { key: 'owner', text: 'With', size: 120, quiet: true },
  { key: 'at', text: 'Taken', kind: 'when', quiet: true },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Enquiries"><Btn v-if="session.may('people.change')" main @click="making = true">New enquiry</Btn></PageHead>
    <PeopleTabs />
    <Switch
      v-model="state"
      class="mb-3"
      label="State"
      :options="[
        { value: 'open', text: 'Open' },
        { value: 'matter', text: 'Became matters' },
        { value: 'declined', text: 'Declined' },
        { value: 'all', text: 'All' },
      ]"
    />
    <section class="sheet" aria-label="Enquiries">
      <DataTable
        label="Enquiries"
        name="enquiries"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(e) => e.id"
        :loading="loading"
        :problem="problem"
        :open="(e) => router.push(`/people/enquiries/${e.id}`)"
        @again="reload()"
      >
        <template #empty
          >No enquiry here. Take one when someone first asks for help: it becomes a matter with all it gathered, or stays on record for
          conflict checks.</template
        >
        <template #cell-name="{ row: e }"
          ><RouterLink :to="`/people/enquiries/${e.id}`" class="font-semibold hover:underline">{{ e.name }}</RouterLink></template
        >
        <template #cell-next="{ row: e }">
          <span v-if="e.state === 'declined'" class="text-ink-2">declined: {{ e.reason }}</span>
          <RouterLink v-else-if="e.matterId" :to="`/matters/${e.matterId}`" class="hover:underline">{{ e.matter }}</RouterLink>
          <template v-else
            ><span v-if="e.nextOn" class="whitespace-nowrap" :class="late(e.nextOn) ? 'text-rust' : 'text-ink-2'">{{
              dayText(e.nextOn)
            }}</span>
            {{ e.nextStep }}</template
          >
        </template>
        <template #cell-hits="{ row: e }">
          <span v-if="e.hitsOpen === null" class="tag bg-bill-wash text-bill-ink">not checked</span>
          <span v-else-if="e.hitsOpen" class="tag bg-rust-wash text-rust">{{ e.hitsOpen }} to decide</span>
          <span v-else class="tag bg-lagoon-wash text-lagoon">decided</span>
        </template>
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="enquiries" /></template>
      </DataTable>
    </section>
    <EnquirySheet v-if="making" @close="making = false" />
  </div>
</template>
