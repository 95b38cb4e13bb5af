<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import State from '../ui/State.vue'
import { useAct, useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'

const router = useRouter()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.tasks.procedures())
const { state, act } = useAct()
const file = ref<HTMLInputElement | null>(null)
async function read() {
  const chosen = file.value?.files?.[0]
  if (!chosen) return
  const made = await act(() => api.tasks.readProcedure({ file: chosen }))
  if (file.value) file.value.value = ''
  if (!made) return
  notes.say(`${made.name} read`)
  await router.push(`/set-up/procedures/${made.id}`)
}
async function retire(id: number, retired: boolean) {
  if (await act(() => api.tasks.retireProcedure({ id, retired }))) await reload()
}
</script>

<template>
  <SetUpPage>
    <template #acts>
      <input
        ref="file"
        type="file"
        class="sr-only"
        accept=".json,application/json"
        aria-label="Procedure file"
        tabindex="-1"
        @change="read"
      />
      <Btn @click="file?.click()">Read from a file</Btn>
      <Btn main @click="router.push('/set-up/procedures/new')">New procedure</Btn>
    </template>
    <p v-if="state.message" role="alert" class="mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <section class="sheet overflow-x-auto" aria-label="Procedures">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
        <template #empty>No procedure yet. Write down once what is done each time: steps, who does them, and when.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th>Procedure</th>
              <th>Area</th>
              <th class="num">Steps</th>
              <th class="num">Version</th>
              <th>Counted from</th>
              <th><span class="sr-only">Acts</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in data" :key="p.id" class="open-on">
              <td>
                <RouterLink :to="`/set-up/procedures/${p.id}`" class="font-semibold hover:underline">{{ p.name }}</RouterLink>
                <span v-if="p.retired" class="tag ml-1 bg-mist text-ink-2">no longer offered</span>
                <span class="block text-sm text-ink-2">{{ p.description }}</span>
              </td>
              <td class="text-ink-2">{{ p.area ?? 'any' }}</td>
              <td class="num">{{ p.steps }}</td>
              <td class="num">{{ p.version }}</td>
              <td class="text-ink-2">{{ p.dates.length ? `the ${p.dates.join(', the ')}` : 'its start' }}</td>
              <td class="num whitespace-nowrap">
                <a :href="`/api/procedures/${p.id}/file`" class="mr-2 text-lagoon underline" :aria-label="`${p.name} as a file`">File</a>
                <Btn small :aria-label="`${p.retired ? 'Offer' : 'No longer offer'} ${p.name}`" @click="retire(p.id, !p.retired)">{{
                  p.retired ? 'Offer again' : 'Retire'
                }}</Btn>
              </td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
  </SetUpPage>
</template>
