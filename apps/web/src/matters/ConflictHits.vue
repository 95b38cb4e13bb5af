<script setup lang="ts">
import { api, type Answer } from '../api'
import Btn from '../ui/Btn.vue'
import { momentText, plural } from '../ui/show'
import { useAct } from '../use'

type Check = Answer<typeof api.people.checkConflicts>
type Decision = NonNullable<Check['hits'][number]['decision']>
const props = defineProps<{ check: Check }>()
const emit = defineEmits<{ changed: [] }>()
const { state, act } = useAct()
const decisions: { value: Decision; text: string }[] = [
  { value: 'no conflict', text: 'No conflict' },
  { value: 'waiver needed', text: 'Needs a waiver' },
  { value: 'waiver on file', text: 'Waiver on file' },
  { value: 'decline', text: 'Decline' },
]
async function decide(id: number, decision: Decision) {
  if (!(await act(() => api.people.decideHit({ id, decision })))) return
  const hit = props.check.hits.find((h) => h.id === id)
  if (hit) hit.decision = decision
  emit('changed')
}
</script>

<template>
  <p class="text-ink-2">
    {{ plural(check.terms.length, 'name') }} against {{ check.namesOnRecord.toLocaleString('en-US') }} on record,
    {{ momentText(check.madeAt) }}, {{ check.madeBy }}
  </p>
  <p v-if="state.message" role="alert" class="text-rust">{{ state.message }}</p>
  <p v-if="!check.hits.length" class="py-1 text-lagoon">Nothing found.</p>
  <div v-for="h in check.hits" :key="h.id" class="border-t border-line-2 py-2">
    <b>{{ h.term }}</b> <span class="text-ink-2">{{ h.reason }}:</span> <b>{{ h.name }}</b>
    <span class="tag ml-1" :class="h.decision ? 'bg-lagoon-wash text-lagoon' : 'bg-rust-wash text-rust'">{{ h.decision ?? h.score }}</span>
    <span v-if="h.note" class="text-ink-2"> {{ h.note }}</span>
    <p v-for="(m, i) in h.matters.slice(0, 4)" :key="i" class="text-ink-2">{{ m.text }}</p>
    <p v-if="h.matters.length > 4" class="text-ink-2">and {{ h.matters.length - 4 }} more</p>
    <div v-if="!h.decision" class="mt-1.5 flex flex-wrap gap-1.5">
      <Btn v-for="d in decisions" :key="d.value" small :busy="state.busy" @click="decide(h.id, d.value)">{{ d.text }}</Btn>
    </div>
  </div>
</template>
