<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data, loading, problem, reload } = useLoad(() => api.matters.closing({ id: props.matter.id }))
const accepted = ref<string[]>([])
const day = ref<Day | null>(session.today)
const note = ref('')
const blocked = computed(() => (data.value ?? []).some((f) => f.blocks))
const ready = computed(() => data.value !== null && !blocked.value && data.value.every((f) => accepted.value.includes(f.key)))
const { state, fault, send } = useForm(() =>
  api.matters.close({ id: props.matter.id, day: day.value ?? '', note: note.value, accepted: accepted.value }),
)

async function save() {
  if (!(await send())) return
  notes.say('Closed; its dates are off all calendars', {
    label: 'Reopen',
    act: () => api.matters.reopen({ id: props.matter.id, reason: 'closed by mistake' }).then(session.changed),
  })
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Close ${matter.number}`"
    save="Close the matter"
    :busy="state.busy"
    :message="state.said"
    :disabled="!ready"
    :changed="note !== ''"
    @save="save"
    @close="emit('close')"
  >
    <State :loading="loading" :problem="problem" :empty="!data?.length" @again="reload()">
      <template #empty>Nothing is open on this matter.</template>
      <p class="text-ink-2">{{ blocked ? 'What stands in rust must be settled first.' : 'Tick what may stay as it is.' }}</p>
      <div v-for="f in data" :key="f.key" class="flex gap-2 border-t border-line-2 py-1.5">
        <span v-if="f.blocks" class="text-rust">{{ f.text }}</span>
        <label v-else class="flex gap-2"><input v-model="accepted" type="checkbox" :value="f.key" class="accent-ink" /> {{ f.text }}</label>
      </div>
    </State>
    <DayField v-model="day" label="Closed on" :fault="fault('day')" />
    <TextField v-model="note" label="How it ended" optional :fault="fault('note')" />
  </SideSheet>
</template>
