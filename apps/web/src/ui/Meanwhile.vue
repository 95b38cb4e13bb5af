<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import Btn from './Btn.vue'
import type { Meanwhile } from './meanwhile'

/** What somebody else changed while a form was filled in: told, and where both changed the same, put side by side. */
const props = defineProps<{ of: Meanwhile }>()
const told = ref<HTMLElement | null>(null)
// It comes before the eyes when it is there, and again when somebody saves before all is decided.
watch(
  () => [props.of.state.said, props.of.state.asked],
  async () => {
    await nextTick()
    told.value?.focus()
    told.value?.scrollIntoView?.({ block: 'nearest' })
  },
)
/** The next question, or what saves, has the caret after an answer: its own buttons are gone. */
async function settle(key: string, take: 'mine' | 'theirs') {
  const sheet = told.value?.closest('[role="dialog"]')
  props.of.settle(key, take)
  await nextTick()
  const next = told.value?.querySelector<HTMLElement>('button')
  ;(next ?? sheet?.querySelector<HTMLElement>('[data-main-act] button'))?.focus()
}
</script>

<template>
  <section
    v-if="of.state.taken.length || of.state.clashes.length"
    ref="told"
    tabindex="-1"
    role="group"
    aria-label="Changed meanwhile"
    class="rounded-control border border-line bg-bill-wash px-3 py-2"
  >
    <p class="text-bill-ink">
      {{ of.state.said }}
      <template v-if="of.state.taken.length"> Theirs stands in the form now: {{ of.state.taken.join(', ') }}. </template>
      {{ of.state.clashes.length ? 'Say what holds, then save again.' : 'Look at it, then save again.' }}
    </p>
    <div v-for="c in of.state.clashes" :key="c.key" role="group" :aria-label="c.label" class="mt-2 border-t border-line-2 pt-2">
      <h3 class="text-sm font-medium text-ink-2">{{ c.label }}</h3>
      <div class="mt-1 grid stacks grid-cols-2 gap-3">
        <p class="break-words whitespace-pre-line"><span class="block text-sm text-ink-2">Theirs</span>{{ c.theirs }}</p>
        <p class="break-words whitespace-pre-line"><span class="block text-sm text-ink-2">Yours</span>{{ c.mine }}</p>
        <Btn small class="justify-self-start" @click="settle(c.key, 'theirs')">Take theirs</Btn>
        <Btn small class="justify-self-start" @click="settle(c.key, 'mine')">Keep yours</Btn>
      </div>
    </div>
  </section>
</template>
