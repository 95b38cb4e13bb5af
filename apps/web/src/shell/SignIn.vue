<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import Btn from '../ui/Btn.vue'
import TextField from '../ui/TextField.vue'
import { useAct } from '../use'
import { useSession } from './session'

const session = useSession()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')
const { state, act, fault } = useAct()

async function enter(as?: string) {
  const done = await act(async () => {
    await session.signIn(as ?? email.value, as ? (session.demo?.password ?? '') : password.value)
    return true
  })
  if (!done) return
  const next = String(route.query['next'] ?? '/today')
  await router.push(next.startsWith('/') && !next.startsWith('//') ? next : '/today')
}
</script>

<template>
  <main class="mx-auto flex min-h-screen max-w-[880px] flex-col justify-center gap-6 px-6 py-8">
    <div class="flex items-center gap-3">
      <img src="/heron.svg" alt="" width="30" height="33" />
      <h1>{{ session.firm }}</h1>
    </div>
    <div class="grid stacks gap-6 md:grid-cols-2">
      <form class="sheet space-y-3 p-5" @submit.prevent="enter()">
        <h2>Sign in</h2>
        <TextField v-model="email" label="E-mail address" type="email" :fault="fault('email')" />
        <TextField v-model="password" label="Password" type="password" :fault="fault('password')" />
        <p v-if="state.message" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
        <Btn main type="submit" :busy="state.busy">Sign in</Btn>
      </form>
      <section v-if="session.demo" class="sheet p-5" aria-label="People of the demo firm">
        <h2>The demo firm</h2>
        <p class="mb-2 text-ink-2">Made-up people and money. Choose who you are.</p>
        <button
          v-for="p in session.demo.people"
          :key="p.email"
          type="button"
          class="flex w-full items-baseline gap-2 border-t border-line-2 py-[7px] text-left hover:bg-page"
          :disabled="state.busy"
          @click="enter(p.email)"
        >
          <b>{{ p.name }}</b><span class="text-ink-2">{{ p.title }}</span>
        </button>
      </section>
    </div>
  </main>
</template>
