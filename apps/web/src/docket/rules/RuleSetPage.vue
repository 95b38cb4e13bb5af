<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import {
  deadlinesInForce,
  showCounting,
  showCourtCounting,
  withPractice,
  keyFromTitle,
  type RuleDeadline,
  type RuleSet,
} from '@heron/core/docket'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import PageHead from '../../ui/PageHead.vue'
import { dayText, momentText, plural } from '../../ui/show'
import State from '../../ui/State.vue'
import TextField from '../../ui/TextField.vue'
import WeightMark from '../../ui/WeightMark.vue'
import { sure } from '../../ui/question'
import { useAct, useLatest, useLoad } from '../../use'
import DeadlineSheet from './DeadlineSheet.vue'
import EffectSheet from './EffectSheet.vue'
import FileSheet from './FileSheet.vue'
import SetSheet from './SetSheet.vue'

/** The rules of one court: its events, what follows from each, and the firm's own dates on top. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const notes = useNotes()
const { act } = useAct()
const key = String(route.params['key'])
const { data, problem, loading, reload } = useLoad(() => api.rules.one({ key }))
const may = session.may('docket.rules')
const court = computed(() => (data.value ? (JSON.parse(data.value.file) as RuleSet) : null))
const practice = computed(() => (data.value ? (JSON.parse(data.value.practice) as RuleDeadline[]) : []))
const whole = computed(() => court.value && withPractice(court.value, practice.value))
const events = computed(() => [...(whole.value?.triggers ?? [])].sort((a, b) => a.order - b.order))
const words = ref('')
const found = computed(() => {
  const asked = words.value.trim().toLowerCase()
  return events.value.filter(
    (t) =>
      !asked ||
      t.title.toLowerCase().includes(asked) ||
      rowsOf(t.key).some((d) => `${d.title} ${d.authority.cite}`.toLowerCase().includes(asked)),
  )
})
const rowsOf = (trigger: string) => (whole.value?.deadlines ?? []).filter((d) => d.trigger === trigger)
const chosen = ref('')
const trigger = computed(
  () => found.value.find((t) => t.key === chosen.value) ?? found.value.find((t) => rowsOf(t.key).length) ?? found.value[0],
)
const shown = computed(() => (trigger.value ? rowsOf(trigger.value.key) : []))
const isOwn = (d: RuleDeadline) => practice.value.some((p) => p.key === d.key)

/** What the rules give for a day, tried beside them. */
const trial = reactive({ day: null as Day | null, service: '' })
const tried = ref<Answer<typeof api.rules.tryOut> | null>(null)
const trying = useLatest()
watch(
  [trial, trigger, whole],
  () => {
    tried.value = null
    trying.run(async (current) => {
      const t = trigger.value
      if (!t || !trial.day || !whole.value) return false
      const got = await act(() =>
        api.rules.tryOut({
          file: JSON.stringify(whole.value),
          trigger: t.key,
          date: trial.day!,
          service: t.asksService && trial.service ? trial.service : null,
        }),
      )
      if (current()) tried.value = got
      return true
    })
  },
  { deep: true },
)
/** Rows of one key follow one another in time: what was tried belongs to the one in force on that day. */
const inForce = computed(() =>
  whole.value && trigger.value && trial.day && tried.value ? deadlinesInForce(whole.value, trigger.value.key, trial.day) : [],
)
const triedOf = (d: RuleDeadline) => (inForce.value.includes(d) ? tried.value?.proposals.find((p) => p.key === d.key) : undefined)
const told = (d: RuleDeadline) => {
  if (!tried.value) return ''
  if (!inForce.value.includes(d)) return 'not in force'
  const day = triedOf(d)?.date
  return day ? dayText(day) : 'no date'
}

const open = ref<'' | 'file' | 'effect' | 'copy' | 'set' | 'event'>('')
const editing = ref<{ was: RuleDeadline | null; practice: boolean } | null>(null)
const change = useAct()
const edit = (was: RuleDeadline | null, own: boolean) => {
  change.state.message = ''
  change.state.fields = []
  editing.value = { was, practice: own }
}
const mayEdit = (d: RuleDeadline) => may && (isOwn(d) || data.value?.own)

