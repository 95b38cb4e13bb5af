<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useAct } from '../use'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const props = defineProps<{ run: Answer<typeof api.tasks.following>[number] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const chosen = ref<(number | string)[]>(props.run.changes.map((c) => c.taskId))
async function save() {
  const done = await act(() => api.tasks.follow({ id: props.run.runId, taskIds: chosen.value.map(Number) }))
  if (!done) return
  notes.say(`${plural(done.changed, 'date follows', 'dates follow')}`)
  session.changed()
  emit('close')
}
const text = (day: Day | null) => (day ? dayText(day) : 'no date')
const columns: Column<(typeof props.run.changes)[number]>[] = [
  { key: 'text', text: 'Step', grow: 2, wrap: true, narrow: 'title' },
  { key: 'was', text: 'Now', size: 116, quiet: true, show: (c) => text(c.was) },
  { key: 'becomes', text: 'Would be', size: 116, strong: true, show: (c) => text(c.becomes) },
  { key: 'why', text: 'Counted', grow: 2, wrap: true, quiet: true },
]
</script>

<template>
  <SideSheet
    light
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
    <DataTable
      v-model:selected="chosen"
      label="Steps that would follow"
      name="follows"
      plain
      :rows="run.changes"
      :columns="columns"
      :row-id="(c) => c.taskId"
    >
      <template #cell-was="{ row: c }"
        ><span class="line-through">{{ text(c.was) }}</span></template
      >
    </DataTable>
  </SideSheet>
</template>
