<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import { plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** Posted time taken out of what is unbilled: written off as worked and not to be billed, or reversed as never worked so. */
const props = defineProps<{ how: 'write off' | 'reverse'; ids: readonly number[] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const reason = ref('')
const day = ref<Day | null>(props.how === 'write off' ? session.today : null)
const { state, fault, send } = useForm(() =>
  props.how === 'write off'
    ? api.time.writeOff({ ids: [...props.ids], day: day.value ?? '', reason: reason.value })
    : api.time.reverse({ id: props.ids[0]!, reason: reason.value, day: day.value }),
)

async function save() {
  if (!(await send())) return
  notes.say(props.how === 'write off' ? `${plural(props.ids.length, 'entry', 'entries')} written off` : 'Time reversed')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="how === 'write off' ? `Write off ${plural(ids.length, 'entry', 'entries')}` : 'Reverse time'"
    :save="how === 'write off' ? 'Write off' : 'Reverse'"
    :busy="state.busy"
    :message="state.said"
    :changed="reason !== ''"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="how === 'write off'">It stays on record as worked, leaves what is unbilled on that day, and is never billed.</p>
    <p v-else>A mirrored entry is posted. The original stays on record, linked to it.</p>
    <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
    <DayField v-if="how === 'write off'" v-model="day" label="On" :fault="fault('day')" />
    <DayField v-else v-model="day" label="On" optional hint="Empty: the original’s date" :fault="fault('day')" />
  </SideSheet>
</template>
