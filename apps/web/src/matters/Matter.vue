<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, asks } from '../api'
import { useShown } from '../shown'
import MatterBills from '../billing/MatterBills.vue'
import MatterDocket from '../docket/MatterDocket.vue'
import MatterPapers from '../papers/MatterPapers.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import MatterTime from '../time/MatterTime.vue'
import MatterTrust from '../trust/MatterTrust.vue'
import Btn from '../ui/Btn.vue'
import State from '../ui/State.vue'
import { useAct } from '../use'
import Band from './Band.vue'
import MatterTalk from '../notes/MatterTalk.vue'
import MatterLog from './MatterLog.vue'
import MatterTasks from './MatterTasks.vue'
import { useNews } from './news'
import Overview from './Overview.vue'
import Parties from './Parties.vue'

// Loaded when someone makes a paper, with what shows its pages.
const MakePaper = defineAsyncComponent(() => import('../papers/make/MakePaper.vue'))
const route = useRoute()
const router = useRouter()
const session = useSession()
const notes = useNotes()
const id = Number(route.params['id'])
const { data: matter, problem, loading, reload } = useShown(() => asks.matters.get.queryOptions({ input: { id } }))
const { news, again } = useNews(id)
const tab = computed(() => String(route.params['tab'] || 'overview'))
const partOf: Record<string, 'docket' | 'papers' | 'money' | 'trust' | undefined> = {
  docket: 'docket',
  papers: 'papers',
  make: 'papers',
  bills: 'money',
  trust: 'trust',
}
const tabs = computed(() => {
  const m = matter.value
  return [
    { key: 'overview', name: 'Overview', count: null, right: 'matters.see' as const },
    { key: 'docket', name: 'Docket', count: m?.counts.docket, right: 'docket.see' as const },
    { key: 'tasks', name: 'To do', count: m?.counts.tasks, right: 'matters.see' as const },
    { key: 'papers', name: 'Papers', count: m?.counts.papers, right: 'papers.see' as const },
    { key: 'time', name: 'Time & costs', count: null, right: 'matters.see' as const },
    { key: 'bills', name: 'Bills', count: m?.counts.bills, right: 'bills.see' as const },
    { key: 'trust', name: 'Trust', count: null, right: 'trust.see' as const },
    { key: 'talk', name: 'Talk & notes', count: m?.counts.notes, right: 'matters.see' as const },
    { key: 'parties', name: 'Parties', count: m?.counts.parties, right: 'matters.see' as const },
    { key: 'log', name: 'Log', count: null, right: 'matters.see' as const },
  ].filter((t) => session.may(t.right) && (!m || !partOf[t.key] || m.own[partOf[t.key]!] > 0))
})
const stage = computed(() => matter.value?.stages.find((s) => s.id === matter.value?.stageId)?.name)
const others = computed(() =>
  (matter.value?.team ?? [])
    .filter((t) => t.userId !== matter.value?.leadId)
    .map((t) => t.name.replace(/^(\w)\S*/, '$1.'))
    .join(', '),
)

const { state, act } = useAct()
async function startTimer() {
  if (!(await act(() => api.time.startTimer({ matterId: id, text: '' })))) return
  notes.say('Timer started')
  session.changed()
}
</script>

