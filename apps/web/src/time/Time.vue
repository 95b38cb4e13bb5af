<script setup lang="ts">
import { addDays } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, plural, showHours, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useAct, useLoad } from '../use'
import RecordTime from './RecordTime.vue'

type Row = Answer<typeof api.time.list>['rows'][number]
const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const span = ref<'0' | '7' | '31'>('7')
const from = computed(() => addDays(session.today, -Number(span.value)))
const { data, problem, loading, reload } = useLoad(() => api.time.list({ from: from.value, to: session.today }), [span, () => session.tick])
const { state, act } = useAct()
const recording = computed(() => route.query['record'] === '1')
const changing = ref<Row | null>(null)
const drafts = computed(() => (data.value?.rows ?? []).filter((t) => t.state === 'draft'))
const days = computed(() => (data.value?.days ?? []).map((d) => ({ ...d, rows: data.value!.rows.filter((t) => t.day === d.day) })))

async function post() {
  const done = await act(() => api.time.post({ ids: drafts.value.map((d) => d.id) }))
  if (!done) return
  notes.say(`${plural(done.posted, 'entry', 'entries')} posted`)
  session.changed()
}
async function remove(row: Row) {
  if (!(await act(() => api.time.remove({ id: row.id })))) return
  notes.say('Draft deleted', {
    label: 'Undo',
    act: () =>
      api.time
        .record({
          matterId: row.matterId,
          day: row.day,
          activity: row.activity,
          text: row.text,
          duration: `${row.workedMinutes}m`,
          charge: row.charge,
          rate: row.rateOrigin === 'typed on the entry' ? row.rate : null,
        })
        .then(session.changed),
  })
  session.changed()
}
const leave = () => void router.replace('/time')
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Time" :hint="`${showHours(data?.together.minutes ?? 0)} h, ${showMoney(data?.together.worth ?? 0)} in this span`">
      <Switch
        v-model="span"
        label="Span"
        :options="[
          { value: '0', text: 'Today' },
          { value: '7', text: 'A week' },
          { value: '31', text: 'A month' },
        ]"
      />
      <Btn :disabled="!drafts.length" :busy="state.busy" @click="post">Post {{ plural(drafts.length, 'draft') }}</Btn>
      <Btn main key-name="R" @click="router.replace('/time?record=1')">Record time</Btn>
    </PageHead>
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <section class="sheet overflow-x-auto" aria-label="Time entries">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty>Nothing recorded in this span. Press R, or start the timer with T.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th>Matter</th>
              <th>Work</th>
              <th>State</th>
              <th class="num">Hours</th>
              <th class="num">Rate</th>
              <th class="num">Amount</th>
              <th><span class="sr-only">Acts</span></th>
            </tr>
          </thead>
          <tbody v-for="d in days" :key="d.day">
            <tr>
              <th colspan="3" scope="rowgroup" class="bg-page">
                <span class="font-serif text-base text-ink">{{ dayText(d.day) }}</span>
              </th>
              <td class="num bg-page font-semibold">{{ showHours(d.minutes) }}</td>
              <td class="bg-page"></td>
              <td class="num bg-page font-semibold">{{ showMoney(d.worth) }}</td>
              <td class="bg-page"></td>
            </tr>
            <tr v-for="t in d.rows" :key="t.id">
              <td>
                <RouterLink :to="`/matters/${t.matterId}/time`" class="hover:underline">{{ t.matter }}</RouterLink>
              </td>
              <td>
                {{ t.text }} <span v-if="t.activity" class="text-ink-3">{{ t.activity }}</span>
              </td>
              <td class="whitespace-nowrap">
                <span class="tag" :class="t.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{
                  t.billed ? `billed ${t.billed}` : t.state
                }}</span>
              </td>
              <td class="num">{{ showHours(t.minutes) }}</td>
              <td class="num text-ink-2" :title="t.rateOrigin">{{ showMoney(t.rate) }}</td>
              <td class="num">{{ t.charge === 'billable' ? showMoney(t.amount) : t.charge }}</td>
              <td class="num">
                <template v-if="t.state === 'draft'"
                  ><Btn small @click="changing = t">Change</Btn>
                  <Btn small :aria-label="`Delete ${t.text}`" @click="remove(t)">Delete</Btn></template
                >
              </td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <RecordTime
      v-if="recording"
      :key="route.fullPath"
      :duration="String(route.query['duration'] ?? '')"
      :words="String(route.query['words'] ?? '')"
      @close="leave"
    />
    <RecordTime v-if="changing" :entry="changing" @close="changing = null" />
  </div>
</template>
