<script setup lang="ts">
import { api } from '../api'
import { useSession } from '../shell/session'
import Picker, { type Choice } from '../ui/Picker.vue'
import { useLoad } from '../use'

/** An account of income or expense, by code or name. */
const model = defineModel<Choice | null>({ required: true })
defineProps<{ fault?: string; autofocus?: boolean }>()
const session = useSession()
const { data: chart } = useLoad(() => api.books.trialBalance({ asOf: session.today }))
const search = (q: string): Promise<Choice[]> =>
  Promise.resolve(
    (chart.value?.rows ?? [])
      .filter(
        (a) => !a.closed && (a.kind === 'income' || a.kind === 'expense') && `${a.code} ${a.name}`.toLowerCase().includes(q.toLowerCase()),
      )
      .slice(0, 12)
      .map((a) => ({ id: a.id, text: `${a.code} ${a.name}`, hint: a.kind })),
  )
</script>

<template><Picker v-model="model" label="Account" :search="search" :fault="fault" :autofocus="autofocus" /></template>