async function kept(what: string) {
  notes.say(`${what}; no docketed date moved`, { label: 'See dockets', act: () => Promise.resolve((open.value = 'effect')) })
  editing.value = null
  open.value = ''
  session.changed()
  await reload()
}
/** The edition that is shown; a colleague's later one is not written over. */
const latest = computed(() => data.value?.no ?? 0)
async function keepSet(set: RuleSet, note: string) {
  if (await change.act(() => api.rules.save({ file: JSON.stringify(set), note, after: latest.value }))) await kept(note)
}
async function keep(given: Omit<RuleDeadline, 'key'>) {
  const e = editing.value
  const set = court.value
  if (!e || !set) return
  if (e.practice) {
    const done = await change.act(() =>
      api.rules.savePractice({ key, was: e.was?.key ?? null, title: given.title, deadline: JSON.stringify(given) }),
    )
    if (done) await kept(`${given.title} kept`)
    return
  }
  const own: RuleDeadline = {
    ...given,
    key:
      e.was?.key ??
      keyFromTitle(
        given.title,
        rowsOf(given.trigger).map((d) => d.key),
      ),
  }
  // A row is told from others of its key by the span in which it is in force.
  const at = set.deadlines.findIndex((d) => JSON.stringify(d) === JSON.stringify(e.was))
  const deadlines = at < 0 ? [...set.deadlines, own] : set.deadlines.map((d, i) => (i === at ? own : d))
  await keepSet({ ...set, deadlines }, `${own.title} ${e.was ? 'changed' : 'added'}`)
}
async function takeOut() {
  const e = editing.value
  const was = e?.was
  const set = court.value
  if (!was || !set) return
  if (e.practice) {
    if (await change.act(() => api.rules.removePractice({ key, deadlineKey: was.key }))) await kept(`${was.title} taken out`)
    return
  }
  await keepSet({ ...set, deadlines: set.deadlines.filter((d) => JSON.stringify(d) !== JSON.stringify(was)) }, `${was.title} taken out`)
}
async function remove() {
  if (
    !(await sure(
      'Take the rules away',
      `${court.value?.title ?? ''} is offered to no matter any more, with the firm’s own dates on top of it. Take it home as a file first, if it may be wanted again.`,
      'Take away',
    ))
  )
    return
  if (!(await act(() => api.rules.remove({ key })))) return
  notes.say('The rules are taken away')
  session.changed()
  await router.push('/docket/rules')
}
/** A set of the firm's own that starts where this one stands. */
const copy = computed(() => {
  if (!court.value) return ''
  const { $schema: _schema, ...set } = court.value as RuleSet & { $schema?: string }
  return JSON.stringify({ ...set, key: `own-${set.key}`, title: `${set.title}, our edition` }, null, 2)
})
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data && court && whole">
        <PageHead :title="court.title" :hint="`${court.court}, edition ${data.edition}${data.own ? ', the firm’s own' : ', as shipped'}`">
          <Btn @click="router.push('/docket/rules')">All courts</Btn>
          <Btn :href="`/api/rules/${key}/file`">Take home as a file</Btn>
          <template v-if="may">
            <Btn @click="open = 'copy'">Start our own from it</Btn>
            <template v-if="data.own">
              <Btn @click="open = 'set'">Court and counting</Btn>
              <Btn @click="open = 'file'">As text</Btn>
              <Btn @click="remove">Take away</Btn>
            </template>
            <Btn @click="open = 'effect'">Effect on dockets</Btn>
          </template>
        </PageHead>
        <p class="mb-3 text-ink-2">{{ showCourtCounting(court).join(' ') }}</p>
        <div class="grid stacks grid-cols-[290px_minmax(0,1fr)] items-start gap-4">
          <section class="sheet overflow-hidden" aria-label="Events">
            <div class="p-2.5"><TextField v-model="words" label="Find" placeholder="event, deadline or rule" /></div>
            <ul class="max-h-[calc(100vh-270px)] overflow-y-auto" tabindex="0" aria-label="Events of a case, in their order">
              <li v-for="t in found" :key="t.key">
                <button
                  type="button"
                  class="flex w-full items-baseline gap-2 border-t border-line-2 px-3.5 py-[7px] text-left hover:bg-page"
                  :class="trigger?.key === t.key && 'bg-bill-wash'"
                  :aria-current="trigger?.key === t.key || undefined"
                  @click="chosen = t.key"
                >
                  <span class="min-w-0 flex-1">{{ t.title }}</span>
                  <span class="text-sm text-ink-2">{{ rowsOf(t.key).length || '' }}</span>
                </button>
              </li>
            </ul>
            <div v-if="may && data.own" class="border-t border-line-2 p-2.5"><Btn small @click="open = 'event'">New event</Btn></div>
          </section>
          <section v-if="trigger" class="sheet overflow-hidden" aria-label="What follows">
            <div class="flex flex-wrap items-end gap-3 px-4 pt-3 pb-2.5">
              <div class="min-w-0 flex-1">
                <h2>{{ trigger.title }}</h2>
                <p class="text-ink-2">{{ plural(shown.length, 'date') }} {{ shown.length === 1 ? 'follows' : 'follow' }}</p>
              </div>
              <DayField v-model="trial.day" class="w-[150px]" label="Try it for" optional />
              <ChoiceField
                v-if="trigger.asksService"
                v-model="trial.service"
                class="w-[190px]"
                label="Served by"
                :options="[{ value: '', text: 'no days added' }, ...court.services.map((s) => ({ value: s.key, text: s.title }))]"
              />
              <template v-if="may">
                <Btn v-if="data.own" class="mb-px" @click="edit(null, false)">New deadline</Btn>
                <Btn main class="mb-px" @click="edit(null, true)">A date of our own</Btn>
              </template>
            </div>
            <p v-for="f in tried?.faults ?? []" :key="f.where" class="bg-rust-wash px-4 py-2 text-rust">{{ f.where }}: {{ f.what }}</p>
            <div
              v-for="d in shown"
              :key="d.key + (d.inForce?.from ?? '')"
              class="grid grid-cols-[142px_16px_minmax(0,1fr)_auto] border-t border-line-2"
              :class="isOwn(d) && 'bg-[#fafbfb]'"
            >
              <b class="py-2 pr-2.5 text-right font-semibold whitespace-nowrap">{{ told(d) }}</b>
              <WeightMark :weight="d.weight" />
              <div class="min-w-0 px-2.5 py-2">
                <b class="font-semibold">{{ d.title }}</b>
                <span v-if="isOwn(d)" class="tag ml-1 bg-plume-wash text-plume">our own</span>
                <span v-if="d.weight === 'strict'" class="tag ml-1 bg-mist">strict</span>
                <span v-if="d.inForce" class="tag ml-1 bg-bill-wash text-bill-ink"
                  >{{ d.inForce.from ? `from ${dayText(d.inForce.from)}` : '' }}
                  {{ d.inForce.to ? `until ${dayText(d.inForce.to)}` : '' }}</span
                >
                <span class="block"
                  >{{ showCounting(whole, d) }}<template v-if="d.serviceExtends">, and the days of service</template></span
                >
                <span class="block text-ink-2"
                  ><a v-if="d.authority.link" :href="d.authority.link" target="_blank" rel="noopener noreferrer" class="underline">{{
                    d.authority.cite
                  }}</a
                  ><template v-else>{{ d.authority.cite }}</template> · {{ d.text }}</span
                >
                <ol v-if="triedOf(d)" class="mt-1 list-decimal pl-5 text-sm text-ink-2">
                  <li v-for="(t, i) in triedOf(d)!.trace" :key="i">{{ t.text }}</li>
                </ol>
                <p v-for="n in triedOf(d)?.notes ?? []" :key="n" class="text-sm text-bill-ink">{{ n }}</p>
              </div>
              <span class="py-2 pr-3.5"
                ><Btn v-if="mayEdit(d)" small :aria-label="`Change ${d.title}`" @click="edit(d, isOwn(d))">Change</Btn></span
              >
            </div>
            <p v-if="!shown.length" class="border-t border-line-2 px-4 py-4 text-ink-2">
              Nothing is counted from this event itself; it completes dates that are counted from it elsewhere.
            </p>
          </section>
        </div>
        <details v-if="data.editions.length" class="mt-4">
          <summary class="cursor-pointer text-ink-2">{{ plural(data.editions.length, 'edition') }} kept here</summary>
          <ul class="mt-1">
            <li v-for="e in data.editions" :key="e.part + e.no" class="py-0.5">
              {{ e.part === 'set' ? 'Rules' : 'Our own dates' }}, {{ e.no }}: {{ e.note || 'no reason given' }}
              <span class="text-ink-2">· {{ e.by }}, {{ momentText(e.at) }}</span>
            </li>
          </ul>
        </details>
        <DeadlineSheet
          v-if="editing && trigger"
          :set="editing.practice ? whole : court"
          :trigger="trigger.key"
          :was="editing.was"
          :practice="editing.practice"
          :busy="change.state.busy"
          :message="change.state.said"
          :faults="change.state.fields.map((f) => change.fault(f.path))"
          @save="keep"
          @remove="takeOut"
          @close="editing = null"
        />
        <EffectSheet v-if="open === 'effect'" :set-key="key" @close="open = ''" />
        <FileSheet
          v-if="open === 'file'"
          title="The rules as text"
          :start="data.file"
          :after="latest"
          @close="open = ''"
          @saved="kept('Rules kept')"
        />
        <FileSheet
          v-if="open === 'copy'"
          title="Our own rules, from these"
          :start="copy"
          @close="open = ''"
          @saved="(router.push(`/docket/rules/${$event}`), (open = ''))"
        />
        <SetSheet
          v-if="open === 'set' || open === 'event'"
          :set="court"
          :part="open"
          :known="data.holidaySets"
          :busy="change.state.busy"
          :message="change.state.message"
          @save="keepSet"
          @close="open = ''"
        />
      </template>
    </State>
  </div>
</template>
