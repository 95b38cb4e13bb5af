<script setup lang="ts">
import { addDays, weekday, type Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { dayOr } from '../address'
import { type Answer, api, ApiProblem, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText, plural, showHours, showMoney } from '../ui/show'
import { typedSum } from '../ui/typed'
import { useUnsaved } from '../ui/unsaved'
import { sendOnce, useAct } from '../use'
import PhraseField from './PhraseField.vue'
import TimeTabs from './TimeTabs.vue'

/** Matters by days: a row for each matter and what was done on it, a field for each day. What is typed into a field is kept as a draft. */
type Entry = Answer<typeof api.time.list>['rows'][number]
interface Row {
  key: string
  matter: Choice
  text: string
  own: boolean
}
const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const monday = (day: Day) => addDays(day, 1 - weekday(day))
const from = ref(monday(dayOr(route.query['from'], session.today)))
watch(from, (f) => void router.replace({ query: f === monday(session.today) ? {} : { from: f } }))
const days = computed(() => Array.from({ length: 7 }, (_, i) => addDays(from.value, i)))
const { data, problem, old, reload } = useShown(() =>
  asks.time.list.queryOptions({ input: { from: from.value, to: addDays(from.value, 6) } }),
)
const added = ref<Row[]>([])
watch(from, () => (added.value = []))
const rowKey = (matterId: number, text: string) => `${matterId} ${text}`
const rows = computed<Row[]>(() => {
  const out = new Map<string, Row>()
  for (const t of [...(data.value?.rows ?? [])].reverse()) {
    const key = rowKey(t.matterId, t.text)
    if (!out.has(key)) out.set(key, { key, matter: { id: t.matterId, text: t.matter }, text: t.text, own: false })
  }
  for (const r of added.value) if (!out.has(r.key)) out.set(r.key, r)
  return [...out.values()].sort((a, b) => a.matter.text.localeCompare(b.matter.text))
})
const cell = (r: Row, day: Day): Entry[] => (data.value?.rows ?? []).filter((t) => t.day === day && rowKey(t.matterId, t.text) === r.key)
const minutesOf = (list: readonly Entry[]) => typedSum(list.map((t) => t.minutes))
/** A field is typed into where it holds nothing yet, or one draft. */
const open = (list: readonly Entry[]) => list.length === 0 || (list.length === 1 && list[0]!.state === 'draft' && list[0]!.minutes > 0)
const typed = reactive<Record<string, { text: string; key: string; fault: string; busy: boolean }>>({})
const at = (r: Row, day: Day) => `${r.key} ${day}`
const shown = (r: Row, day: Day) => typed[at(r, day)]?.text ?? (minutesOf(cell(r, day)) ? showHours(minutesOf(cell(r, day))) : '')
function type(r: Row, day: Day, text: string) {
  const before = typed[at(r, day)]
  // What is not known to be done is tried again by its key; what is under way has its own.
  const key = before && !before.busy ? before.key : crypto.randomUUID()
  typed[at(r, day)] = { text, key, fault: '', busy: false }
}
useUnsaved({ changed: () => Object.keys(typed).length > 0 })
async function keep(r: Row, day: Day) {
  const k = at(r, day)
  const mine = typed[k]
  if (!mine || mine.busy) return
  const [draft] = cell(r, day)
  const text = mine.text.trim()
  if (!text && !draft) return void delete typed[k]
  mine.busy = true
  try {
    if (!text) await api.time.remove({ id: draft!.id })
    else if (draft) {
      const { activity, task, charge, inCourt, fundingId, privateAttorney } = draft
      const rate = draft.rateOrigin === 'typed on the entry' ? draft.rate : null
      await sendOnce(mine, () =>
        api.time.change({
          id: draft.id,
          matterId: r.matter.id,
          day,
          duration: text,
          text: r.text,
          activity,
          task,
          charge,
          rate,
          inCourt,
          fundingId,
          privateAttorney,
        }),
      )
    } else await sendOnce(mine, () => api.time.record({ matterId: r.matter.id, day, duration: text, text: r.text }))
    await reload()
    // What was typed since stays.
    if (typed[k] === mine || typed[k]?.text === mine.text) delete typed[k]
    session.changed()
  } catch (error) {
    mine.fault = error instanceof ApiProblem ? error.fields[0]?.message || error.message : 'This could not be kept.'
    // What was kept by then, though its answer was lost, is not kept a second time.
    await reload()
  } finally {
    mine.busy = false
  }
}
const faults = computed(() => Object.values(typed).flatMap((t) => (t.fault ? [t.fault] : [])))
const matter = ref<Choice | null>(null)
const words = ref('')
function add() {
  if (!matter.value || !words.value.trim()) return
  const text = words.value.trim().slice(0, 1000)
  added.value.push({ key: rowKey(matter.value.id, text), matter: matter.value, text, own: true })
  matter.value = null
  words.value = ''
}
const { state, act } = useAct()
const drafts = computed(() => (data.value?.rows ?? []).filter((t) => t.state === 'draft'))
async function post() {
  const done = await act(() => api.time.post({ ids: drafts.value.map((d) => d.id) }))
  if (!done) return
  notes.say(`${plural(done.posted, 'entry', 'entries')} posted`)
  session.changed()
}
const ofDay = (day: Day) => data.value?.days.find((d) => d.day === day)?.minutes ?? 0
function moved(event: KeyboardEvent, r: number, d: number) {
  const to: Record<string, [number, number]> = { ArrowDown: [r + 1, d], ArrowUp: [r - 1, d], Enter: [r + 1, d] }
  const next = to[event.key]
  if (!next) return
  event.preventDefault()
  const grid = (event.currentTarget as HTMLElement).closest('[data-grid]')
  const other = grid?.querySelector<HTMLElement>(`[data-cell="${next[0]} ${next[1]}"]`)
  if (other) other.focus()
  else (event.currentTarget as HTMLElement).blur()
}
const columns = 'grid grid-cols-[minmax(190px,1.6fr)_repeat(7,minmax(58px,1fr))_64px] items-center gap-1.5'
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Week" :hint="data ? `${showHours(data.together.minutes)} h, ${showMoney(data.together.worth)}` : ''">
      <Btn aria-label="The week before" @click="from = addDays(from, -7)">‹</Btn>
      <span class="font-semibold">{{ dayText(from) }} – {{ dayText(addDays(from, 6)) }}</span>
      <Btn aria-label="The week after" @click="from = addDays(from, 7)">›</Btn>
      <Btn :disabled="old || !drafts.length" :busy="state.busy" @click="post">Post {{ plural(drafts.length, 'draft') }}</Btn>
    </PageHead>
    <TimeTabs />
    <p v-if="problem || state.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">
      {{ problem || state.message }}
    </p>
    <section class="sheet" aria-label="Time of the week">
      <div class="overflow-x-auto" tabindex="-1">
        <div data-grid class="min-w-[820px]">
          <div :class="columns" class="px-3.5 py-2 text-sm font-medium text-ink-2">
            <span>Matter and work</span>
            <RouterLink
              v-for="d in days"
              :key="d"
              :to="`/time/day?on=${d}`"
              class="text-right hover:underline"
              :class="d === session.today ? 'font-bold text-ink' : ''"
              >{{ dayText(d) }}</RouterLink
            >
            <span class="text-right">Hours</span>
          </div>
          <div v-for="(r, i) in rows" :key="r.key" :class="columns" class="border-t border-line-2 px-3.5 py-1.5">
            <span class="min-w-0"
              ><RouterLink :to="`/matters/${r.matter.id}/time`" class="block truncate font-semibold hover:underline">{{
                r.matter.text
              }}</RouterLink
              ><span class="block truncate text-sm text-ink-2" :title="r.text">{{ r.text }}</span></span
            >
            <template v-for="(d, j) in days" :key="d">
              <input
                v-if="open(cell(r, d))"
                :data-cell="`${i} ${j}`"
                class="control text-right tabular-nums"
                :class="typed[at(r, d)]?.fault ? 'border-rust' : ''"
                :value="shown(r, d)"
                :readonly="old"
                autocomplete="off"
                :aria-label="`${r.matter.text}, ${r.text}, ${dayText(d)}`"
                :aria-invalid="typed[at(r, d)]?.fault ? true : undefined"
                @input="type(r, d, ($event.target as HTMLInputElement).value)"
                @change="keep(r, d)"
                @keydown="moved($event, i, j)"
              />
              <span
                v-else
                class="px-2.5 text-right text-ink-2 tabular-nums"
                :title="
                  cell(r, d)
                    .map((t) => t.state)
                    .join(', ')
                "
                >{{ shown(r, d) }}</span
              >
            </template>
            <b class="text-right tabular-nums">{{
              showHours(minutesOf((data?.rows ?? []).filter((t) => rowKey(t.matterId, t.text) === r.key)))
            }}</b>
          </div>
          <p v-if="data && !rows.length" class="border-t border-line-2 px-3.5 py-4 text-ink-2">
            Nothing yet in this week. Add a matter below.
          </p>
          <div :class="columns" class="border-t border-line px-3.5 py-2 font-semibold">
            <span>Together</span>
            <span v-for="d in days" :key="d" class="text-right tabular-nums">{{ ofDay(d) ? showHours(ofDay(d)) : '' }}</span>
            <span class="text-right tabular-nums">{{ showHours(data?.together.minutes ?? 0) }}</span>
          </div>
        </div>
      </div>
      <p v-for="f in faults" :key="f" role="alert" class="px-3.5 pb-2 text-rust">{{ f }}</p>
      <form
        class="grid items-start gap-3 border-t border-line px-3.5 py-3 sm:grid-cols-[minmax(0,1fr)_minmax(0,2fr)_auto]"
        aria-label="Another row"
        @submit.prevent="add"
      >
        <Picker v-model="matter" label="Matter" :search="searchMatters" />
        <PhraseField v-model="words" label="What was done" :lines="1" :matter-id="matter?.id" />
        <Btn class="mt-5" type="submit" :disabled="!matter || !words.trim()">Add a row</Btn>
      </form>
    </section>
  </div>
</template>
