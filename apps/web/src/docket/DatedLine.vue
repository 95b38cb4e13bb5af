<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { showCourtDays } from '@heron/core/calendar'
import { isOverdue } from '@heron/core/docket'
import { computed } from 'vue'
import { useSession } from '../shell/session'
import { dayText } from '../ui/show'
import DocketLine from './DocketLine.vue'

/** A docket entry with its day before it, where the list has no heading for each day. */
const props = defineProps<{ row: DocketRow; showMatter?: boolean }>()
defineEmits<{ open: [] }>()
const session = useSession()
const late = computed(() => isOverdue(props.row, session.today))
const left = computed(() => {
  if (props.row.leftOut) return 'left out'
  return props.row.day >= session.today || late.value ? showCourtDays(props.row.courtDays) : ''
})
</script>

<template>
  <div class="flex items-stretch border-t border-line-2 max-[699px]:block">
    <div class="w-[142px] flex-none py-[7px] pl-4 whitespace-nowrap max-[699px]:flex max-[699px]:w-auto max-[699px]:gap-2 max-[699px]:pb-0">
      <b>{{ dayText(row.day) }}</b><span class="block text-sm" :class="late ? 'text-rust' : 'text-ink-2'">{{ left }}</span>
    </div>
    <div class="min-w-0 flex-1"><DocketLine :row="row" :show-matter="showMatter" @open="$emit('open')" /></div>
  </div>
</template>
