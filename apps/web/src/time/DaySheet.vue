<script setup lang="ts">
import { addDays, type Day } from '@heron/core/calendar'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { dayOr } from '../address'
import { type Answer, api, ApiProblem, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText, plural, showHours, showMoney } from '../ui/show'
import TextField from '../ui/TextField.vue'
import { useUnsaved } from '../ui/unsaved'
import { sendOnce, useAct, useLoad } from '../use'
import PhraseField from './PhraseField.vue'
import RecordTime from './RecordTime.vue'
import { useTimeSetUp } from './set-up'
import TimeTabs from './TimeTabs.vue'

/** The time of one day, a row for each piece of work: typed through with Tab, kept with Enter, which opens the next row. */
type Entry = Answer<typeof api.time.list>['rows'][number]
interface Line {
  id: string
  /** Of the act that keeps it. */
  key: string
  matter: Choice | null
  duration: string
  text: string
  activity: string
  fault: string
  busy: boolean
}
const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const setUp = useTimeSetUp()
void setUp.ready()
const day = ref<Day | null>(dayOr(route.query['on'], session.today))
watch(day, (d) => void router.replace({ query: d && d !== session.today ? { on: d } : {} }))
const { data, old, reload } = useShown(() =>
  day.value ? asks.time.list.queryOptions({ input: { from: day.value, to: day.value } }) : null,
)
const { data: atWork } = useLoad(() => (day.value ? api.time.atWork({ day: day.value }) : Promise.resolve(null)), [day])
const { data: missing } = useShown(() => asks.time.missing.queryOptions())
const fresh = (matter: Choice | null = null): Line => ({
  id: crypto.randomUUID(),
  key: crypto.randomUUID(),
  matter,
  duration: '',
  text: '',
  activity: '',
  fault: '',
  busy: false,
})
const lines = ref<Line[]>([fresh()])
const typed = (l: Line) => Boolean(l.duration || l.text)
useUnsaved({ changed: () => lines.value.some(typed) })
const list = ref<HTMLElement | null>(null)

