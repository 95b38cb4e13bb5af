<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { reactive, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText, plural, timeText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** A free hour becomes an appointment of a matter, with invitations to those outside. */
const props = defineProps<{
  hour: { day: Day; time: string }
  minutes: number
  zone: string
  userIds: number[]
  names: string[]
}>()
const emit = defineEmits<{ close: []; taken: [] }>()
const session = useSession()
const notes = useNotes()
const matter = ref<Choice | null>(null)
const form = reactive({ title: '', place: '', meetingLink: '', outside: [] as { email: string; name: string; zone: string }[] })
const zones = Intl.supportedValuesOf('timeZone')
const { state, fault, send } = useForm(() => {
  return api.calendar.pick({
    id: matter.value?.id ?? 0,
    title: form.title,
    day: props.hour.day,
    time: props.hour.time,
    lengthMinutes: props.minutes,
    place: form.place,
    meetingLink: form.meetingLink.trim(),
    attendeeIds: props.userIds,
    invite: form.outside,
  })
})

async function save() {
  const made = await send()
  if (!made) return
  notes.say(`${form.title} docketed${form.outside.length ? `, ${plural(form.outside.length, 'invitation')} sent` : ''}`)
  session.changed()
  emit('taken')
}
</script>

<template>
  <SideSheet
    :title="`${dayText(hour.day)}, ${timeText(hour.time)}`"
    save="Docket the appointment"
    :busy="state.busy"
    :message="state.said"
    :changed="form.title !== ''"
    @save="save"
    @close="emit('close')"
  >
    <p class="text-ink-2">{{ minutes }} minutes, with {{ names.join(', ') }}</p>
    <Picker v-model="matter" label="Matter" :search="searchMatters" listed autofocus :fault="fault('id')" />
    <TextField v-model="form.title" label="Title" :fault="fault('title')" />
    <TextField v-model="form.place" label="Place" optional :fault="fault('place')" />
    <TextField v-model="form.meetingLink" label="Address of a video meeting" optional :fault="fault('meetingLink')" />
    <section aria-label="People outside" class="space-y-2">
      <div v-for="(o, i) in form.outside" :key="i" class="space-y-2 border-t border-line-2 pt-2">
        <div class="grid stacks grid-cols-2 gap-3">
          <TextField v-model="o.email" label="E-mail address" :fault="fault(`invite.${i}.email`)" autofocus />
          <TextField v-model="o.name" label="Name" optional />
        </div>
        <TextField v-model="o.zone" label="Their time zone" :list="zones" :fault="fault(`invite.${i}.zone`)" />
        <Btn small @click="form.outside.splice(i, 1)">Do not invite them</Btn>
      </div>
      <Btn small @click="form.outside.push({ email: '', name: '', zone })">Invite someone outside</Btn>
    </section>
  </SideSheet>
</template>
