<script setup lang="ts">
import { counted } from '@heron/core/words'
import { daysBetween } from '@heron/core/calendar'
import { computed } from 'vue'
import type { api, Answer } from '../api'
import { useSession } from '../shell/session'
import { dayText, showMoney } from '../ui/show'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const age = computed(() => {
  const due = props.matter.figures?.oldestDue
  const late = due ? daysBetween(due, session.today) : 0
  return late > 0 ? `owed, oldest ${counted(late, 'day')} late` : 'owed'
})
</script>

<template>
  <div class="mt-[11px] flex items-stretch border-t border-line-2 max-[699px]:flex-wrap">
    <div class="pt-[9px] pr-6 pb-2.5">
      <template v-if="matter.closedOn">
        <p class="text-xs text-ink-2">Closed</p>
        <p class="font-serif text-xl font-semibold">{{ dayText(matter.closedOn) }}</p>
        <p class="text-xs text-ink-2">nothing comes up; reopen it to work on it</p>
      </template>
      <template v-else>
        <p class="text-xs text-ink-2">Next</p>
        <p class="font-serif text-xl font-semibold">{{ matter.next?.title ?? 'No date' }}</p>
        <p class="text-xs text-ink-2">{{ matter.next ? dayText(matter.next.day) : 'none is docketed' }}</p>
      </template>
    </div>
    <div class="border-l border-line-2 px-6 pt-[9px] pb-2.5 whitespace-nowrap max-[699px]:pr-0">
      <p class="text-xs text-ink-2">To do</p>
      <p class="font-serif text-xl font-semibold">{{ matter.tasks.open }} open</p>
      <p class="text-xs text-ink-2">{{ matter.tasks.today }} by today</p>
    </div>
    <div
      v-if="matter.figures"
      class="flex flex-1 items-center gap-3 border-l max-[699px]:basis-full max-[699px]:flex-wrap max-[699px]:border-l-0 max-[699px]:pl-0 border-line-2 py-[9px] pl-6 font-serif text-xl font-semibold [&_small]:block [&_small]:font-sans [&_small]:text-xs [&_small]:font-normal [&_small]:text-ink-2 [&>span]:text-right"
      aria-label="Money of the matter"
    >
      <span data-figure="unbilled">{{ showMoney(matter.figures.unbilled) }}<small>unbilled</small></span
      ><i class="-mt-4 not-italic text-ink-3">+</i>
      <span data-figure="owed"
        >{{ showMoney(matter.figures.owed) }}<small>{{ age }}</small></span
      ><i class="-mt-4 not-italic text-ink-3">=</i>
      <span data-figure="stake">{{ showMoney(matter.figures.stake) }}<small>at stake</small></span>
      <template v-if="matter.figures.held !== null">
        <i class="-mt-4 font-sans text-base font-medium not-italic text-ink-3">against</i>
        <span data-figure="held"
          >{{ showMoney(matter.figures.held) }}<small>in trust, {{ showMoney(matter.figures.cleared ?? 0) }} cleared</small></span
        >
        <b v-if="matter.figures.short" class="ml-auto font-sans text-base font-medium whitespace-nowrap text-rust"
          >short by {{ showMoney(matter.figures.short) }}</b
        >
        <b v-else class="ml-auto font-sans text-base font-medium whitespace-nowrap text-lagoon">covered</b>
      </template>
    </div>
  </div>
</template>
