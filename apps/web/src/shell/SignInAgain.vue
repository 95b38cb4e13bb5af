<script setup lang="ts">
import { onMounted, ref } from 'vue'
import Btn from '../ui/Btn.vue'
import TextField from '../ui/TextField.vue'
import { useAct } from '../use'
import { useSession } from './session'

/** The session ended while something was typed: it is begun again over the page, which stays as it is. */
const session = useSession()
const email = ref(session.email)
const password = ref('')
const box = ref<HTMLDialogElement | null>(null)
onMounted(() => {
  box.value?.showModal()
  box.value?.querySelectorAll('input')[email.value ? 1 : 0]?.focus()
})
const { state, act, fault } = useAct()
async function enter() {
  const who = session.me?.id
  if (!(await act(() => session.signIn(email.value, password.value).then(() => true)))) return
  // Whoever else signs in gets a page of their own.
  if (session.me?.id !== who) window.location.assign('/today')
  session.ended = false
}
</script>

<template>
  <!-- Of the browser's own: it stands above sheets that keep the focus to themselves. -->
  <Teleport to="body">
    <dialog
      ref="box"
      role="dialog"
      aria-labelledby="session-ended"
      class="m-auto mt-[14vh] w-[420px] max-w-[calc(100vw-2rem)] rounded-sheet border border-line bg-paper px-5 py-4 text-ink shadow-2xl backdrop:bg-crest/40"
      @cancel.prevent
    >
      <form class="space-y-3" @submit.prevent="enter">
        <h2 id="session-ended" class="text-lg">Your session has ended</h2>
        <p class="text-ink-2">What you entered is still here. Sign in again, then save it.</p>
        <TextField v-model="email" label="E-mail address" type="email" :fault="fault('email')" />
        <TextField v-model="password" label="Password" type="password" :fault="fault('password')" />
        <p v-if="state.message" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
        <Btn main type="submit" :busy="state.busy">Sign in</Btn>
      </form>
    </dialog>
  </Teleport>
</template>
