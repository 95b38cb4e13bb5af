<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import type { ChainOut } from '@heron/contract'
import { dayText, plural } from '../ui/show'

/**
 * Where a date stands on another day than its rule gives, what is counted from it could run from either: both outcomes side
 * by side, and a person chooses.
 */
defineProps<{ chains: ChainOut[] }>()
const emit = defineEmits<{ choose: [entryId: number, follows: boolean] }>()
const dayOr = (day: Day | null) => (day ? dayText(day) : 'no date')
</script>

<template>
  <fieldset v-for="c in chains" :key="c.entryId" class="border-t border-line-2 bg-bill-wash px-4 py-3">
    <legend class="sr-only">From which day to count what follows {{ c.title }}</legend>
    <p>
      <b>{{ c.title }}</b> is docketed for <b>{{ dayText(c.day) }}</b>, {{ c.setBy === 'court' ? 'set by the court' : 'set by hand'
      }}<template v-if="c.ruleDay">; its rule gives {{ dayText(c.ruleDay) }}</template
      >. {{ plural(c.dates.length, 'date') }} {{ c.dates.length === 1 ? 'is' : 'are' }} counted from it. From which day?
    </p>
    <div class="mt-2 grid stacks grid-cols-2 gap-3">
      <label
        v-for="follows in [true, false]"
        :key="String(follows)"
        class="block rounded-control border bg-paper px-3 py-2"
        :class="c.follows === follows ? 'border-lagoon' : 'border-line'"
      >
        <span class="flex items-center gap-2"
          ><input type="radio" :name="`chain-${c.entryId}`" :checked="c.follows === follows" @change="emit('choose', c.entryId, follows)" />
          {{ follows ? `From the day docketed, ${dayText(c.day)}` : `From the day of its rule, ${dayOr(c.ruleDay)}` }}</span
        >
        <span v-for="d in c.dates" :key="d.entryId" class="mt-1 flex"
          ><span class="min-w-0 truncate">{{ d.title }}</span
          ><b class="ml-auto whitespace-nowrap pl-2">{{ dayOr(follows ? d.follows : d.byRule) }}</b></span
        >
      </label>
    </div>
  </fieldset>
</template>
