<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct } from '../use'

const props = defineProps<{ matterId: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const title = ref('')
const weight = ref<'appointment' | 'court order' | 'firm practice'>('appointment')
const day = ref<string | null>(session.today)
const time = ref('')
const place = ref('')
const text = ref('')

async function save() {
  const made = await act(() =>
    api.docket.addEntry({
      id: props.matterId,
      title: title.value,
      weight: weight.value,
      day: day.value ?? '',
      time: time.value || null,
      place: place.value,
      text: text.value,
      authority: weight.value === 'court order' ? 'Court order' : '',
    }),
  )
  if (!made) return
  notes.say(`${title.value} docketed`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="New date"
    save="Docket it"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="title !== ''"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="title" label="Title" :fault="fault('title')" autofocus />
    <ChoiceField
      v-model="weight"
      label="Weight"
      :options="[
        { value: 'appointment', text: 'Appointment' },
        { value: 'court order', text: 'Court order: a date the court fixed' },
        { value: 'firm practice', text: 'Firm practice: a date of our own' },
      ]"
    />
    <DayField v-model="day" label="On" :fault="fault('day')" />
    <TextField v-model="time" label="At" optional placeholder="14:00" :fault="fault('time')" />
    <TextField v-model="place" label="Place" optional />
    <TextField v-model="text" label="What must be done" optional :lines="3" />
  </SideSheet>
</template>
