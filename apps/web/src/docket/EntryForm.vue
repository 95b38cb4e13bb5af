<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { computed, reactive, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

/** A date of its own, or what a date says: title, hour, place, who is responsible. A counted day moves elsewhere. */
const props = defineProps<{ matterId: number; row?: DocketRow; ruleSetKey?: string | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data: setting } = useLoad(() => api.matters.setting())
const was = props.row
const weight = ref<'appointment' | 'court order' | 'firm practice'>('appointment')
const day = ref<string | null>(session.today)
const sum = ref('')
const form = reactive({
  title: was?.title ?? '',
  text: was?.text ?? '',
  time: was?.time ?? '',
  minutes: was?.lengthMinutes ? String(was.lengthMinutes) : '',
  place: was?.place ?? '',
  meetingLink: was?.meetingLink ?? '',
  responsibleId: was?.responsibleId ?? 0,
  urgent: was?.urgent ?? false,
  offCalendar: was?.offCalendar ?? false,
  tags: (was?.tags ?? []).join(', '),
})
const before = JSON.stringify(form)
const changed = computed(() => JSON.stringify(form) !== before)
const people = computed(() => [
  { value: 0, text: was ? 'Nobody named' : 'The lead lawyer' },
  ...(setting.value?.staff ?? []).map((s) => ({ value: s.id, text: s.name })),
])
const words = () => ({
  title: form.title,
  text: form.text,
  time: form.time.trim() || null,
  lengthMinutes: form.minutes.trim() ? Number(form.minutes) : null,
  place: form.place,
  meetingLink: form.meetingLink.trim(),
  responsibleId: form.responsibleId || null,
  urgent: form.urgent,
  offCalendar: form.offCalendar,
  tags: form.tags
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean),
})

async function save() {
  const done = await act(async (): Promise<unknown> =>
    was
      ? api.docket.change({ id: was.id, ...words() })
      : api.docket.addEntry({
          id: props.matterId,
          ...words(),
          weight: weight.value,
          day: day.value ?? '',
          sum: sum.value,
          authority: weight.value === 'court order' ? 'Court order' : '',
        }),
  )
  if (!done) return
  notes.say(was ? `${form.title} changed` : `${form.title} docketed`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="was ? 'Change the entry' : 'New date'"
    :save="was ? 'Save' : 'Docket it'"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="form.title" label="Title" :fault="fault('title')" autofocus />
    <template v-if="!was">
      <ChoiceField
        v-model="weight"
        label="Weight"
        :options="[
          { value: 'appointment', text: 'Appointment' },
          { value: 'court order', text: 'Court order: a date the court fixed' },
          { value: 'firm practice', text: 'Firm practice: a date of our own' },
        ]"
      />
      <DayField
        v-model="day"
        label="On"
        :rule-set-key="ruleSetKey"
        :fault="fault('day')"
        hint="A date, or a sum such as +90 or 30 Mar 2027 − 10 court days"
        @sum="sum = $event"
      />
    </template>
    <div class="grid grid-cols-2 items-end gap-3">
      <TextField v-model="form.time" label="At" optional placeholder="14:00" :fault="fault('time')" />
      <TextField v-model="form.minutes" label="Minutes" optional placeholder="60" :fault="fault('lengthMinutes')" />
    </div>
    <TextField v-model="form.place" label="Place" optional :fault="fault('place')" />
    <TextField v-model="form.meetingLink" label="Address of a video meeting" optional :fault="fault('meetingLink')" />
    <ChoiceField v-model="form.responsibleId" label="Responsible" :options="people" :fault="fault('responsibleId')" />
    <TextField v-model="form.tags" label="Tags, with commas between" optional :fault="fault('tags')" />
    <TextField v-model="form.text" label="What must be done" optional :lines="3" :fault="fault('text')" />
    <label class="flex items-center gap-2"><input v-model="form.urgent" type="checkbox" /> Urgent</label>
    <label class="flex items-center gap-2"
      ><input v-model="form.offCalendar" type="checkbox" /> Off calendar: stays on the docket, is on no calendar</label
    >
  </SideSheet>
</template>
