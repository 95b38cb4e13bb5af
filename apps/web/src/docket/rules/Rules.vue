<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import PageHead from '../../ui/PageHead.vue'
import State from '../../ui/State.vue'
import { useLoad } from '../../use'
import DocketTabs from '../DocketTabs.vue'
import FileSheet from './FileSheet.vue'

/** The courts whose rules are known here, shipped or the firm's own. */
const session = useSession()
const router = useRouter()
const { data, problem, loading, reload } = useLoad(() => api.rules.list())
const may = session.may('docket.rules')
const importing = ref(false)
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Court rules" hint="By these dates are counted.">
      <Btn href="/api/rule-set-schema" target="_blank">Format of rule files</Btn>
      <Btn v-if="may" main @click="importing = true">Bring in rules</Btn>
    </PageHead>
    <DocketTabs />
    <section class="sheet overflow-x-auto" aria-label="Rule sets">
      <State :loading="loading && !data" :problem="problem" @again="reload()">
        <table v-if="data" class="list-table">
          <thead>
            <tr>
              <th>Rules</th>
              <th>Court</th>
              <th>Edition</th>
              <th class="text-right!">Events</th>
              <th class="text-right!">Deadlines</th>
              <th class="text-right!">Own dates on top</th>
              <th class="text-right!">Open matters</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in data" :key="s.key">
              <td>
                <RouterLink class="font-semibold text-lagoon hover:underline" :to="`/docket/rules/${s.key}`">{{ s.title }}</RouterLink>
                <span v-if="s.own" class="tag ml-1.5 bg-plume-wash text-plume">the firm’s own</span>
              </td>
              <td class="text-ink-2">{{ s.court }}, {{ s.kind }}</td>
              <td class="text-ink-2">{{ s.edition }}</td>
              <td class="text-right">{{ s.triggers }}</td>
              <td class="text-right">{{ s.deadlines }}</td>
              <td class="text-right">{{ s.practice || '' }}</td>
              <td class="text-right">{{ s.matters || '' }}</td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <p class="mt-3 text-ink-2">
      Rules that ship with the application cannot be changed; dates of your own can stand on top of any court’s. For a court that is not
      here, take a similar set home as a file, or open it and start your own from it.
    </p>
    <FileSheet v-if="importing" @close="importing = false" @saved="router.push(`/docket/rules/${$event}`)" />
  </div>
</template>
