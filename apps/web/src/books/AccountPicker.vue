<script setup lang="ts">
import { onMounted } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import Picker, { type Choice } from '../ui/Picker.vue'

/** An account of income or expense, by code or name; of any kind where it is asked for. */
const model = defineModel<Choice | null>({ required: true })
const props = defineProps<{ fault?: string; autofocus?: boolean; any?: boolean; label?: string }>()
const session = useSession()
// Who types before the chart is there is answered when it is.
let chart: ReturnType<typeof api.books.trialBalance> | null = null
// One that did not come is asked for again at the next letter.
const accounts = () =>
  (chart ??= api.books.trialBalance({ asOf: session.today }).catch((error: unknown) => {
    chart = null
    throw error
  }))
onMounted(() => accounts().catch(() => undefined))
const search = async (q: string): Promise<Choice[]> =>
  (await accounts()).rows
    .filter(
      (a) =>
        a.byHand &&
        (props.any || a.kind === 'income' || a.kind === 'expense') &&
        `${a.code} ${a.name}`.toLowerCase().includes(q.toLowerCase()),
    )
    .slice(0, 12)
    .map((a) => ({ id: a.id, text: `${a.code} ${a.name}`, hint: a.kind }))
</script>

<template><Picker v-model="model" :label="label ?? 'Account'" :search="search" :fault="fault" :autofocus="autofocus" /></template>
