<script setup lang="ts">
import { api } from '../api'
import { readLeads, showLeads } from '../docket/leads'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { useKeptForm } from '../ui/kept'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import SetUpPage from './SetUpPage.vue'

const notes = useNotes()
const {
  form,
  problem,
  reload,
  save: keep,
} = useKeptForm(async () => {
  const d = await api.setUp.reminderRules()
  return { usual: showLeads(d.usual), strict: showLeads(d.strict), lettersFrom: d.lettersFrom }
})
const { state, fault, send } = useForm(() => {
  const own = form.value!
  return api.setUp.changeReminderRules({ usual: readLeads(own.usual), strict: readLeads(own.strict), lettersFrom: own.lettersFrom })
})
const faultOf = (part: string) => fault(part) || fault(`${part}.0`) || fault(`${part}.1`) || fault(`${part}.2`) || fault(`${part}.3`)
async function save() {
  if (await keep(send)) notes.say('Reminders of the firm are set')
}
</script>

<template>
  <SetUpPage hint="Who chose reminders of their own keeps them; strict dates are added to.">
    <template #acts><Btn main :busy="state.busy" key-name="Ctrl Enter" @click="save">Save</Btn></template>
    <State :loading="!form" :problem="problem" @again="reload()">
      <form
        v-if="form"
        class="sheet max-w-[640px] space-y-3 px-4 py-3.5"
        aria-label="Reminders of dates"
        @submit.prevent="save"
        @keydown.ctrl.enter="save"
      >
        <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
        <TextField
          v-model="form.usual"
          label="Court days before a date, for whoever chose none"
          hint="Such as 10, 5, 1, 0; 0 is the day itself."
          :fault="faultOf('usual')"
        />
        <TextField
          v-model="form.strict"
          label="Court days before a strict date, for everyone"
          hint="Nobody can turn these off: neither for a date nor for themselves."
          :fault="faultOf('strict')"
        />
        <TimeField v-model="form.lettersFrom" label="Letters about the day go out from" :fault="fault('lettersFrom')" />
        <p class="text-ink-2">
          Everyone on the team who may see the docket is reminded, whoever answers for the date, and whoever takes part. Tasks remind their
          assignee as set on the task.
        </p>
      </form>
    </State>
  </SetUpPage>
</template>
