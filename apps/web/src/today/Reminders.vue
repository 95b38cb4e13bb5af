<script setup lang="ts">
import { showCourtDays } from '@heron/core/calendar'
import { api, asks } from '../api'
import { useShown } from '../shown'
import Btn from '../ui/Btn.vue'
import { dayText } from '../ui/show'
import WeightMark from '../ui/WeightMark.vue'
import { computed, ref } from 'vue'
import { useAct } from '../use'

/** Dates of which the reader was reminded and that are still open. */
const { data, reload } = useShown(() => asks.docket.reminders.queryOptions())
/** Strict dates come first, and none of them is folded away. */
const most = 8
const all = ref(false)
const shown = computed(() => (data.value?.rows ?? []).filter((r, i) => all.value || i < most || r.weight === 'strict'))
const { act } = useAct()
async function putAway(ids: number[]) {
  if (await act(() => api.docket.putAwayReminders({ ids }))) await reload()
}
</script>

<template>
  <section v-if="data?.rows.length" class="sheet" aria-label="Reminders">
    <div class="flex items-center px-3.5 pt-3 pb-2">
      <h2>Reminders</h2>
      <Btn small class="ml-auto" @click="putAway(shown.map((r) => r.id))">Put away</Btn>
    </div>
    <div v-for="r in shown" :key="r.id" class="grid grid-cols-[14px_minmax(0,1fr)_auto] gap-2 border-t border-line-2 px-3.5 py-1.5">
      <WeightMark :weight="r.weight" />
      <RouterLink :to="`/matters/${r.matterId}/docket`" class="min-w-0 hover:underline">
        <b class="font-semibold">{{ r.title }}</b><span class="block truncate text-sm text-ink-2"
          >{{ r.matter }} · {{ dayText(r.day) }}</span
        >
      </RouterLink>
      <span class="whitespace-nowrap" :class="r.courtDays < 0 ? 'text-rust' : 'text-ink-2'">{{ showCourtDays(r.courtDays) }}</span>
    </div>
    <p v-if="data.rows.length > shown.length" class="border-t border-line-2 px-3.5 py-1.5">
      <Btn small @click="all = true">Show {{ data.rows.length - shown.length }} more</Btn>
    </p>
  </section>
</template>
