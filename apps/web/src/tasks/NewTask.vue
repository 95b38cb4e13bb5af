<script setup lang="ts">
import { computed, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

const props = defineProps<{ matter: Choice | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const text = ref('')
const matter = ref<Choice | null>(props.matter)
const assigneeId = ref(session.me!.id)
const dueOn = ref<string | null>(null)
const priority = ref<'high' | 'normal' | 'low'>('normal')
const { data: setting } = useLoad(() => api.matters.setting())
const staff = computed(
  () => setting.value?.staff.map((s) => ({ value: s.id, text: s.name })) ?? [{ value: session.me!.id, text: session.me!.name }],
)

async function save() {
  const made = await act(() =>
    api.tasks.make({
      text: text.value,
      matterId: matter.value?.id ?? null,
      assigneeId: assigneeId.value,
      dueOn: dueOn.value,
      priority: priority.value,
    }),
  )
  if (!made) return
  notes.say('Task made')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="New task"
    save="Make task"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="text !== ''"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="text" label="What is to be done" :fault="fault('text')" autofocus />
    <Picker v-model="matter" label="Matter" optional :search="searchMatters" :fault="fault('matterId')" />
    <ChoiceField v-model="assigneeId" label="Who" :options="staff" :fault="fault('assigneeId')" />
    <DayField v-model="dueOn" label="Due" optional :fault="fault('dueOn')" />
    <ChoiceField
      v-model="priority"
      label="Priority"
      :options="[
        { value: 'high', text: 'First' },
        { value: 'normal', text: 'Normal' },
        { value: 'low', text: 'When there is time' },
      ]"
    />
  </SideSheet>
</template>
