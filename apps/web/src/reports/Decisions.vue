<script setup lang="ts">
import { api } from '../api'
import { useSession } from '../shell/session'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import ReportTabs from './ReportTabs.vue'

/** What needs a decision, each kind with where it is made. */
const session = useSession()
const { data, problem, loading, reload } = useLoad(() => api.oversight.decisions(), [() => session.tick])
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="For decision" hint="Each with where it is dealt with" />
    <ReportTabs />
    <State :loading="loading && !data" :problem="problem" :empty="data?.length === 0" @again="reload()">
      <template #empty>Nothing waits for a decision of yours.</template>
      <div class="gap-3 lg:columns-2">
        <section v-for="k in data" :key="k.key" class="sheet mb-3 break-inside-avoid" :aria-label="k.title">
          <div class="flex items-baseline gap-3 px-4 pt-3 pb-1.5">
            <h2>{{ k.title }}</h2>
            <span class="text-ink-2 tabular-nums">{{ k.count }}</span>
            <RouterLink :to="k.all" class="ml-auto font-semibold text-lagoon hover:underline">{{ k.act }}</RouterLink>
          </div>
          <ul v-if="k.rows.length" class="pb-1.5">
            <li v-for="r in k.rows" :key="r.key" class="border-t border-line-2">
              <RouterLink :to="r.to" class="flex items-baseline gap-3 px-4 py-[7px] hover:bg-page">
                <span class="min-w-0 flex-1 truncate"
                  ><b class="font-semibold">{{ r.text }}</b> <span class="text-ink-2">{{ r.hint }}</span></span
                >
                <span v-if="r.day" class="flex-none text-sm text-ink-2">{{ dayText(r.day) }}</span>
                <span v-if="r.amount !== null" class="w-28 flex-none text-right tabular-nums">{{ showMoney(r.amount) }}</span>
              </RouterLink>
            </li>
          </ul>
          <p v-if="k.rows.length && k.count > k.rows.length" class="px-4 pb-3 text-sm text-ink-2">
            <RouterLink :to="k.all" class="hover:underline">{{ k.count - k.rows.length }} more</RouterLink>
          </p>
          <div v-if="!k.rows.length" class="pb-2"></div>
        </section>
      </div>
    </State>
  </div>
</template>
