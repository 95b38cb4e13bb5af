<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText, momentText } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import EnquirySheet from './EnquirySheet.vue'
import PeopleTabs from './PeopleTabs.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const state = ref(String(route.query['state'] ?? 'open') as 'open' | 'matter' | 'declined' | 'all')
const page = ref(1)
const making = ref(route.query['new'] === '1')
const { data, problem, loading, reload } = useLoad(
  () => api.people.enquiries({ state: state.value, page: page.value, size: 50 }),
  [state, page, () => session.tick],
)
watch(state, (s) => {
  page.value = 1
  void router.replace({ query: { state: s === 'open' ? undefined : s } })
})
const late = (day: string | null) => day !== null && day < session.today
</script>

<template>
  <div class="px-6 pt-[18px]">
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
    <section class="sheet overflow-x-auto" aria-label="Enquiries">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty
          >No enquiry here. Take one when someone first asks for help: it becomes a matter with all it gathered, or stays on record for
          conflict checks.</template
        >
        <table class="list-table">
          <thead>
            <tr>
              <th>Who</th>
              <th>What about</th>
              <th>Area</th>
              <th>Next step</th>
              <th>Conflicts</th>
              <th>With</th>
              <th>Taken</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="e in data?.rows" :key="e.id" class="open-on">
              <td>
                <RouterLink :to="`/people/enquiries/${e.id}`" class="font-semibold hover:underline">{{ e.name }}</RouterLink>
              </td>
              <td class="max-w-[280px] truncate">{{ e.about }}</td>
              <td class="text-ink-2">{{ e.area }}</td>
              <td>
                <template v-if="e.state === 'declined'"
                  ><span class="text-ink-2">declined: {{ e.reason }}</span></template
                >
                <template v-else-if="e.matterId"
                  ><RouterLink :to="`/matters/${e.matterId}`" class="hover:underline">{{ e.matter }}</RouterLink></template
                >
                <template v-else
                  >{{ e.nextStep }}
                  <span v-if="e.nextOn" class="whitespace-nowrap" :class="late(e.nextOn) ? 'text-rust' : 'text-ink-2'">{{
                    dayText(e.nextOn)
                  }}</span></template
                >
              </td>
              <td>
                <span v-if="e.hitsOpen === null" class="tag bg-bill-wash text-bill-ink">not checked</span>
                <span v-else-if="e.hitsOpen" class="tag bg-rust-wash text-rust">{{ e.hitsOpen }} to decide</span>
                <span v-else class="tag bg-lagoon-wash text-lagoon">decided</span>
              </td>
              <td class="whitespace-nowrap text-ink-2">{{ e.owner }}</td>
              <td class="whitespace-nowrap text-ink-2">{{ momentText(e.at) }}</td>
            </tr>
          </tbody>
        </table>
        <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="enquiries" />
      </State>
    </section>
    <EnquirySheet v-if="making" @close="making = false" />
  </div>
</template>
