<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { api, type Answer } from '../api'
import Btn from '../ui/Btn.vue'
import { momentText, plural } from '../ui/show'
import { useAct } from '../use'

type Check = Answer<typeof api.people.checkConflicts>
type Decision = NonNullable<Check['hits'][number]['decision']>
const props = defineProps<{ check: Check; record?: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const { state, act } = useAct()
const decisions: { value: Decision; text: string }[] = [
  { value: 'no conflict', text: 'No conflict' },
  { value: 'waiver needed', text: 'Needs a waiver' },
  { value: 'waiver on file', text: 'Waiver on file' },
  { value: 'decline', text: 'Decline' },
]
const notes = ref<Record<number, string>>({})
const again = ref(0)
async function decide(id: number, decision: Decision) {
  const note = notes.value[id] ?? ''
  if (!(await act(() => api.people.decideHit({ id, decision, note })))) return
  const hit = props.check.hits.find((h) => h.id === id)
  if (hit) Object.assign(hit, { decision, note })
  again.value = 0
  emit('changed')
  await toNext(id)
}
const list = ref<HTMLElement | null>(null)
/** On to the next name to decide on; after the last, to what was just decided, so that no key falls on the page. */
async function toNext(id: number) {
  await nextTick()
  const next =
    list.value?.querySelector<HTMLElement>('[data-undecided] input') ??
    list.value?.querySelector<HTMLElement>(`[data-hit="${id}"] [data-decide-again]`)
  next?.focus()
}
const settled = (d: Decision | null) => d === 'no conflict' || d === 'waiver on file'
</script>

<template>
  <p class="text-ink-2">
    {{ plural(check.terms.length, 'name') }} against {{ check.namesOnRecord.toLocaleString('en-US') }} on record,
    {{ momentText(check.madeAt) }}, {{ check.madeBy }}
    <a v-if="record" :href="`/api/conflict-checks/${check.id}/pdf`" target="_blank" rel="noopener" class="text-lagoon underline"
      >Record as PDF</a
    >
  </p>
  <p v-if="state.message" role="alert" class="text-rust">{{ state.message }}</p>
  <p v-if="!check.hits.length" class="py-1 text-lagoon">Nothing found.</p>
  <ul ref="list">
    <li
      v-for="h in check.hits"
      :key="h.id"
      class="border-t border-line-2 py-2"
      :data-hit="h.id"
      :data-undecided="h.decision ? undefined : ''"
    >
      <b>{{ h.term }}</b> <span class="text-ink-2">{{ h.reasons.join('; ') }}:</span> <b>{{ h.name }}</b>
      <span class="tag ml-1" :class="settled(h.decision) ? 'bg-lagoon-wash text-lagoon' : 'bg-rust-wash text-rust'">{{
        h.decision ?? h.score
      }}</span>
      <p v-if="h.decision" class="text-ink-2">
        {{ [h.note, h.decidedBy].filter(Boolean).join(', ') }}
        <button
          type="button"
          data-decide-again
          class="text-lagoon underline"
          :aria-label="`Decide again on ${h.name}`"
          @click="again = h.id"
        >
          Decide again
        </button>
      </p>
      <p v-for="(m, i) in h.matters.slice(0, 4)" :key="i" class="text-ink-2">{{ m.text }}</p>
      <p v-if="h.matters.length > 4" class="text-ink-2">and {{ h.matters.length - 4 }} more</p>
      <div v-if="!h.decision || again === h.id" class="mt-1.5 flex flex-wrap gap-1.5">
        <input
          v-model="notes[h.id]"
          class="control w-full"
          :aria-label="`Note on ${h.name}`"
          placeholder="Why, or where the waiver is (optional)"
          @keydown.enter.exact.stop.prevent
        />
        <Btn v-for="d in decisions" :key="d.value" small :busy="state.busy" @click="decide(h.id, d.value)">{{ d.text }}</Btn>
      </div>
    </li>
  </ul>
  <p v-if="check.moreHits" class="border-t border-line-2 pt-1 text-ink-2">
    {{ plural(check.moreHits, 'further name') }} scored lower and {{ check.moreHits === 1 ? 'is' : 'are' }} not shown.
  </p>
</template>
