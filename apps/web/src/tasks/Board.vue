<script setup lang="ts">
import { ref, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { api, ApiProblem, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { dayText, plural } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'

const emit = defineEmits<{ open: [id: number] }>()
const session = useSession()
const notes = useNotes()
type Column = Answer<typeof api.tasks.board>[number]
const { data, problem, loading, reload } = useLoad(() => api.tasks.board(), [() => session.tick])
const columns = ref<Column[]>([])
watch(data, (d) => (columns.value = (d ?? []).map((c) => ({ ...c, rows: [...c.rows] }))))
const said = ref('')

async function give(id: number, to: Column, from: number, text: string) {
  try {
    await api.tasks.many({ ids: [id], assigneeId: to.userId })
    said.value = `${text} is with ${to.name} now`
    notes.say(said.value, { label: 'Undo', act: () => api.tasks.many({ ids: [id], assigneeId: from }).then(session.changed) })
  } catch (error) {
    notes.say(error instanceof ApiProblem ? error.message : 'This could not be done. Nothing was changed.')
  }
  await reload()
}
function dropped(column: Column) {
  const moved = column.rows.find((t) => t.assigneeId !== column.userId)
  if (moved) void give(moved.id, column, moved.assigneeId, moved.text)
}
/** Arrow keys give a task to the person on the left or right. */
function keys(event: KeyboardEvent, column: Column, task: Column['rows'][number]) {
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  const to = columns.value[columns.value.indexOf(column) + step]
  if (!step || !to) return
  event.preventDefault()
  void give(task.id, to, column.userId, task.text).then(() =>
    window.setTimeout(() => document.querySelector<HTMLElement>(`[data-task="${task.id}"]`)?.focus(), 50),
  )
}
</script>

<template>
  <State :loading="loading && !data" :problem="problem" @again="reload()">
    <p class="mb-2 text-ink-2">Drag a task to another person, or focus it and press an arrow key.</p>
    <div class="sr-only" role="status">{{ said }}</div>
    <div class="flex gap-3 overflow-x-auto pb-4" tabindex="0" role="region" aria-label="Tasks by person">
      <section v-for="c in columns" :key="c.userId" class="sheet w-[206px] flex-none" :aria-label="c.name">
        <h2 class="border-b border-line-2 px-3 py-2 text-base">
          {{ c.name }}
          <span class="block font-sans text-sm text-ink-2"
            >{{ plural(c.open, 'task') }}<span v-if="c.overdue" class="text-rust">, {{ c.overdue }} overdue</span></span
          >
        </h2>
        <VueDraggable
          v-model="c.rows"
          group="tasks"
          :animation="120"
          class="min-h-24 p-2"
          :disabled="!session.may('tasks.change')"
          @add="dropped(c)"
        >
          <button
            v-for="t in c.rows"
            :key="t.id"
            type="button"
            :data-task="t.id"
            class="mb-1.5 block w-full cursor-grab rounded-control border border-line bg-paper px-2.5 py-1.5 text-left hover:bg-page"
            @click="emit('open', t.id)"
            @keydown="keys($event, c, t)"
          >
            {{ t.text }}
            <span class="block text-sm text-ink-2"
              >{{ t.matter
              }}<template v-if="t.dueOn"
                ><template v-if="t.matter"> · </template
                ><span :class="t.dueOn < session.today && 'text-rust'">{{
                  t.dueOn === session.today ? 'today' : dayText(t.dueOn)
                }}</span></template
              ></span
            >
          </button>
        </VueDraggable>
        <p v-if="c.open > c.rows.length" class="px-3 pb-2 text-sm text-ink-2">{{ c.open - c.rows.length }} more</p>
      </section>
    </div>
  </State>
</template>
