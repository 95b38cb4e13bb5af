<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText, plural } from '../ui/show'
import State from '../ui/State.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'

type What = 'lead' | 'team' | 'date' | 'task' | 'paper' | 'review'
const session = useSession()
const notes = useNotes()
const { data: people, reload: reloadPeople } = useLoad(() => api.firm.people())
const { data: absences, reload } = useLoad(() => api.firm.absences())
const userId = ref(0)
const kind = ref<'leave' | 'departure'>('leave')
const from = ref<Day | null>(session.today)
const to = ref<Day | null>(null)
const has = ref<Answer<typeof api.firm.holdings> | null>(null)
const gives = reactive<Record<string, number>>({})
const all = ref(0)
const titles: Record<What, string> = {
  lead: 'Matters to lead',
  team: 'Teams',
  date: 'Dates',
  task: 'Tasks',
  paper: 'Papers checked out',
  review: 'Drafts to read',
}
const kinds: What[] = ['lead', 'team', 'date', 'task', 'paper', 'review']
const unread = ref('')
let turn = 0
// A leave hands over what falls within it; a departure all that is held.
watch([userId, kind, from, to], async ([id, forWhat, first, last], [before]) => {
  if (id !== before) {
    Object.keys(gives).forEach((k) => delete gives[k])
    has.value = null
    all.value = 0
  }
  const span = forWhat === 'leave' ? { ...(first ? { from: first } : {}), ...(last ? { to: last } : {}) } : {}
  const mine = ++turn
  let found: typeof has.value = null
  try {
    unread.value = ''
    if (id) found = await api.firm.holdings({ id, ...span })
  } catch (error) {
    if (mine === turn) unread.value = error instanceof Error ? error.message : 'What they have could not be read.'
  }
  if (mine !== turn) return
  has.value = found
  const there = new Set(kinds.flatMap((w) => (found?.[w] ?? []).map((h) => `${w} ${h.id}`)))
  Object.keys(gives).forEach((k) => there.has(k) || delete gives[k])
})
const active = computed(() => (people.value ?? []).filter((p) => p.active))
const others = computed(() => active.value.filter((p) => p.id !== userId.value))
const lawyers = computed(() => others.value.filter((p) => p.role === 'lawyer'))
watch(all, (id) => {
  if (!id || !has.value) return
  const lawyer = people.value?.find((p) => p.id === id)?.role === 'lawyer'
  for (const what of kinds) for (const h of has.value[what]) if (what !== 'lead' || lawyer) gives[`${what} ${h.id}`] = id
})
const chosen = computed(() =>
  Object.entries(gives)
    .filter(([, id]) => id)
    .map(([k, toId]) => ({ what: k.split(' ')[0] as What, subjectId: Number(k.split(' ')[1]), toId })),
)
const left = computed(() => (kind.value === 'departure' ? (has.value?.lead ?? []).filter((h) => !gives[`lead ${h.id}`]).length : 0))
const { state, act, fault, send } = useForm(() =>
  api.firm.handOver({
    id: userId.value,
    kind: kind.value,
    from: from.value ?? '',
    to: kind.value === 'leave' ? to.value : null,
    gives: chosen.value,
  }),
)

async function save() {
  const done = await send()
  if (!done) return
  notes.say(
    from.value && from.value > session.today
      ? `Planned: it takes effect on ${dayText(from.value)}, and what you chose is handed over then`
      : `${plural(done.handedOver, 'thing')} handed over`,
  )
  userId.value = 0
  await Promise.all([reload(), reloadPeople()])
}
async function back(id: number, name: string) {
  const done = await act(() => api.firm.endLeave({ id }))
  if (!done) return
  notes.say(
    `${name} is back: ${plural(done.returned, 'thing')} returned${done.stayed.length ? `; stayed as changed meanwhile: ${done.stayed.slice(0, 3).join(', ')}` : ''}`,
  )
  await Promise.all([reload(), reloadPeople()])
}
</script>

