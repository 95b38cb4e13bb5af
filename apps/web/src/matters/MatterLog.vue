<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import Pager from '../ui/Pager.vue'
import { momentText } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'

const props = defineProps<{ matterId: number }>()
const session = useSession()
const page = ref(1)
const { data, problem, loading, reload } = useLoad(
  () => api.matters.log({ id: props.matterId, page: page.value, size: 50 }),
  [page, () => session.tick],
)
</script>

<template>
  <h2 class="px-4 py-3">Log</h2>
  <State :loading="loading && !data" :problem="problem" @again="reload()">
    <table class="list-table">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in data?.rows" :key="l.id">
          <td class="whitespace-nowrap text-ink-2">{{ momentText(l.at) }}</td>
          <td class="whitespace-nowrap">{{ l.who }}</td>
          <td>{{ l.text }}</td>
        </tr>
      </tbody>
    </table>
    <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="entries" />
  </State>
</template>
