<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { asks } from '../api'
import { useShown } from '../shown'
import { clockText, momentText, showCourtDays, showHours } from '../ui/show'
import { changedHere } from './live'
import { useSession } from './session'

const timerSheet = () => import('./TimerSheet.vue')
const TimerSheet = defineAsyncComponent(timerSheet)
onMounted(() => void timerSheet().catch(() => undefined))

const session = useSession()
const route = useRoute()
const { data, reload } = useShown(() => asks.shell.waterline.queryOptions())
watch(() => route.path, reload)
// Another browser may start or stop the timer; the server knows.
useIntervalFn(() => document.visibilityState === 'visible' && void reload(), 20_000)

const seconds = ref(0)
watch(data, (d) => (seconds.value = d?.timer?.seconds ?? 0))
useIntervalFn(() => data.value?.timer?.running && (seconds.value += 1), 1000)

const timerOpen = ref(false)
// A timer that ran over the night asks once, on the page with which the day begins.
let asked = false
watch(data, (d) => {
  if (asked || !d?.timer?.overnight || route.path !== '/today') return
  asked = true
  timerOpen.value = true
})
const share = computed(() => Math.min(100, Math.round((100 * (data.value?.todayMinutes ?? 0)) / (data.value?.goalMinutes || 1))))
// What was pressed goes away: the keyboard goes on from the page.
function lookAgain() {
  session.changed()
  document.getElementById('main')?.focus()
}
const others = computed(() => changedHere(session.others, route.path))
const left = computed(() => (data.value?.goalMinutes ?? 0) - (data.value?.todayMinutes ?? 0))
</script>

<template>
  <footer
    aria-label="Waterline"
    class="no-print fixed inset-x-0 bottom-0 z-20 flex h-10 items-stretch bg-crest text-sm whitespace-nowrap text-crest-ink [&_.lab]:text-crest-label [&>*]:flex [&>*]:items-center [&>*]:gap-2 [&>*]:border-r [&>*]:border-crest-2 [&>*]:px-4 max-[699px]:[&>*]:px-2.5"
  >
    <button
      v-if="session.may('time.record')"
      id="waterline-timer"
      type="button"
      class="min-w-0 max-[699px]:flex-none outline-offset-[-3px] outline-bill-light!"
      @click="timerOpen = true"
    >
      <template v-if="data?.timer">
        <span class="h-[9px] w-[9px] flex-none rounded-full" :class="data.timer.running ? 'bg-bill' : 'border border-crest-label'"></span>
        <b>{{ data.timer.overnight ? 'Over night' : clockText(seconds) }}</b>
        <span class="lab max-w-40 truncate">{{ data.timer.text || data.timer.matter || 'no text yet' }}</span>
      </template>
      <span v-else class="lab">Start a timer</span>
      <kbd class="kbd max-[699px]:hidden" aria-hidden="true">T</kbd>
    </button>
    <RouterLink
      v-if="session.may('time.record') && data && data.goalMinutes > 0"
      to="/time"
      class="max-[699px]:hidden! outline-offset-[-3px] outline-bill-light!"
    >
      <span class="lab">Today</span><b>{{ showHours(data.todayMinutes) }} h</b>
      <svg width="84" height="6" role="img" :aria-label="`${share} % of the day’s goal`">
        <rect width="84" height="6" rx="3" fill="#44565E" />
        <rect :width="0.84 * share" height="6" rx="3" fill="#D3951F" />
      </svg>
      <span v-if="!others" class="lab hidden xl:inline">{{ left > 0 ? `${showHours(left)} h to go` : 'goal met' }}</span>
    </RouterLink>
    <RouterLink v-if="data?.next" :to="`/matters/${data.next.matterId}/docket`" class="min-w-0 outline-offset-[-3px] outline-bill-light!">
      <span class="lab max-[699px]:hidden">Next deadline</span><b class="truncate">{{ data.next.title }}, {{ data.next.matter }}</b
      ><span class="text-bill-light">{{ showCourtDays(data.next.courtDays) }}</span>
    </RouterLink>
    <RouterLink
      v-if="data"
      :to="session.may('time.record') ? '/time' : '/trust'"
      class="max-[699px]:hidden! outline-offset-[-3px] outline-bill-light!"
      ><span class="lab">Drafts to post</span><b>{{ data.drafts }}</b></RouterLink
    >
    <span role="status" class="border-r-0! px-0!">
      <button
        v-if="others"
        type="button"
        class="h-full px-4 font-semibold text-bill-light outline-offset-[-3px] outline-bill-light! max-[699px]:px-2.5"
        @click="lookAgain"
      >
        Look again<span class="max-[699px]:sr-only">: others made changes</span>
      </button>
    </span>
    <RouterLink v-if="data?.trust" to="/trust" class="ml-auto border-r-0! max-[699px]:hidden! outline-offset-[-3px] outline-bill-light!">
      <span class="lab">Trust</span><b v-if="data.trust.ok">in balance</b><b v-else class="text-bill-light">out of balance</b>
      <span v-if="data.trust.at && !others" class="lab hidden xl:inline">{{ momentText(data.trust.at) }}</span>
    </RouterLink>
  </footer>
  <TimerSheet v-if="timerOpen" @close="timerOpen = false" />
</template>
