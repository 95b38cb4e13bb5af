<script setup lang="ts">
import { reactive, ref } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { dayText } from '../ui/show'
import { useAct } from '../use'
import PapersTabs from './PapersTabs.vue'
import PaperViewer from './view/PaperViewer.vue'

/** Drafts that colleagues ask one to read. */
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.papers.reviews.queryOptions())
const remarks = reactive<Record<number, string>>({})
const open = ref(0)
const sent = ref(0)
type Review = Answer<typeof api.papers.reviews>[number]
async function answer(r: Review, approved: boolean) {
  sent.value = r.id
  if (!(await act(() => api.papers.answerReview({ id: r.id, approved, remarks: remarks[r.id] ?? '' })))) return
  notes.say(approved ? `${r.paper} is approved` : `${r.paper} went back to ${r.from}`)
  session.changed()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="To read" hint="Drafts that colleagues ask you to read." />
    <PapersTabs />
    <section class="sheet" aria-label="Drafts to read">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
        <template #empty>No draft waits for you.</template>
        <article v-for="r in data" :key="r.id" class="border-b border-line-2 px-4 py-3" :aria-label="r.paper">
          <div class="flex flex-wrap items-baseline gap-x-3">
            <button type="button" class="font-semibold hover:underline" @click="open = r.paperId">{{ r.paper }}</button>
            <RouterLink :to="`/matters/${r.matterId}/papers`" class="text-ink-2 hover:underline">{{ r.matter }}</RouterLink>
            <span class="text-ink-2"
              >{{ r.from }} asks<template v-if="r.dueOn">, by {{ dayText(r.dueOn) }}</template></span
            >
          </div>
          <p v-if="r.message" class="whitespace-pre-line">{{ r.message }}</p>
          <div class="mt-2 max-w-xl">
            <TextField
              :model-value="remarks[r.id] ?? ''"
              :label="`Remarks on ${r.paper}`"
              optional
              :lines="2"
              :fault="sent === r.id ? fault('remarks') : ''"
              @update:model-value="remarks[r.id] = $event"
            />
          </div>
          <div class="mt-2 flex gap-2">
            <Btn small @click="open = r.paperId">Read</Btn><Btn small main :busy="state.busy" @click="answer(r, true)">Approve</Btn
            ><Btn small :busy="state.busy" @click="answer(r, false)">Send back</Btn>
          </div>
        </article>
      </State>
      <p v-if="state.said" role="alert" class="px-4 py-2 text-rust">{{ state.said }}</p>
    </section>
    <PaperViewer v-if="open" :id="open" @close="open = 0" @details="open = 0" />
  </div>
</template>
