<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { useKeptForm } from '../ui/kept'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { typedNumber } from '../use'
import SetUpPage from './SetUpPage.vue'

/** From whom letters come, and which server takes them. */
const notes = useNotes()
const {
  form,
  problem,
  reload,
  save: keep,
} = useKeptForm(async () => {
  const { hasPassword, own, port, ...rest } = await api.setUp.mail()
  kept.value = { hasPassword, own }
  return { ...rest, port: String(port), password: '' }
})
const kept = ref({ hasPassword: false, own: false })
const { state, act, fault, send } = useForm(() => {
  const { password, port, ...own } = form.value!
  return api.setUp.changeMail({ ...own, port: typedNumber(port) ?? 0, ...(password ? { password } : {}) })
})
async function save() {
  if (await keep(send)) notes.say('How letters go out is kept')
}
async function tryIt() {
  const sent = await act(() => api.setUp.tryMail())
  if (sent) notes.say(`A letter is on its way to ${sent.to}. If it does not come, look under In the background.`)
}
</script>

<template>
  <SetUpPage hint="From whom letters come, and which server takes them.">
    <template #acts
      ><Btn :busy="state.busy" @click="tryIt">Send me a letter</Btn
      ><Btn main :busy="state.busy" key-name="Ctrl Enter" @click="save">Save</Btn></template
    >
    <State :loading="!form" :problem="problem" @again="reload()">
      <form
        v-if="form"
        class="sheet max-w-[640px] space-y-3 px-4 py-3.5"
        aria-label="Letters"
        @submit.prevent="save"
        @keydown.ctrl.enter="save"
      >
        <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
        <div class="grid stacks grid-cols-2 gap-3">
          <TextField v-model="form.name" label="From" optional :fault="fault('name')" hint="The firm’s name where nothing is said." />
          <TextField v-model="form.address" label="Address" :fault="fault('address')" />
        </div>
        <TextField
          v-model="form.filing"
          label="Address for filing"
          optional
          :fault="fault('filing')"
          hint="What staff send or forward there waits under Papers, E-mail to file. The mail server hands it over."
        />
        <TextField
          v-model="form.host"
          label="Mail server"
          optional
          :fault="fault('host')"
          :hint="kept.own ? 'Empty: the one on this machine.' : 'Without one, letters wait; they are listed under In the background.'"
        />
        <div class="grid stacks grid-cols-2 gap-3">
          <TextField v-model="form.port" label="Port" :fault="fault('port')" />
          <ChoiceField
            v-model="form.security"
            label="Kept secret on the way"
            :options="[
              { value: 'starttls', text: 'By STARTTLS, usually port 587' },
              { value: 'tls', text: 'By TLS from the start, usually port 465' },
              { value: 'none', text: 'Not at all, on this machine only' },
            ]"
          />
          <TextField v-model="form.user" label="User" optional :fault="fault('user')" />
          <TextField
            v-model="form.password"
            label="Password"
            type="password"
            optional
            :fault="fault('password')"
            :hint="kept.hasPassword ? 'One is kept; give another to change it.' : ''"
          />
        </div>
        <p class="text-ink-2">Letters bear the letterhead. What cannot be sent is tried again for three days.</p>
      </form>
    </State>
  </SetUpPage>
</template>
