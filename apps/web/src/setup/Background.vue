<script setup lang="ts">
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { momentText, plural } from '../ui/show'
import State from '../ui/State.vue'
import { useAct, useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'

const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const { data, problem, loading, reload } = useLoad(() => api.setUp.background(), [() => session.tick])
async function settle(id: number, what: 'try again' | 'give up') {
  if (!(await act(() => api.setUp.settleJob({ id, what })))) return
  notes.say(what === 'try again' ? 'It is tried again now' : 'Given up')
  await reload()
}
const title = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
</script>

<template>
  <SetUpPage hint="Letters and other work that failed, or that waits after a try. What goes well is not shown.">
    <template #acts><Btn @click="reload()">Look again</Btn></template>
    <p v-if="state.message" role="alert" class="mb-2 text-rust">{{ state.message }}</p>
    <section class="sheet overflow-x-auto" aria-label="In the background">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
        <template #empty>Nothing has failed and nothing waits.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th>Since</th>
              <th>What</th>
              <th>For</th>
              <th>State</th>
              <th><span class="sr-only">Acts</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="j in data" :key="j.id">
              <td class="whitespace-nowrap text-ink-2">{{ momentText(j.createdAt) }}</td>
              <td>
                {{ title(j.what) }}<template v-if="j.to"> to {{ j.to }}</template>
                <span v-if="j.subject" class="block text-sm text-ink-2">{{ j.subject }}</span>
              </td>
              <td class="whitespace-nowrap">{{ j.who }}</td>
              <td>
                <span :class="{ 'text-rust': j.state === 'failed' }">{{
                  j.state === 'failed'
                    ? `failed after ${plural(j.attempts, 'try', 'tries')}`
                    : `waits; tried next ${momentText(j.runAfter ?? j.createdAt)}`
                }}</span>
                <span class="block text-sm text-ink-2">{{ j.error }}</span>
              </td>
              <td class="num whitespace-nowrap">
                <Btn
                  small
                  :busy="state.busy"
                  :aria-label="`Try again: ${j.what} of ${momentText(j.createdAt)}`"
                  @click="settle(j.id, 'try again')"
                  >Try again</Btn
                >
                <Btn
                  v-if="j.state === 'failed'"
                  small
                  class="ml-1.5"
                  :aria-label="`Give up: ${j.what} of ${momentText(j.createdAt)}`"
                  @click="settle(j.id, 'give up')"
                  >Give up</Btn
                >
              </td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <p class="mt-3 max-w-[760px] text-ink-2">
      A letter is tried again for three days, ever more rarely, and waits where no mail server is set. Whoever sets the firm up is told on
      Today when something fails or has waited for four hours.
    </p>
  </SetUpPage>
</template>
