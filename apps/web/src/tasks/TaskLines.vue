<script setup lang="ts">
import type { TaskRow } from '@heron/contract'
import { dayText, timeText } from '../ui/show'
import { useSession } from '../shell/session'

defineProps<{ rows: TaskRow[]; matterId?: number; who?: boolean; choosing?: boolean }>()
const chosen = defineModel<number[]>('chosen', { default: () => [] })
const emit = defineEmits<{ set: [id: number, done: boolean, text: string]; open: [id: number] }>()
const session = useSession()
const dueText = (t: TaskRow) =>
  t.dueOn === null ? '' : `${t.dueOn === session.today ? 'today' : dayText(t.dueOn)}${t.dueTime ? `, ${timeText(t.dueTime)}` : ''}`
const late = (t: TaskRow) => t.dueOn !== null && t.dueOn <= session.today && !t.done
/** The box shows what is kept: it turns when the server has said so, and stays as it was where that is refused. */
function turn(event: Event, t: TaskRow) {
  const box = event.target as HTMLInputElement
  box.checked = t.done
  emit('set', t.id, !t.done, t.text)
}
function keys(event: KeyboardEvent, t: TaskRow) {
  if (event.key.toLowerCase() !== 'x') return
  event.preventDefault()
  emit('set', t.id, !t.done, t.text)
}
</script>

<template>
  <ul>
    <li v-for="t in rows" :key="t.id" class="grid grid-cols-[22px_1fr_auto] gap-x-1 border-t border-line-2 px-3.5 py-1.5">
      <input
        v-if="choosing"
        v-model="chosen"
        type="checkbox"
        :value="t.id"
        class="mt-[3px] h-[15px] w-[15px] accent-lagoon"
        :aria-label="`Choose: ${t.text}`"
      />
      <input
        v-else
        type="checkbox"
        class="mt-[3px] h-[15px] w-[15px] accent-ink"
        :checked="t.done"
        :disabled="t.waits !== null"
        :aria-label="`Done: ${t.text}`"
        title="X marks it done"
        @change="turn($event, t)"
        @keydown="keys($event, t)"
      />
      <span class="min-w-0" :class="t.done && 'text-ink-3 line-through'">
        <button type="button" class="min-h-6 text-left hover:underline" @click="emit('open', t.id)">{{ t.text }}</button>
        <span v-if="t.priority === 'high' && !t.done" class="tag ml-1 bg-bill-wash text-bill-ink">first</span>
        <span v-if="t.reminds" class="tag ml-1 bg-bill-wash text-bill-ink">reminder</span>
        <span v-if="t.waits" class="tag ml-1 bg-mist text-ink-2">waits for {{ t.waits }}</span>
        <span class="block text-sm text-ink-2"
          ><RouterLink
            v-if="t.matterId && !matterId"
            :to="`/matters/${t.matterId}/tasks`"
            class="inline-block min-h-6 leading-6 hover:underline"
            >{{ t.matter }}</RouterLink
          ><template v-if="who || matterId"><template v-if="t.matterId && !matterId"> · </template>{{ t.assignee }}</template
          ><template v-if="t.step"> · {{ t.step }}</template
          ><template v-if="t.items"> · {{ t.itemsDone }} of {{ t.items }} ticked</template
          ><template v-if="t.comments"> · {{ t.comments }} {{ t.comments === 1 ? 'comment' : 'comments' }}</template></span
        >
      </span>
      <span class="text-sm" :class="late(t) ? 'text-rust' : 'text-ink-2'">{{ dueText(t) }}</span>
    </li>
  </ul>
</template>