<template>
  <State :loading="loading && !matter" :problem="problem" @again="reload()">
    <template v-if="matter">
      <div class="page border-b border-line bg-paper px-6 pt-[13px]">
        <div class="flex items-start gap-x-3.5 gap-y-2 max-[699px]:flex-wrap">
          <div class="min-w-0">
            <p class="text-sm text-ink-2">
              {{ matter.number }}<template v-if="matter.area"> · {{ matter.area }}</template
              ><template v-if="stage">
                · <b class="text-ink">{{ stage }}</b></template
              >
              · {{ matter.lead }} leads<template v-if="others">, with {{ others }}</template>
            </p>
            <h1 class="mt-0.5">
              {{ matter.name }}
              <span v-if="matter.closedOn" class="tag bg-mist align-middle text-ink-2">closed</span>
              <span v-if="matter.conflictState !== 'cleared'" class="tag bg-rust-wash align-middle text-rust"
                >conflicts: {{ matter.conflictState }}</span
              >
            </h1>
            <p class="text-ink-2">
              {{
                [matter.court, matter.caseNumber && `No. ${matter.caseNumber}`, matter.ourSide && `for the ${matter.ourSide}`]
                  .filter(Boolean)
                  .join(' · ') || matter.client
              }}
            </p>
          </div>
          <div class="ml-auto flex flex-none gap-2 max-[699px]:ml-0 max-[699px]:flex-wrap">
            <Btn v-if="session.may('time.record') && !matter.closedOn" :busy="state.busy" @click="startTimer">Start timer</Btn>
            <Btn v-if="session.may('papers.change')" @click="router.push(`/matters/${id}/papers?add=1`)">Add to file</Btn>
            <Btn
              v-if="session.may('docket.change') && matter.ruleSetKey && !matter.closedOn && tab !== 'docket'"
              main
              @click="router.push(`/matters/${id}/docket?work=1`)"
              >Work out dates</Btn
            >
          </div>
        </div>
        <Band :matter="matter" />
        <p v-if="news" role="status" class="no-print flex items-center gap-3 border-t border-line-2 py-1.5 text-sm">
          <span class="min-w-0 truncate">{{ news }}</span>
          <Btn small class="ml-auto flex-none" @click="again">Look again</Btn>
        </p>
      </div>
      <div class="grid stacks grid-cols-[minmax(0,1fr)_138px] pt-3.5 pr-2.5 pl-6 max-[699px]:px-3.5 xl:grid-cols-[minmax(0,1fr)_150px]">
        <div class="sheet min-h-[480px] rounded-tr-none pb-3">
          <Overview v-if="tab === 'overview'" :matter="matter" @changed="session.changed()" />
          <MatterDocket v-else-if="tab === 'docket'" :matter-id="id" :rule-set-key="matter.ruleSetKey" :closed="Boolean(matter.closedOn)" />
          <MatterTasks v-else-if="tab === 'tasks'" :matter="matter" />
          <MatterPapers v-else-if="tab === 'papers'" :matter-id="id" />
          <MakePaper v-else-if="tab === 'make' && session.may('papers.change')" :matter-id="id" />
          <MatterTime v-else-if="tab === 'time'" :matter="matter" />
          <MatterBills v-else-if="tab === 'bills'" :matter="matter" />
          <MatterTrust v-else-if="tab === 'trust'" :matter="matter" />
          <MatterTalk v-else-if="tab === 'talk'" :matter-id="id" />
          <Parties v-else-if="tab === 'parties'" :matter="matter" />
          <MatterLog v-else-if="tab === 'log'" :matter-id="id" />
          <p v-else class="px-4 py-3 text-ink-2">
            The file has no part of that name. <RouterLink class="underline" :to="`/matters/${id}/overview`">Go to its overview</RouterLink>
          </p>
        </div>
        <nav
          aria-label="Parts of the file"
          class="max-[699px]:order-first max-[699px]:mb-2 max-[699px]:flex max-[699px]:gap-1 max-[699px]:overflow-x-auto"
        >
          <RouterLink
            v-for="t in tabs"
            :key="t.key"
            :to="`/matters/${id}/${t.key}`"
            :aria-current="tab === t.key ? 'page' : undefined"
            class="relative -ml-px flex h-[35px] items-center rounded-r-[7px] border border-transparent pr-2.5 pl-3 text-ink-2 max-[699px]:ml-0 max-[699px]:flex-none max-[699px]:gap-1.5 max-[699px]:rounded-control"
            :class="
              tab === t.key ? 'border-line border-r-[3px] border-l-paper border-r-bill bg-paper font-semibold text-ink' : 'hover:text-ink'
            "
            >{{ t.name }}<span v-if="t.count" class="ml-auto text-xs font-medium text-ink-3">{{ t.count }}</span></RouterLink
          >
        </nav>
      </div>
    </template>
  </State>
</template>
