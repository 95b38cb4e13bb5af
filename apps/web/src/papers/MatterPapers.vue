<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import Pager from '../ui/Pager.vue'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import AddToFile from './AddToFile.vue'
import MakePaper from './MakePaper.vue'
import PaperTable from './PaperTable.vue'

const props = defineProps<{ matterId: number }>()
const session = useSession()
const page = ref(1)
const { data, problem, loading, reload } = useLoad(
  () => api.papers.list({ matterId: props.matterId, page: page.value, size: 50 }),
  [page, () => session.tick],
)
const making = ref(false)
const route = useRoute()
const router = useRouter()
const adding = computed(() => route.query['add'] === '1')
const add = (on: boolean) => void router.replace({ query: on ? { add: '1' } : {} })
</script>

<template>
  <div class="flex items-center gap-2 px-4 py-3">
    <h2>Papers</h2>
    <span v-if="session.may('papers.change')" class="ml-auto flex gap-2"
      ><Btn @click="add(true)">Add to file</Btn><Btn main @click="making = true">Make a paper</Btn></span
    >
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
    <template #empty>No papers yet. Make one from a template, or add one to the file.</template>
    <PaperTable :rows="data?.rows ?? []" :dates="session.may('docket.change')" />
    <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="papers" />
  </State>
  <MakePaper v-if="making" :matter-id="matterId" @close="making = false" />
  <AddToFile v-if="adding" :matter-id="matterId" @close="add(false)" />
</template>
