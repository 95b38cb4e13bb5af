<script setup lang="ts">
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Answer } from '../../api'
import Btn from '../../ui/Btn.vue'
import Field from '../../ui/Field.vue'
import TextField from '../../ui/TextField.vue'
import { useAct } from '../../use'
import { sizeText } from '../show'

/** What someone outside sees by a link: its papers, and nothing else of the firm. */
const token = String(useRoute().params['token'])
const { state, act, fault } = useAct()
const shown = ref<Answer<typeof api.outside.open> | null>(null)
const problem = ref('')
const pass = ref('')
const code = ref('')
const asked = ref(false)
const sent = ref<string[]>([])
async function load() {
  try {
    shown.value = await api.outside.open({ token, pass: pass.value })
  } catch (error) {
    problem.value = error instanceof Error ? error.message : 'This link cannot be opened.'
  }
}
void load()
async function ask() {
  if (await act(() => api.outside.sendCode({ token }))) asked.value = true
}
async function give() {
  const given = await act(() => api.outside.code({ token, code: code.value.trim() }))
  if (!given) return
  pass.value = given.pass
  await load()
}
async function send(event: Event) {
  const input = event.target as HTMLInputElement
  for (const file of input.files ?? []) if (await act(() => api.outside.send({ token, pass: pass.value, file }))) sent.value.push(file.name)
  input.value = ''
}
const address = (id: number) => `/api/outside/${token}/papers/${id}${pass.value ? `?pass=${encodeURIComponent(pass.value)}` : ''}`
const day = (d: string) => new Date(`${d}T12:00:00Z`).toLocaleDateString('en-US', { dateStyle: 'long', timeZone: 'UTC' })
</script>

<template>
  <main class="mx-auto max-w-[640px] px-4 py-8">
    <p v-if="problem" role="alert" class="sheet px-4 py-4">{{ problem }}</p>
    <p v-else-if="!shown" role="status">One moment …</p>
    <template v-else>
      <p class="text-ink-2">{{ shown.firm }}</p>
      <h1 class="mb-3">Papers for {{ shown.needsCode ? 'you' : shown.forWhom }}</h1>
      <section v-if="shown.needsCode" class="sheet space-y-3 px-4 py-4" aria-label="Code">
        <p>A code is sent to {{ shown.codeTo }}. It is good for ten minutes.</p>
        <Btn :main="!asked" :busy="state.busy" @click="ask()">{{ asked ? 'Send another code' : 'Send the code' }}</Btn>
        <form v-if="asked" class="space-y-3" @submit.prevent="give()">
          <TextField v-model="code" label="Code of six figures" :fault="fault('code')" autofocus /><Btn
            main
            type="submit"
            :busy="state.busy"
            >Open</Btn
          >
        </form>
      </section>
      <template v-else>
        <p v-if="shown.message" class="mb-3 whitespace-pre-line">{{ shown.message }}</p>
        <section class="sheet" aria-label="Papers">
          <ul v-if="shown.papers.length">
            <li v-for="p in shown.papers" :key="p.id" class="flex flex-wrap items-center gap-x-3 border-b border-line-2 px-4 py-2.5">
              <a
                :href="address(p.id)"
                target="_blank"
                rel="noopener"
                class="min-w-0 flex-1 font-semibold break-words text-lagoon underline"
                >{{ p.name }}</a><span class="text-ink-2">{{ day(p.day) }}, {{ sizeText(p.size) }}</span>
            </li>
          </ul>
          <p v-else class="px-4 py-4">Nothing lies here yet.</p>
          <p v-if="shown.total > shown.papers.length" class="px-4 py-3 text-ink-2">
            The first {{ shown.papers.length.toLocaleString('en-US') }} of {{ shown.total.toLocaleString('en-US') }}, by name. Ask
            {{ shown.firm }} for the others.
          </p>
        </section>
        <section v-if="shown.mayUpload" class="sheet mt-3 px-4 py-4" aria-label="Send files">
          <Field v-slot="{ id }" label="Send files, up to 20 MB each" :fault="fault('file')"
            ><input :id="id" type="file" multiple class="control" @change="send"
          /></Field>
          <p v-for="(s, i) in sent" :key="i" role="status" class="mt-1">{{ s }} was sent.</p>
        </section>
        <p class="mt-3 text-ink-2">This link ends on {{ day(shown.endsOn) }}.</p>
      </template>
      <p v-if="state.said" role="alert" class="mt-3 text-rust">{{ state.said }}</p>
    </template>
  </main>
</template>
