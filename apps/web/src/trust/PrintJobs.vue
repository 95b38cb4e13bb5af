<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { tableDay, someMoney } from '../ui/table/columns'
import { useAct } from '../use'
import { printing, type CheckBook } from './printing'

/** Print jobs of the reader: the PDF, then of each check how it came out. */
const props = defineProps<{ book: CheckBook }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const own = computed(() => printing[props.book])
const { data: jobs } = useShown(() => own.value.jobs())
type Outcome = 'printed' | 'spoiled' | 'again'
const said = reactive(new Map<string, Outcome>())
const key = (job: number, payment: number) => `${job} ${payment}`
watch(jobs, (list) => {
  for (const j of list ?? []) for (const c of j.checks) if (!said.has(key(j.id, c.id))) said.set(key(j.id, c.id), 'printed')
})
type Job = NonNullable<typeof jobs.value>[number]
const waits = (j: Job) => j.checks.filter((c) => c.outcome === null || c.outcome === 'again')
async function tell(j: Job) {
  const outcomes = waits(j).map((c) => ({ paymentId: c.id, outcome: said.get(key(j.id, c.id)) ?? 'printed' }))
  const done = await act(() => own.value.outcomes({ id: j.id, outcomes }))
  if (!done) return
  // What was printed once more is looked at anew.
  for (const c of j.checks) said.set(key(j.id, c.id), 'printed')
  const again = done.replaced.map((r) => r.checkNo)
  notes.say(
    again.length
      ? `Spoiled ones were voided and written anew as ${again.join(', ')}; print those now`
      : done.closed
        ? 'The print job is closed'
        : 'Kept; what is to be printed again stays here',
  )
  session.changed()
}
</script>

<template>
  <section v-for="j in jobs ?? []" :key="j.id" class="sheet px-4 py-3" :aria-label="`Print job ${j.id}`">
    <div class="flex flex-wrap items-center gap-2">
      <h2>Print job {{ j.id }}, {{ j.bank }}</h2>
      <a v-if="waits(j).length" class="ml-auto text-lagoon underline" :href="own.pdf(j.id)" target="_blank" rel="noopener"
        >Open the checks as PDF</a
      >
    </div>
    <p class="text-ink-2">
      {{
        waits(j).length
          ? 'Print them, look at each, and say how it came out. The job stays open until all are told.'
          : 'None of its checks is open to you any more. End it, so that a colleague can print them.'
      }}
    </p>
    <p v-if="state.message" role="alert" class="text-rust">{{ state.message }}</p>
    <div v-for="c in waits(j)" :key="c.id" class="flex flex-wrap items-center gap-3 border-t border-line-2 py-1.5">
      <span class="w-16 tabular-nums">{{ c.checkNo }}</span> <span class="text-ink-2">{{ tableDay(c.day) }}</span> {{ c.payee }}
      <span class="ml-auto tabular-nums">{{ someMoney(c.amount) }}</span>
      <div class="w-56">
        <ChoiceField
          :model-value="said.get(key(j.id, c.id)) ?? 'printed'"
          :label="`Check ${c.checkNo} came out`"
          :options="[
            { value: 'printed', text: 'printed well' },
            { value: 'spoiled', text: 'spoiled: void it, next number' },
            { value: 'again', text: 'not printed: again, same number' },
          ]"
          @update:model-value="(o: Outcome) => said.set(key(j.id, c.id), o)"
        />
      </div>
    </div>
    <div class="flex border-t border-line-2 pt-2">
      <Btn main class="ml-auto" :busy="state.busy" @click="tell(j)">{{ waits(j).length ? 'This is how they came out' : 'End it' }}</Btn>
    </div>
  </section>
</template>
