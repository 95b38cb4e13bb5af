<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { eventTitle, isOverdue, nextOfSeries } from '@heron/core/docket'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { plural } from '../ui/show'
import State from '../ui/State.vue'
import DatedLine from './DatedLine.vue'
import EntrySheet from './EntrySheet.vue'
import EntryForm from './EntryForm.vue'
import Changing from './Changing.vue'
import ReportSheet from './ReportSheet.vue'
import LineOfTime from './LineOfTime.vue'
import Switch from '../ui/Switch.vue'
import Triggers from './Triggers.vue'
import { useChange } from './useChange'
import WorkOut from './WorkOut.vue'

const props = defineProps<{ matterId: number; ruleSetKey: string | null; closed?: boolean }>()
/** A closed matter takes no dates; what would be refused is not offered. */
const mayChange = computed(() => session.may('docket.change') && !props.closed)
const session = useSession()
const route = useRoute()
const router = useRouter()
const { data, problem, loading, reload } = useShown(() => asks.docket.ofMatter.queryOptions({ input: { id: props.matterId } }))
const change = useChange(() => props.matterId)
const chosen = ref<DocketRow | null>(null)
// A link from elsewhere opens the date that it is about, once it is here.
watch([data, () => route.query['entry']], ([list, entry]) => {
  const found = entry ? list?.find((r) => r.id === Number(entry)) : undefined
  if (found) chosen.value = found
})
function leave() {
  chosen.value = null
  if (route.query['entry']) void router.replace({ query: {} })
}
// The open sheet stands in the address, so that any button of the file can open it.
const working = computed(() => route.query['work'] === '1')
const work = (on: boolean) => void router.replace({ query: on ? { work: '1' } : {} })
/** The order or letter from which dates are worked out, when one began with it. */
const source = computed(() => Number(route.query['paper']) || null)
const asLine = computed({
  get: () => (route.query['as'] === 'line' ? 'line' : 'list'),
  set: (as: string) => void router.push({ query: as === 'line' ? { as } : {} }),
})
const { data: triggers } = useShown(() =>
  asLine.value === 'line' ? asks.docket.triggers.queryOptions({ input: { id: props.matterId } }) : null,
)
const happened = computed(() => (triggers.value?.triggers ?? []).map((t) => ({ ...t, label: eventTitle(t.title, t.label) })))
const adding = ref(false)
const reporting = ref(false)
const kept = computed(() => (data.value ?? []).filter((r) => !r.leftOut))
const coming = computed(() => kept.value.filter((r) => r.day >= session.today))
/** What the badge of the tab counts, too: everything open, and how much of it is overdue. */
const open = computed(() => kept.value.filter((r) => r.mark === 'open' || r.mark === 'in hand').length)
const overdue = computed(() => kept.value.filter((r) => late(r)).length)
const onLine = computed(() => nextOfSeries(kept.value, session.today))
const past = computed(() => kept.value.filter((r) => r.day < session.today))
const left = computed(() => (data.value ?? []).filter((r) => r.leftOut))
const groups = computed(() => [
  { name: 'Coming', rows: coming.value },
  { name: 'Past', rows: [...past.value].reverse() },
  { name: 'Left out', rows: left.value },
])
const late = (r: DocketRow) => isOverdue(r, session.today)
</script>

<template>
  <Changing v-if="change.asked.value" :change="change" />
  <div v-show="!change.asked.value">
    <div class="flex flex-wrap items-center gap-2 px-4 py-3">
      <h2>Docket</h2>
      <span class="text-ink-2"
        >{{ plural(open, 'open date')
        }}<template v-if="overdue"
          >, <b class="text-rust">{{ overdue }} overdue</b></template
        ><template v-if="left.length">, {{ left.length }} left out</template></span
      >
      <Switch
        v-if="data?.length"
        v-model="asLine"
        label="Show as"
        class="ml-2"
        :options="[
          { value: 'list', text: 'List' },
          { value: 'line', text: 'Line of time' },
        ]"
      />
      <span class="ml-auto flex flex-wrap gap-2">
        <Btn v-if="data?.length" @click="reporting = true">Report</Btn>
        <template v-if="mayChange">
          <Btn @click="adding = true">New date</Btn>
          <Btn v-if="ruleSetKey" main @click="work(true)">Work out dates</Btn>
        </template>
      </span>
    </div>
    <p v-if="!ruleSetKey" class="mx-4 mb-2 text-ink-2">This matter has no court rules; its dates are entered by hand.</p>
    <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
      <template #empty
        >No dates yet. Say what happened (a complaint served, a trial set) and the dates that follow are worked out.</template
      >
      <div v-if="asLine === 'line'" class="border-t border-line-2 px-4 py-3">
        <LineOfTime label="Line of time" :rows="onLine" :events="happened" @open="chosen = $event" />
      </div>
      <template v-for="g in groups" v-else :key="g.name">
        <section v-if="g.rows.length" :aria-label="g.name">
          <h3 class="bg-page px-4 py-1.5">{{ g.name }}</h3>
          <DatedLine v-for="r in g.rows" :key="r.id" :row="r" @open="chosen = r" />
        </section>
        <Triggers v-if="g.name === 'Coming'" :matter-id="matterId" :rule-set-key="ruleSetKey" :change="change" :may-change="mayChange" />
      </template>
    </State>
    <Triggers v-if="data && !data.length" :matter-id="matterId" :rule-set-key="ruleSetKey" :change="change" :may-change="mayChange" />
  </div>
  <ReportSheet v-if="reporting" :report="{ kind: 'matter', from: session.today, matterId }" @close="reporting = false" />
  <EntrySheet v-if="chosen" :row="chosen" @close="leave" />
  <WorkOut
    v-if="working && ruleSetKey"
    :key="source ?? 0"
    :matter-id="matterId"
    :paper-id="source"
    :rule-set-key="ruleSetKey"
    @close="work(false)"
  />
  <EntryForm
    v-if="adding || (working && !ruleSetKey)"
    :matter-id="matterId"
    :rule-set-key="ruleSetKey"
    :paper-id="source"
    @close="((adding = false), work(false))"
  />
</template>
