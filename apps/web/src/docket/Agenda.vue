<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { showCourtDays, weekdayName } from '@heron/core/calendar'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { api, Answer } from '../api'
import { dateText, dayText, plural } from '../ui/show'
import DatedLine from './DatedLine.vue'
import DocketLine from './DocketLine.vue'

// Loaded when first opened: it is not part of the first page.
const EntrySheet = defineAsyncComponent(() => import('./EntrySheet.vue'))

const props = defineProps<{ agenda: Answer<typeof api.docket.agenda> }>()
defineEmits<{ more: [] }>()
const chosen = ref<DocketRow | null>(null)
const days = computed(() => {
  const { rows, closed, courtDays, today } = props.agenda
  const named = new Set([...rows.map((r) => r.day), ...closed.map((c) => c.day)])
  return [...named].sort().map((day) => ({
    day,
    rows: rows.filter((r) => r.day === day),
    closed: closed
      .filter((c) => c.day === day)
      .map((c) => c.name)
      .filter((n, i, all) => all.indexOf(n) === i),
    left: day === today ? '' : showCourtDays(courtDays[day] ?? 0),
  }))
})
</script>

<template>
  <div v-if="agenda.late.length" class="border-t border-line-2">
    <div class="bg-rust-wash px-3.5 py-2">
      <b class="font-serif font-semibold text-rust">Overdue</b>
      <span class="text-rust">{{ plural(agenda.late.length, 'date') }} not marked met</span>
    </div>
    <DatedLine v-for="r in agenda.late" :key="r.id" :row="r" show-matter @open="chosen = r" />
  </div>
  <div v-for="d in days" :key="d.day" class="border-t border-line-2">
    <div
      class="flex items-baseline gap-2.5 px-3.5 pt-[9px] pb-[5px]"
      :class="d.day === agenda.today ? 'bg-bill-wash' : !d.rows.length && 'bg-[#f7f9f9]'"
    >
      <b class="font-serif font-semibold">{{ d.day === agenda.today ? 'Today' : weekdayName(d.day) }}</b>
      <span class="text-ink-2"
        >{{ d.day === agenda.today ? dayText(d.day) : dateText(d.day)
        }}<template v-if="d.closed.length"> · {{ d.closed.join(', ') }}</template
        ><template v-else-if="d.left"> · {{ d.left }}</template></span
      >
    </div>
    <DocketLine v-for="r in d.rows" :key="r.id" :row="r" show-matter @open="chosen = r" />
  </div>
  <p v-if="agenda.more.rows || agenda.more.late" class="border-t border-line-2 bg-bill-wash px-3.5 py-2 text-bill-ink">
    There are more {{ agenda.more.late ? 'overdue dates' : 'dates' }} than are shown here. Narrow the list by person, area or words, or
    <button type="button" class="font-semibold underline" @click="$emit('more')">show up to a thousand</button>.
  </p>
  <p v-if="!days.length && !agenda.late.length" class="border-t border-line-2 px-3.5 py-5 text-ink-2">
    No dates in these court days. Dates come from a matter’s trigger events: open its Docket and work out dates.
  </p>
  <EntrySheet v-if="chosen" :row="chosen" @close="chosen = null" />
</template>
