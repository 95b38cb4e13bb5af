<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useAct } from '../use'

const props = defineProps<{ run: Answer<typeof api.tasks.following>[number] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const chosen = ref(props.run.changes.map((c) => c.taskId))
async function save() {
  const done = await act(() => api.tasks.follow({ id: props.run.runId, taskIds: chosen.value }))
  if (!done) return
  notes.say(`${plural(done.changed, 'date follows', 'dates follow')}`)
  session.changed()
  emit('close')
}
const text = (day: string | null) => (day ? dayText(day) : 'no date')
</script>

<template>
  <SideSheet
    :title="`Dates of ${run.procedure} that would follow`"
    wide
    :save="`Let ${plural(chosen.length, 'date')} follow`"
    :busy="state.busy"
    :message="state.message"
    :disabled="!chosen.length"
    @save="save"
    @close="emit('close')"
  >
    <p class="text-ink-2">What these steps are counted from has moved. Nothing changes until you say so; leave out what should stay.</p>
    <table class="list-table">
      <thead>
        <tr>
          <th><span class="sr-only">Follows</span></th>
          <th>Step</th>
          <th>Now</th>
          <th>Would be</th>
          <th>Counted</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in run.changes" :key="c.taskId">
          <td><input v-model="chosen" type="checkbox" :value="c.taskId" class="accent-ink" :aria-label="`${c.text} follows`" /></td>
          <td>{{ c.text }}</td>
          <td class="whitespace-nowrap text-ink-2 line-through">{{ text(c.was) }}</td>
          <td class="font-semibold whitespace-nowrap">{{ text(c.becomes) }}</td>
          <td class="text-ink-2">{{ c.why }}</td>
        </tr>
      </tbody>
    </table>
  </SideSheet>
</template>
