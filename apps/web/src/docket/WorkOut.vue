<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { DifferenceOut } from '@heron/contract'
import { computed, reactive, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import PaperChoice from '../notes/PaperChoice.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import WeightMark from '../ui/WeightMark.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { typedNumber, useLoad } from '../use'
import Differences from './Differences.vue'
import { useChange } from './useChange'

const props = defineProps<{ matterId: number; ruleSetKey: string; paperId?: number | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const change = useChange(() => props.matterId)
const { data: set, problem: noRules } = useLoad(() => api.docket.ruleSet({ key: props.ruleSetKey }))
const trigger = ref<Choice | null>(null)
const date = ref<Day | null>(session.today)
const service = ref<string | null>(null)
const label = ref('')
const tentative = ref(false)
const facts = ref<string[]>([])
type Proposal = Answer<typeof api.docket.workOut>['proposals'][number]
const proposals = ref<Proposal[] | null>(null)
const already = ref<string[]>([])
/** What takes place on the day itself, such as the trial: its hour, length and place. */
const event = ref<Proposal | null>(null)
const place = reactive({ time: '', minutes: '', place: '' })
const take = ref<string[]>([])
const open = ref<string | null>(null)
const differences = ref<DifferenceOut[]>([])
const moves = ref<number[]>([])
const answersId = ref(0)
const partyId = ref(0)
const paperId = ref<number | null>(props.paperId ?? null)
/** Earlier sets that a response may answer, the open ones first. */
const { data: happened, problem: noFacts } = useLoad(() => api.docket.triggers({ id: props.matterId }))
/** The rules, and the facts of the matter by which they count: without both no date is worked out. */
const ready = computed(() => set.value !== null && happened.value !== null)
const answerable = computed(() => (happened.value?.triggers ?? []).filter((t) => t.kind === kind.value?.answers))

const kind = computed(() => set.value?.triggers.find((t) => t.key === keyOf(trigger.value)))
const keyOf = (c: Choice | null) => (c ? set.value?.triggers[c.id - 1]?.key : undefined)
const searchTriggers = (q: string): Promise<Choice[]> =>
  Promise.resolve(
    (set.value?.triggers ?? [])
      .map((t, i) => ({ id: i + 1, text: t.title, hint: t.deadlines ? plural(t.deadlines, 'deadline') : 'completes other dates' }))
      .filter((t) =>
        q
          .toLowerCase()
          .split(/\s+/)
          .every((w) => t.text.toLowerCase().includes(w)),
      ),
  )
watch([trigger, date, service, facts, tentative, answersId], () => (proposals.value = null), { deep: true })
watch(kind, (k) => (service.value = k?.asksService ? (service.value ?? null) : null))
watch(answerable, (list) => (answersId.value = list.length === 1 ? list[0]!.id : 0))
watch(happened, (h) => (facts.value = (h?.facts ?? []).filter((f) => f.holds).map((f) => f.key)))

const input = () => ({
  id: props.matterId,
  trigger: keyOf(trigger.value) ?? '',
  date: date.value ?? '',
  service: service.value,
  tentative: tentative.value,
  facts: facts.value,
  answersId: answersId.value || null,
  partyId: (kind.value?.asksParty && partyId.value) || null,
})
const adding = () =>
  api.docket.add({
    ...input(),
    label: label.value,
    paperId: paperId.value,
    take: take.value,
    ...(event.value ? { event: { time: place.time || null, lengthMinutes: typedNumber(place.minutes), place: place.place } } : {}),
    seen: (proposals.value ?? []).flatMap(({ key, date }) => (date ? [{ key, date }] : [])),
    moves: {
      take: moves.value,
      seen: differences.value
        .filter((d) => d.effect !== 'recounted')
        .map((d) => ({ entryId: d.entryId, effect: d.effect, becomes: d.becomes })),
    },
  })
// What is judged as it is filled in: first what the dates are worked out from, then what is docketed with them.
const { state, act, fault } = useForm(() => (proposals.value ? adding() : api.docket.workOut(input())))
async function workOut() {
  const asked = JSON.stringify(input())
  const found = await act(() => api.docket.workOut(input()))
  // Dates of another day than the one that now stands in the form are of no use to anyone.
  if (!found || asked !== JSON.stringify(input())) return
  proposals.value = found.proposals
  already.value = found.already
  event.value = found.event
  differences.value = found.differences
  moves.value = found.differences.filter((d) => ['moves', 'closes'].includes(d.effect)).map((d) => d.entryId)
  take.value = found.proposals.filter((p) => p.applies && p.date).map((p) => p.key)
}
async function docket() {
  const made = await act(adding)
  if (!made) return
  notes.say(
    `${plural(made.docketed, 'date')} docketed${made.leftOut ? `, ${made.leftOut} left out` : ''}${made.moved ? `, ${plural(made.moved, 'other')} changed` : ''}`,
    { label: 'Undo', act: () => change.undo(made.changeId) },
  )
  session.changed()
  emit('close')
}
const shownDifferences = computed(() =>
  differences.value.filter((d) => d.effect !== 'recounted' || d.tentative !== d.wasTentative || d.provisional !== d.wasProvisional),
)
const dated = computed(() => (proposals.value ?? []).filter((p) => p.date))
</script>

<template>
  <SideSheet
    :key="ready ? 'known' : 'loading'"
    title="Work out dates"
    wide
    :save="
      proposals
        ? take.length || event || !moves.length
          ? `Docket ${plural(take.length + (event ? 1 : 0), 'date')}`
          : `Docket ${plural(moves.length, 'change')}`
        : 'Show proposed dates'
    "
    :busy="state.busy"
    :changed="Boolean(trigger || label)"
    :message="noRules || noFacts || state.said"
    :waiting="!ready"
    @save="proposals ? docket() : workOut()"
    @close="emit('close')"
  >
    <template v-if="set && ready">
      <p class="text-ink-2">{{ set.title }}, edition {{ set.edition }}</p>
      <div class="grid stacks grid-cols-[1fr_170px] items-start gap-3">
        <Picker v-model="trigger" label="What happened" listed :search="searchTriggers" :fault="fault('trigger')" autofocus />
        <DayField v-model="date" label="On" :rule-set-key="ruleSetKey" :fault="fault('date')" />
      </div>
      <div class="grid stacks grid-cols-2 items-start gap-3">
        <TextField v-model="label" label="Label" optional hint="such as: first set to Corvane" />
        <ChoiceField
          v-if="kind?.asksService"
          v-model="service"
          label="Served by"
          :fault="fault('service')"
          :options="[{ value: null, text: 'Choose' }, ...set.services.map((s) => ({ value: s.key, text: `${s.title}, ${s.adds}` }))]"
        />
        <ChoiceField
          v-if="kind?.asksParty && happened?.parties.length"
          v-model="partyId"
          label="Which party"
          optional
          hint="Its name labels the dates, unless you give a label"
          :fault="fault('partyId')"
          :options="[{ value: 0, text: 'None named' }, ...happened.parties.map((p) => ({ value: p.id, text: `${p.name}, ${p.role}` }))]"
        />
        <ChoiceField
          v-if="kind?.answers"
          v-model="answersId"
          label="Answers"
          :fault="fault('answersId')"
          :options="[
            { value: 0, text: answerable.length ? 'None of those on file' : 'Nothing on file to answer' },
            ...answerable.map((t) => ({ value: t.id, text: `${t.label}, ${dayText(t.day)}` })),
          ]"
        />
        <PaperChoice v-model="paperId" label="Comes of a paper" :matter-id="matterId" />
      </div>
      <div class="flex flex-wrap gap-4">
        <label class="flex items-center gap-2"><input v-model="tentative" type="checkbox" /> The date is tentative</label>
        <label v-for="f in set.facts" :key="f.key" class="flex items-center gap-2"
          ><input v-model="facts" type="checkbox" :value="f.key" /> {{ f.question }}</label
        >
      </div>
      <section v-if="proposals && event" aria-label="On the day itself" class="rounded-control border border-line bg-page px-3 py-2">
        <p>
          <b>{{ event.title }}</b>, {{ dayText(event.date!) }}, goes onto the docket and calendars, and moves with this event.
        </p>
        <div class="mt-2 grid stacks grid-cols-[130px_140px_1fr] gap-3">
          <TimeField v-model="place.time" label="At" optional :fault="fault('event.time')" />
          <TextField v-model="place.minutes" label="Minutes" optional :fault="fault('event.lengthMinutes')" />
          <TextField v-model="place.place" label="Place" optional :fault="fault('event.place')" />
        </div>
      </section>
      <section v-if="proposals && shownDifferences.length" aria-label="What it does to dates on the docket" class="-mx-5">
        <h3 class="px-5 pb-2">What it does to dates on the docket</h3>
        <Differences v-model="moves" :list="shownDifferences" />
      </section>
      <section v-if="proposals" aria-label="Proposed dates">
        <h3 class="pt-1">{{ plural(proposals.length, 'proposed date') }}, none docketed yet</h3>
        <p v-if="!proposals.length" class="text-ink-2">
          Nothing is counted from this event itself; it completes dates counted from it elsewhere.
        </p>
        <div v-for="p in proposals" :key="p.key" class="border-t border-line-2 py-1.5" :class="!take.includes(p.key) && 'bg-[#f7f9f9]'">
          <div class="grid grid-cols-[24px_122px_14px_1fr_auto] items-stretch">
            <input
              v-model="take"
              type="checkbox"
              :value="p.key"
              :disabled="!p.date"
              class="mt-1 h-[15px] w-[15px] accent-ink"
              :aria-label="`Docket ${p.title}`"
            />
            <b class="pt-0.5 pr-2 text-right whitespace-nowrap">{{ p.date ? dayText(p.date) : 'no date' }}</b>
            <WeightMark :weight="p.weight" />
            <span class="px-2.5">
              <b class="font-semibold">{{ p.title }}</b>
              <span v-if="p.weight === 'strict'" class="tag ml-1 bg-mist">strict</span>
              <span v-if="p.date && p.date < session.today" class="tag ml-1 bg-rust-wash text-rust">already past</span>
              <span v-if="!p.applies" class="tag ml-1 bg-bill-wash text-bill-ink">left out</span>
              <span v-if="p.provisional" class="tag ml-1 bg-bill-wash text-bill-ink">provisional</span>
              <span v-if="already.includes(p.key)" class="tag ml-1 bg-plume-wash text-plume">one is docketed</span>
              <span class="block text-ink-2"
                >{{ p.authority }} · {{ p.howCounted
                }}<template v-if="p.beforeRoll && p.beforeRoll !== p.date">, rolled from {{ dayText(p.beforeRoll) }}</template></span
              >
              <span v-for="n in p.notes" :key="n" class="block text-bill-ink">{{ n }}</span>
            </span>
            <Btn small :aria-expanded="open === p.key" :aria-label="`Trace of ${p.title}`" @click="open = open === p.key ? null : p.key"
              >Trace</Btn
            >
          </div>
          <div v-if="open === p.key" class="mt-1.5 ml-[150px] space-y-1.5">
            <p>{{ p.text }}</p>
            <ol class="list-decimal pl-5 text-ink-2">
              <li v-for="(t, i) in p.trace" :key="i">{{ t.text }}</li>
            </ol>
            <a v-if="p.link" :href="p.link" target="_blank" rel="noopener noreferrer" class="text-lagoon underline">Read the rule</a>
          </div>
        </div>
        <p v-if="dated.length" class="pt-2 text-ink-2">What is left out stays visible on the docket and can be docketed later.</p>
      </section>
    </template>
  </SideSheet>
</template>
