<script setup lang="ts">
import { api, asks } from '../api'
import { useShown } from '../shown'
import PageHead from '../ui/PageHead.vue'
import { dayText, plural, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useAct } from '../use'
import ReportTabs from './ReportTabs.vue'

/** What needs a decision, each kind with where it is made. What no act of the reader's settles at once may be put off for a week. */
const { state, act } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.oversight.decisions.queryOptions())
type Kind = NonNullable<typeof data.value>['kinds'][number]
async function putOff(kind: NonNullable<Kind['aside']>, key: string) {
  if (await act(() => api.oversight.putOff({ kind, key, days: 7 }))) await reload()
}
async function takeUp() {
  if (await act(() => api.oversight.takeUp())) await reload()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="For decision" hint="Each with where it is dealt with" />
    <ReportTabs />
    <State :loading="loading && !data" :problem="problem" :empty="data?.kinds.length === 0" @again="reload()">
      <template #empty>Nothing waits for a decision of yours.</template>
      <div class="gap-3 lg:columns-2">
        <section v-for="k in data?.kinds" :key="k.key" class="sheet mb-3 break-inside-avoid" :aria-label="k.title">
          <div class="flex items-baseline gap-3 px-4 pt-3 pb-1.5">
            <h2>{{ k.title }}</h2>
            <span class="text-ink-2 tabular-nums">{{ k.count }}</span>
            <RouterLink :to="k.all" class="ml-auto font-semibold text-lagoon hover:underline">{{ k.act }}</RouterLink>
          </div>
          <ul v-if="k.rows.length" class="pb-1.5">
            <li v-for="r in k.rows" :key="r.key" class="flex items-center border-t border-line-2 hover:bg-page">
              <RouterLink :to="r.to" class="flex min-w-0 flex-1 items-baseline gap-3 px-4 py-[7px]">
                <span class="min-w-0 flex-1 truncate"
                  ><b class="font-semibold">{{ r.text }}</b> <span class="text-ink-2">{{ r.hint }}</span></span
                >
                <span v-if="r.day" class="flex-none text-sm text-ink-2">{{ dayText(r.day) }}</span>
                <span v-if="r.amount !== null" class="w-28 flex-none text-right tabular-nums">{{ showMoney(r.amount) }}</span>
              </RouterLink>
              <button
                v-if="k.aside"
                type="button"
                class="mr-3 flex-none rounded-control px-1.5 py-0.5 text-sm text-ink-2 hover:bg-mist hover:text-ink"
                :aria-label="`Put off ${r.text} for a week`"
                title="Not for a week"
                @click="putOff(k.aside, r.key)"
              >
                Later
              </button>
            </li>
          </ul>
          <p v-if="k.rows.length && k.count > k.rows.length" class="px-4 pb-3 text-sm text-ink-2">
            <RouterLink :to="k.all" class="hover:underline">{{ k.count - k.rows.length }} more</RouterLink>
          </p>
          <div v-if="!k.rows.length" class="pb-2"></div>
        </section>
      </div>
    </State>
    <p v-if="state.message" role="alert" class="text-rust">{{ state.message }}</p>
    <p v-if="data?.aside" class="text-ink-2">
      You put off {{ plural(data.aside, 'thing') }}.
      <button type="button" class="text-lagoon hover:underline" @click="takeUp">Show {{ data.aside === 1 ? 'it' : 'them' }} again</button>
    </p>
  </div>
</template>
