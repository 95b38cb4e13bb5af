<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { refDebounced } from '@vueuse/core'
import { buckets } from '@heron/core/tasks'
import { computed, ref, watch } from 'vue'
import { useFiltered } from '../address'
import { api, asks } from '../api'
import { recent, useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { plural } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import Views from '../ui/Views.vue'
import { useAct, useLoad } from '../use'
import Board from './Board.vue'
import Follows from './Follows.vue'
import TaskLines from './TaskLines.vue'
import TaskSheet from './TaskSheet.vue'
import { useDone } from './useTasks'

const session = useSession()
const notes = useNotes()
const { set, follows } = useDone()
type View = 'mine' | 'assigned' | 'person' | 'all' | 'board'
const { view, person: userId, when, q, page } = useFiltered({ view: 'mine' as View, person: session.me!.id, when: '', q: '', page: 1 })
const named = refDebounced(q, 120)
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const staff = computed(() => (setting.value?.staff ?? []).map((s) => ({ value: s.id, text: s.name })))
const filter = computed(() => ({
  view: view.value === 'board' ? ('mine' as const) : view.value,
  userId: view.value === 'person' ? userId.value : undefined,
  when: when.value,
  q: named.value,
  page: page.value,
}))
const { data, problem, loading, reload } = useShown(() => asks.tasks.list.queryOptions({ input: filter.value }))

const grouped = computed(() =>
  buckets.map((b) => ({ bucket: b, rows: (data.value?.rows ?? []).filter((t) => t.bucket === b) })).filter((g) => g.rows.length),
)
const making = ref(false)
const opened = ref(0)

const choosing = ref(false)
const chosen = ref<number[]>([])
// What is chosen is chosen where it can be seen.
watch([view, userId, when, named], () => ((page.value = 1), (chosen.value = [])))
const toId = ref(0)
const toDay = ref<Day | null>(null)
watch(choosing, () => (chosen.value = []))
const { state, act } = useAct()
async function change(what: { assigneeId?: number; dueOn?: Day | null; moveDays?: number; done?: boolean }) {
  const done = await act(() => api.tasks.many({ ids: chosen.value, ...what }))
  if (!done) return
  notes.say(`${plural(done.changed, 'task')} changed`)
  choosing.value = false
  session.changed()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Tasks">
      <Views list="tasks" />
      <Btn v-if="session.may('tasks.change') && view !== 'board'" @click="choosing = !choosing">{{
        choosing ? 'Leave choosing' : 'Choose several'
      }}</Btn>
      <Btn v-if="session.may('tasks.change')" main @click="making = true">New task</Btn>
    </PageHead>
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <Switch
        v-model="view"
        label="Whose tasks"
        :options="[
          { value: 'mine', text: 'Mine' },
          { value: 'assigned', text: 'Given out by me' },
          { value: 'person', text: 'By person' },
          { value: 'all', text: 'Everyone' },
          { value: 'board', text: 'Board' },
        ]"
      />
      <div v-if="view === 'person'" class="w-56"><ChoiceField v-model="userId" label="Person" :options="staff" /></div>
      <template v-if="view !== 'board'">
        <div class="w-48">
          <ChoiceField
            v-model="when"
            label="When"
            :options="[
              { value: '', text: 'All open' },
              ...buckets.map((b) => ({ value: b as string, text: `${b} (${data?.counts[b] ?? 0})` })),
            ]"
          />
        </div>
        <div class="w-64"><TextField v-model="q" label="Find by words or matter" /></div>
      </template>
    </div>
    <div v-if="choosing" class="sheet mb-3 flex flex-wrap items-end gap-3 px-4 py-3" role="group" aria-label="Change the chosen tasks">
      <span class="pb-2">{{ plural(chosen.length, 'task') }} chosen</span>
      <Btn @click="chosen = (data?.rows ?? []).map((t) => t.id)">Choose all</Btn>
      <div class="w-52"><ChoiceField v-model="toId" label="Give to" :options="[{ value: 0, text: 'Choose' }, ...staff]" /></div>
      <Btn :disabled="state.busy || !chosen.length || !toId" @click="change({ assigneeId: toId })">Give</Btn>
      <div class="w-44"><DayField v-model="toDay" label="Due on" /></div>
      <Btn :disabled="state.busy || !chosen.length || !toDay" @click="change({ dueOn: toDay })">Set date</Btn>
      <Btn :disabled="state.busy || !chosen.length" @click="change({ moveDays: 7 })">A week later</Btn>
      <Btn :disabled="state.busy || !chosen.length" @click="change({ done: true })">Mark done</Btn>
    </div>
    <Board v-if="view === 'board'" @open="opened = $event" />
    <section v-else class="sheet pb-1" aria-label="Tasks" :aria-busy="loading">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty>Nothing here. Tasks come from procedures, or make one.</template>
        <template v-for="g in grouped" :key="g.bucket">
          <h2 class="px-3.5 pt-3 pb-1 text-base first-letter:uppercase" :class="g.bucket === 'overdue' && 'text-rust'">
            {{ g.bucket }} <span class="font-sans text-sm text-ink-2">{{ g.rows.length }}</span>
          </h2>
          <TaskLines
            v-model:chosen="chosen"
            :rows="g.rows"
            :who="view !== 'mine'"
            :choosing="choosing"
            @set="set"
            @open="opened = $event"
          />
        </template>
        <Pager v-model="page" :total="data?.total ?? 0" :size="200" what="tasks" />
      </State>
    </section>
    <TaskSheet v-if="making" @close="making = false" />
    <TaskSheet v-if="opened" :id="opened" :key="opened" @close="opened = 0" />
    <Follows v-if="follows" :run="follows" @close="follows = null" />
  </div>
</template>
