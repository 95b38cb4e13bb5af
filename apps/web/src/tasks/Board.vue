<script setup lang="ts">
import { computed, ref } from 'vue'
import { type Answer, api, ApiProblem, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import CardBoard, { type BoardColumn } from '../ui/CardBoard.vue'
import { dayText, plural } from '../ui/show'
import State from '../ui/State.vue'

const emit = defineEmits<{ open: [id: number] }>()
const session = useSession()
const notes = useNotes()
type Task = Answer<typeof api.tasks.board>[number]['rows'][number]
const { data, problem, loading, reload } = useShown(() => asks.tasks.board.queryOptions())
const columns = computed<(BoardColumn<Task> & { overdue: number })[]>(() =>
  (data.value ?? []).map((c) => ({
    key: String(c.userId),
    name: c.name,
    count: c.open,
    note: plural(c.open, 'task'),
    overdue: c.overdue,
    cards: c.rows,
  })),
)
const overdueOf = (key: string) => columns.value.find((c) => c.key === key)?.overdue
const said = ref('')

async function give(task: Task, from: string, to: string, back: () => void) {
  try {
    await api.tasks.many({ ids: [task.id], assigneeId: Number(to) })
    said.value = `${task.text} is with ${columns.value.find((c) => c.key === to)?.name} now`
    notes.say(said.value, {
      label: 'Undo',
      act: () => api.tasks.many({ ids: [task.id], assigneeId: Number(from) }).then(session.changed),
    })
  } catch (error) {
    back()
    notes.say(error instanceof ApiProblem ? error.message : 'This could not be done. Nothing was changed.')
  }
  await reload()
}
</script>

<template>
  <State :loading="loading && !data" :problem="problem" @again="reload()">
    <p class="mb-2 text-ink-2">Drag a task to another person, or focus it and press Shift and an arrow key.</p>
    <div class="sr-only" role="status">{{ said }}</div>
    <CardBoard label="Tasks by person" :columns="columns" :moves="session.may('tasks.change')" @open="emit('open', $event.id)" @move="give">
      <template #late="{ column }">
        <span v-if="overdueOf(column.key)" class="text-rust">, {{ overdueOf(column.key) }} overdue</span>
      </template>
      <template #card="{ card }">
        {{ card.text }}
        <span class="block text-sm text-ink-2"
          >{{ card.matter
          }}<template v-if="card.dueOn"
            ><template v-if="card.matter"> · </template
            ><span :class="card.dueOn < session.today && 'text-rust'">{{
              card.dueOn === session.today ? 'today' : dayText(card.dueOn)
            }}</span></template
          ></span
        >
      </template>
      <template #more="{ column }">{{ column.count - column.cards.length }} more</template>
    </CardBoard>
  </State>
</template>
