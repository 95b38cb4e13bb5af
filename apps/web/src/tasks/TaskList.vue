<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import Pager from '../ui/Pager.vue'
import { plural } from '../ui/show'
import State from '../ui/State.vue'
import TaskLines from './TaskLines.vue'
import { useDone } from './useTasks'

// Loaded when first opened: it is not part of the first page.
const Follows = defineAsyncComponent(() => import('./Follows.vue'))
const TaskSheet = defineAsyncComponent(() => import('./TaskSheet.vue'))

const props = defineProps<{ title: string; matterId?: number; matterName?: string }>()
const session = useSession()
const { set, follows } = useDone()
const page = ref(1)
const { data, problem, loading, reload } = useShown(() =>
  asks.tasks.list.queryOptions({
    input: { ...(props.matterId ? { matterId: props.matterId, done: 'all' as const } : {}), page: page.value },
  }),
)
const { data: pending } = useShown(() => (props.matterId ? asks.tasks.following.queryOptions({ input: { id: props.matterId } }) : null))
const making = ref(false)
const opened = ref(0)
const open = computed(() => (data.value?.rows ?? []).filter((t) => !t.done))
const done = computed(() => (data.value?.rows ?? []).filter((t) => t.done))
/** Open ones come first: where all that are listed are open there may be more of them. */
const count = computed(() => {
  const total = data.value?.total ?? 0
  if (!props.matterId) return plural(total, 'open task')
  return page.value === 1 && (done.value.length || total <= open.value.length) ? plural(open.value.length, 'open task') : plural(total, 'task') // prettier-ignore
})
</script>

<template>
  <div class="flex items-center px-3.5 pt-3 pb-2">
    <h2>
      <RouterLink v-if="!matterId" to="/tasks" class="hover:underline">{{ title }}</RouterLink><template v-else>{{ title }}</template>
    </h2>
    <span class="ml-auto text-ink-2">{{ count }}</span>
    <Btn v-if="session.may('tasks.change')" small class="ml-3" @click="making = true">New task</Btn>
  </div>
  <div
    v-for="p in pending ?? []"
    :key="p.runId"
    class="mx-3.5 mb-2 flex items-center gap-3 rounded-control bg-bill-wash px-3 py-2 text-bill-ink"
    role="status"
  >
    <span class="flex-1">{{ p.procedure }}: what it is counted from has moved. {{ plural(p.changes.length, 'date') }} would follow.</span>
    <Btn small @click="follows = p">Look at them</Btn>
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
    <template #empty>Nothing to do here. Tasks come from procedures, or make one.</template>
    <TaskLines :rows="[...open, ...done]" :matter-id="matterId" @set="set" @open="opened = $event" />
    <Pager v-if="(data?.total ?? 0) > 200" v-model="page" :total="data?.total ?? 0" :size="200" what="tasks" />
  </State>
  <TaskSheet v-if="making" :matter="matterId ? { id: matterId, text: matterName ?? '' } : null" @close="making = false" />
  <TaskSheet v-if="opened" :id="opened" :key="opened" @close="opened = 0" />
  <Follows v-if="follows" :run="follows" @close="follows = null" />
</template>
