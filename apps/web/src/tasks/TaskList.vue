<script setup lang="ts">
import { computed, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { dayText, plural } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import NewTask from './NewTask.vue'

const props = defineProps<{ title: string; matterId?: number; matterName?: string }>()
const session = useSession()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(
  () => api.tasks.list(props.matterId ? { matterId: props.matterId, done: 'all' } : {}),
  [() => session.tick],
)
const making = ref(false)
const open = computed(() => (data.value ?? []).filter((t) => !t.done))
const done = computed(() => (data.value ?? []).filter((t) => t.done))
const late = (due: string | null) => due !== null && due <= session.today
const dueText = (due: string | null) => (due === null ? '' : due === session.today ? 'today' : dayText(due))

async function set(id: number, value: boolean, text: string) {
  await api.tasks.setDone({ id, done: value })
  notes.say(value ? `Done: ${text}` : `Open again: ${text}`, {
    label: 'Undo',
    act: () => api.tasks.setDone({ id, done: !value }).then(session.changed),
  })
  session.changed()
}
function keys(event: KeyboardEvent, id: number, value: boolean, text: string) {
  if (event.key.toLowerCase() !== 'x') return
  event.preventDefault()
  void set(id, !value, text)
}
</script>

<template>
  <div class="flex items-center px-3.5 pt-3 pb-2">
    <h2>{{ title }}</h2>
    <span class="ml-auto text-ink-2">{{ plural(open.length, 'open task') }}</span>
    <Btn v-if="session.may('tasks.change')" small class="ml-3" @click="making = true">New task</Btn>
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
    <template #empty>Nothing to do here. Tasks come from procedures, or make one.</template>
    <ul>
      <li v-for="t in [...open, ...done]" :key="t.id" class="grid grid-cols-[22px_1fr_auto] gap-x-1 border-t border-line-2 px-3.5 py-1.5">
        <input
          type="checkbox"
          class="mt-[3px] h-[15px] w-[15px] accent-ink"
          :checked="t.done"
          :aria-label="`Done: ${t.text}`"
          title="X marks it done"
          @change="set(t.id, !t.done, t.text)"
          @keydown="keys($event, t.id, t.done, t.text)"
        />
        <span class="min-w-0" :class="t.done && 'text-ink-3 line-through'">
          {{ t.text }} <span v-if="t.priority === 'high' && !t.done" class="tag bg-bill-wash text-bill-ink">first</span>
          <span class="block text-sm text-ink-2"
            ><RouterLink v-if="t.matterId && !matterId" :to="`/matters/${t.matterId}/tasks`" class="hover:underline">{{
              t.matter
            }}</RouterLink
            ><template v-if="matterId">{{ t.assignee }}</template
            ><template v-if="t.step"> · {{ t.step }}</template></span
          >
        </span>
        <span class="text-sm" :class="late(t.dueOn) && !t.done ? 'text-rust' : 'text-ink-2'">{{ dueText(t.dueOn) }}</span>
      </li>
    </ul>
  </State>
  <NewTask v-if="making" :matter="matterId ? { id: matterId, text: matterName ?? '' } : null" @close="making = false" />
</template>