<template>
  <SetUpPage hint="What someone has is listed, handed over in one act, and after a leave given back.">
    <section v-if="absences?.length" class="sheet mb-3.5 px-4 py-3" aria-label="Leaves and departures">
      <h2 class="mb-1">Leaves and departures</h2>
      <div v-for="a in absences" :key="a.id" class="flex items-center gap-3 border-t border-line-2 py-1.5">
        <b>{{ a.name }}</b>
        <span class="text-ink-2"
          >{{ a.kind }}, {{ a.kind === 'leave' ? 'from' : 'on' }} {{ dayText(a.from)
          }}<template v-if="a.to"> to {{ dayText(a.to) }}</template
          >; <template v-if="a.begun">{{ plural(a.handedOver, 'thing') }} handed over</template><template v-else>planned</template
          ><template v-if="a.ended">; {{ a.begun ? 'back' : 'taken back' }}</template></span
        >
        <Btn v-if="(a.kind === 'leave' || !a.begun) && !a.ended" small class="ml-auto" :busy="state.busy" @click="back(a.id, a.name)">{{
          a.begun ? `${a.name.split(' ')[0]} is back` : 'Take the plan back'
        }}</Btn>
      </div>
    </section>
    <section class="sheet px-4 py-3.5" aria-label="Hand over">
      <div class="grid stacks grid-cols-2 items-end gap-3 md:grid-cols-5">
        <ChoiceField
          v-model="userId"
          label="Who goes"
          :options="[
            { value: 0, text: 'Choose a person' },
            ...active.filter((p) => !p.absence).map((p) => ({ value: p.id, text: p.name })),
          ]"
        />
        <ChoiceField
          v-model="kind"
          label="For"
          :options="[
            { value: 'leave', text: 'a leave' },
            { value: 'departure', text: 'good' },
          ]"
        />
        <DayField v-model="from" label="From" :fault="fault('from')" />
        <DayField v-if="kind === 'leave'" v-model="to" label="To" optional :fault="fault('to')" />
        <ChoiceField
          v-if="has"
          v-model="all"
          label="Hand everything to"
          :options="[{ value: 0, text: 'Choose' }, ...others.map((p) => ({ value: p.id, text: p.name }))]"
        />
      </div>
      <p v-if="state.message || unread" role="alert" class="mt-2 rounded-control bg-rust-wash px-3 py-2 text-rust">
        {{ state.message || unread }}
      </p>
      <template v-if="has">
        <p v-if="has.hidden" class="mt-2 text-bill-ink">
          {{ plural(has.hidden, 'more matter') }} that are not open to you: whoever keeps them must hand them over.
        </p>
        <template v-for="what in kinds" :key="what">
          <h2 v-if="has[what].length" class="mt-3 mb-1">
            {{ titles[what] }} <span class="font-sans text-sm text-ink-2">{{ has[what].length }}</span>
          </h2>
          <div
            v-for="h in has[what]"
            :key="`${what}${h.id}`"
            class="grid stacks grid-cols-[1fr_1fr_220px] items-center gap-3 border-t border-line-2 py-1"
          >
            <span>{{ h.text }}</span><span class="text-ink-2">{{ h.hint }}</span>
            <select v-model="gives[`${what} ${h.id}`]" class="control" :aria-label="`Hand ${h.text} to`">
              <option :value="undefined">{{ what === 'lead' && kind === 'departure' ? 'Needs someone' : 'Stays' }}</option>
              <option v-for="p in what === 'lead' ? lawyers : others" :key="p.id" :value="p.id">{{ p.name }}</option>
            </select>
          </div>
        </template>
        <State :empty="!kinds.some((k) => has![k].length)"><template #empty>Has nothing to hand over.</template></State>
        <div class="mt-3 flex items-center gap-3">
          <Btn main :busy="state.busy" :disabled="left > 0" @click="save"
            >{{ kind === 'leave' ? 'Begin the leave' : 'Close the account' }} and hand over {{ chosen.length }}</Btn
          >
          <span v-if="left" class="text-rust">{{ plural(left, 'matter still needs a lead', 'matters still need a lead') }}</span>
          <span v-else-if="kind === 'departure'" class="text-ink-2">Signs in no longer; time, log and history keep the name.</span>
        </div>
      </template>
      <p v-else-if="!userId" class="mt-2 text-ink-2">Choose who goes, to see the matters, dates, tasks and papers.</p>
    </section>
  </SetUpPage>
</template>
