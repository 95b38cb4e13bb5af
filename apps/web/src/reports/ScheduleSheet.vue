<script setup lang="ts">
import type { ReportWhat, ScheduleIn } from '@heron/contract'
import { weekdayNames } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import ManyField from '../ui/ManyField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import { whatNames } from './reports'

/** Lets a report go out by itself, as it is looked at, each reader with the figures that are open to them. */
type Kept = Answer<typeof api.oversight.schedules>[number]
const props = defineProps<{ what: ReportWhat; asked: Partial<ScheduleIn['asked']>; kept?: Kept }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: people } = useLoad(() => api.oversight.readers())
const name = ref(props.kept?.name ?? whatNames(props.what))
const every = ref<'week' | 'month'>(props.kept?.every ?? 'week')
const onDay = ref(String(props.kept?.onDay ?? 1))
const format = ref<ScheduleIn['format']>(props.kept?.format ?? 'xlsx')
const to = ref<number[]>(props.kept?.to ?? [session.me!.id])
const before = to.value.join()
watch(every, () => (onDay.value = '1'))
const dayChoices = computed(() =>
  every.value === 'week'
    ? weekdayNames.map((text, i) => ({ value: String(i + 1), text }))
    : Array.from({ length: 31 }, (_, i) => ({ value: String(i + 1), text: i === 30 ? '31 or the last day' : String(i + 1) })),
)
const { state, fault, send } = useForm(() => {
  const input = {
    name: name.value,
    what: props.what,
    asked: {
      weeks: 5,
      as: 'work' as const,
      group: 'person' as const,
      by: 'court' as const,
      days: 60,
      ...props.kept?.asked,
      ...props.asked,
    },
    every: every.value,
    onDay: Number(onDay.value),
    format: format.value,
    to: to.value,
  }
  const own = props.kept
  return own ? api.oversight.changeSchedule({ id: own.id, ...input }) : api.oversight.makeSchedule(input)
})

async function save() {
  const own = props.kept
  if (!(await send())) return
  notes.say(own ? 'Changed' : `“${name.value}” goes out every ${every.value}`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="kept ? 'Report that goes out' : 'Let it go out by itself'"
    :save="kept ? 'Save' : 'Let it go out'"
    :busy="state.busy"
    :message="state.said"
    :changed="to.join() !== before"
    @save="save"
    @close="emit('close')"
  >
    <TextField v-model="name" label="Name" :fault="fault('name')" autofocus />
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField
        v-model="every"
        label="Every"
        :options="[
          { value: 'week', text: 'Week' },
          { value: 'month', text: 'Month' },
        ]"
      />
      <ChoiceField v-model="onDay" label="On" :options="dayChoices" :fault="fault('onDay')" />
    </div>
    <ChoiceField
      v-model="format"
      label="With"
      :options="[
        { value: 'xlsx', text: 'A workbook (XLSX)' },
        { value: 'pdf', text: 'A PDF' },
        { value: 'csv', text: 'A CSV file' },
      ]"
    />
    <ManyField v-model="to" label="To" :options="(people ?? []).map((p) => ({ id: p.id, text: p.name }))" :fault="fault('to')" />
    <p class="text-ink-2">
      It goes out in the morning, at the firm’s hour of letters. Each reader gets the figures of the matters that are open to them.
    </p>
  </SideSheet>
</template>