async function keep(l: Line) {
  if (l.busy || !day.value) return
  l.busy = true
  l.fault = ''
  const of = day.value
  try {
    const body = { matterId: l.matter?.id ?? 0, day: of, duration: l.duration, text: l.text, activity: l.activity || null }
    await sendOnce(l, () => api.time.record(body))
    const at = lines.value.indexOf(l)
    lines.value.splice(at, 1)
    if (!lines.value.length || typed(lines.value[lines.value.length - 1]!)) lines.value.push(fresh(l.matter))
    else lines.value[lines.value.length - 1]!.matter ??= l.matter
    notes.say(`Kept as a draft of ${dayText(of)}`)
    session.changed()
    await nextTick()
    focusOn(lines.value.length - 1)
  } catch (error) {
    l.fault = error instanceof ApiProblem ? error.fields.map((f) => f.message).join('. ') || error.message : 'This could not be kept.'
  } finally {
    l.busy = false
  }
}
function focusOn(i: number) {
  const inputs = list.value?.querySelectorAll<HTMLElement>(`[data-line="${i}"] input, [data-line="${i}"] textarea`)
  const line = lines.value[i]
  ;(line?.matter ? inputs?.[1] : inputs?.[0])?.focus()
}
function entered(event: KeyboardEvent, l: Line) {
  const el = event.target as HTMLElement
  // In the field of the matter Enter takes what is offered; in the words, with Shift, it begins a line.
  if (el.getAttribute('role') === 'combobox' || event.shiftKey || el.tagName === 'BUTTON') return
  event.preventDefault()
  void keep(l)
}
async function add() {
  lines.value.push(fresh(lines.value[lines.value.length - 1]?.matter ?? null))
  await nextTick()
  focusOn(lines.value.length - 1)
}
/** A line about something of that day, its words taken over. */
async function take(x: { matterId: number; matter: string }, text: string) {
  const last = lines.value[lines.value.length - 1]
  const line = last && !typed(last) ? last : fresh()
  line.matter = { id: x.matterId, text: x.matter }
  line.text = text.slice(0, 1000)
  if (line !== last) lines.value.push(line)
  await nextTick()
  focusOn(lines.value.indexOf(line))
}
const changing = ref<Entry | null>(null)
const { state, act } = useAct()
const drafts = computed(() => (data.value?.rows ?? []).filter((t) => t.state === 'draft'))
async function post() {
  const done = await act(() => api.time.post({ ids: drafts.value.map((d) => d.id) }))
  if (!done) return
  notes.say(`${plural(done.posted, 'entry', 'entries')} posted`)
  session.changed()
}
const step = (n: number) => (day.value = addDays(day.value ?? session.today, n))
const few = computed(() => (missing.value?.days ?? []).slice(0, 8))
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      title="Day sheet"
      :hint="
        data
          ? `${showHours(data.together.minutes)} h${data.goal ? ` of ${showHours(data.goal)} h` : ''}, ${showMoney(data.together.worth)}`
          : ''
      "
    >
      <Btn aria-label="The day before" @click="step(-1)">‹</Btn>
      <div class="w-40"><DayField v-model="day" label="Day" bare /></div>
      <Btn aria-label="The day after" @click="step(1)">›</Btn>
      <Btn :disabled="old || !drafts.length" :busy="state.busy" @click="post">Post {{ plural(drafts.length, 'draft') }}</Btn>
    </PageHead>
    <TimeTabs />
    <p v-if="state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
    <div class="grid stacks items-start gap-[18px] lg:grid-cols-[minmax(0,1fr)_300px]">
      <section class="sheet" aria-label="Time of the day">
        <div ref="list" class="divide-y divide-line-2">
          <button
            v-for="t in [...(data?.rows ?? [])].reverse()"
            :key="t.id"
            type="button"
            class="grid w-full grid-cols-[minmax(0,1.2fr)_64px_minmax(0,2.4fr)_110px_84px] items-center gap-3 px-3.5 py-2 text-left hover:bg-page max-sm:grid-cols-[1fr_84px]"
            :disabled="t.state !== 'draft'"
            @click="changing = t"
          >
            <span class="truncate">{{ t.matter }}</span>
            <span class="text-right tabular-nums">{{ t.minutes ? showHours(t.minutes) : '' }}</span>
            <span class="truncate">{{ t.text }}</span>
            <span class="text-ink-2 max-sm:hidden">{{ t.billed ? `billed ${t.billed}` : t.state }}</span>
            <span class="text-right tabular-nums">{{ t.charge === 'billable' ? showMoney(t.amount) : t.charge }}</span>
          </button>
          <form
            v-for="(l, i) in lines"
            :key="l.id"
            :data-line="i"
            class="grid items-start gap-3 bg-[#fcfdfd] px-3.5 py-2.5 max-sm:grid-cols-1"
            :class="
              setUp.uses('activity')
                ? 'grid-cols-[minmax(0,1.2fr)_84px_minmax(0,2.2fr)_130px_auto]'
                : 'grid-cols-[minmax(0,1.2fr)_84px_minmax(0,2.4fr)_auto]'
            "
            :aria-label="`Line ${i + 1}`"
            @submit.prevent="keep(l)"
            @keydown.enter="entered($event, l)"
          >
            <Picker v-model="l.matter" label="Matter" :search="searchMatters" />
            <TextField v-model="l.duration" label="Time" placeholder="0.7" />
            <PhraseField v-model="l.text" label="What was done" :lines="1" :matter-id="l.matter?.id" />
            <ChoiceField
              v-if="setUp.uses('activity')"
              v-model="l.activity"
              label="Activity"
              :options="[{ value: '', text: 'None' }, ...setUp.activities.map((a) => ({ value: a.code, text: a.name }))]"
            />
            <Btn class="mt-5" type="submit" main :busy="l.busy">Keep</Btn>
            <p v-if="l.fault" role="alert" class="col-span-full text-rust">{{ l.fault }}</p>
          </form>
        </div>
        <div class="flex flex-wrap items-center gap-x-5 gap-y-1 border-t border-line px-3.5 py-2.5">
          <Btn @click="add">Another line</Btn>
          <span v-for="x in data?.matters ?? []" :key="x.matterId"
            ><RouterLink :to="`/matters/${x.matterId}/time`" class="text-ink-2 hover:underline">{{ x.matter }}</RouterLink>
            <b class="font-semibold"> {{ showHours(x.minutes) }} h</b></span
          >
        </div>
      </section>
      <div class="space-y-[18px]">
        <section v-if="few.length" class="sheet px-4 py-3.5" aria-label="Days with little time">
          <h2 class="mb-1">Days with little time</h2>
          <p v-for="d in few" :key="d.day" class="flex border-t border-line-2 py-1">
            <button type="button" class="text-lagoon underline" @click="day = d.day">{{ dayText(d.day) }}</button>
            <span class="ml-auto text-ink-2">{{ showHours(d.minutes) }} of {{ showHours(missing!.goal) }} h</span>
          </p>
          <p v-if="missing!.days.length > few.length" class="text-ink-2">and {{ missing!.days.length - few.length }} more</p>
        </section>
        <section class="sheet px-4 py-3.5" aria-label="What you did that day">
          <h2 class="mb-1">What you did that day</h2>
          <p v-for="d in atWork?.dates ?? []" :key="`d${d.id}`" class="border-t border-line-2 py-1">
            <button type="button" class="text-left hover:underline" :title="`Record ${d.title}`" @click="take(d, d.title)">
              <b class="font-semibold">{{ d.time ?? 'Date' }}</b> {{ d.title }}
            </button>
            <span class="block text-sm text-ink-3">{{ d.matter }}</span>
          </p>
          <p v-for="x in atWork?.acts ?? []" :key="x.id" class="border-t border-line-2 py-1">
            <button type="button" class="text-left hover:underline" :title="`Record: ${x.text}`" @click="take(x, x.text)">
              {{ x.text }}
            </button>
            <span class="block text-sm text-ink-3">{{ x.matter }}</span>
          </p>
          <p v-if="atWork && !atWork.dates.length && !atWork.acts.length" class="text-ink-2">Nothing on record of that day.</p>
        </section>
      </div>
    </div>
    <RecordTime v-if="changing" :entry="changing" @close="((changing = null), reload())" />
  </div>
</template>
