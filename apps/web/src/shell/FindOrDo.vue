<script setup lang="ts">
import { readDuration } from '@heron/core/time'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { commands, type Command } from './areas'
import { fits } from '../ui/fits'
import { useReturnFocus } from '../ui/focus'
import { useSession } from './session'

const emit = defineEmits<{ close: [] }>()
useReturnFocus()
const session = useSession()
const router = useRouter()
type Found = Answer<typeof api.shell.find>[number]
const q = ref('')
const answer = shallowRef<{ to: string; list: Found[] }>({ to: '', list: [] })
/** Until what was typed is answered, only what certainly fits it is offered: whoever presses Enter at once goes nowhere else. */
const found = computed(() =>
  answer.value.to === q.value ? answer.value.list : answer.value.list.filter((f) => fits(q.value, `${f.title} ${f.hint}`)),
)
/** Why nothing could be looked up, and whether it still is. */
const failed = ref('')
const looking = ref(false)
let turn = 0
/** Figures that were asked for by words. */
const answers = ref<Answer<typeof api.oversight.ask>>([])
const asks = /^(?:hours|worked|billed|collected|owed|unbilled|trust)(?:\s|$)/i
// Before anything is typed, the matters worked on last stand first.
onMounted(async () => {
  const last = await api.matters.recent().catch(() => [])
  if (!q.value) answer.value = { to: '', list: last.map((m) => ({ kind: 'matter' as const, id: m.id, title: m.name, hint: m.number })) }
})
watch(q, async (text) => {
  const mine = ++turn
  answers.value = []
  looking.value = text.trim().length > 1
  let fault = ''
  const list = looking.value ? await api.shell.find({ q: text }).catch((error: Error) => ((fault = error.message), [])) : []
  if (mine !== turn) return
  looking.value = false
  failed.value = fault
  answer.value = { to: text, list }
  // A question by words is answered beside what is found by them.
  const told = asks.test(text.trim()) && session.may('bills.see') ? await api.oversight.ask({ q: text.slice(0, 80) }).catch(() => []) : []
  if (mine === turn) answers.value = told
})

/** `time 0.4 gannet call` opens the sheet for time with what was typed. */
const typedTime = computed(() => /^time\s+(\S+)(?:\s(.*))?$/i.exec(q.value.trim()))
/** A time, a word of the matter, and what was done: `0.4 gannet call with surveyor`. */
const typedLine = computed(() => {
  const [time = '', ...words] = q.value.trim().split(' ').filter(Boolean)
  // A bare number may as well be looked for.
  return words.length && /[.:hm]/i.test(time) && readDuration(time) !== null ? { time, words: words.join(' ') } : null
})
const acts = computed(() => {
  const list: (Command & { to: string })[] = commands
    .filter((c) => !c.right || session.may(c.right))
    .filter((c) => fits(q.value.trim(), `${c.title} ${c.words}`))
  const t = typedTime.value
  if (t && session.may('time.record'))
    list.unshift({
      title: `Record ${t[1]} ${t[2]}`.trim(),
      words: '',
      to: `/time?record=1&duration=${encodeURIComponent(t[1]!)}&words=${encodeURIComponent(t[2]!)}`,
    })
  const line = typedLine.value
  if (line && session.may('time.record'))
    list.unshift({
      title: `Record ${line.time}: ${line.words}`,
      words: '',
      to: `/time?record=1&duration=${encodeURIComponent(line.time)}&line=${encodeURIComponent(line.words)}`,
    })
  return list.slice(0, q.value ? 6 : 13)
})
const places: Record<Found['kind'], (id: number) => string> = {
  matter: (id) => `/matters/${id}`,
  person: (id) => `/people/${id}`,
  paper: (id) => `/papers?open=${id}`,
  bill: (id) => `/bills/${id}`,
}
function go(target: Found | Command | { to: string } | null) {
  if (!target) return
  emit('close')
  if ('to' in target) return void router.push(target.to)
  void router.push(places[target.kind](target.id))
}
</script>

<template>
  <Dialog :open="true" class="relative z-50" aria-label="Find or do" @close="emit('close')">
    <div class="fixed inset-0 bg-crest/25" aria-hidden="true"></div>
    <div class="fixed inset-x-0 top-16 flex justify-center px-4">
      <DialogPanel class="w-[620px] max-w-full overflow-hidden rounded-sheet border border-line bg-paper shadow-2xl">
        <Combobox :model-value="null" @update:model-value="go">
          <ComboboxInput
            class="w-full border-b border-line-2 px-4 py-3 text-lg outline-none"
            placeholder="A matter, a person, a bill, or what to do"
            aria-label="Find or do"
            autocomplete="off"
            @change="q = $event.target.value"
          />
          <ComboboxOptions static class="max-h-[60vh] overflow-auto py-1">
            <ComboboxOption v-for="a in answers" :key="a.to + a.title" v-slot="{ active }" :value="a" as="template">
              <li class="flex cursor-pointer items-baseline gap-2 px-4 py-[7px]" :class="active && 'bg-lagoon-wash'">
                <b class="font-semibold whitespace-nowrap tabular-nums">{{ a.title }}</b><span class="truncate text-ink-2">{{
                  a.hint
                }}</span
                ><span class="ml-auto text-sm text-ink-2">figure</span>
              </li>
            </ComboboxOption>
            <ComboboxOption v-for="f in found" :key="`${f.kind}${f.id}`" v-slot="{ active }" :value="f" as="template">
              <li class="flex cursor-pointer items-baseline gap-2 px-4 py-[7px]" :class="active && 'bg-lagoon-wash'">
                <b class="font-semibold">{{ f.title }}</b><span class="truncate text-ink-2">{{ f.hint }}</span
                ><span class="ml-auto text-sm text-ink-2">{{ f.kind }}</span>
              </li>
            </ComboboxOption>
            <ComboboxOption v-for="c in acts" :key="c.title" v-slot="{ active }" :value="c" as="template">
              <li class="flex cursor-pointer items-center gap-2 px-4 py-[7px]" :class="active && 'bg-lagoon-wash'">
                <span class="text-lagoon">{{ c.title }}</span><kbd v-if="c.key" class="kbd ml-auto text-ink-2">{{ c.key }}</kbd>
              </li>
            </ComboboxOption>
          </ComboboxOptions>
        </Combobox>
        <p v-if="failed" role="alert" class="border-t border-line-2 px-4 py-3 text-rust">Nothing can be looked up: {{ failed }}</p>
        <p v-else-if="looking && !found.length" role="status" class="px-4 py-3 text-ink-3">Looking …</p>
        <p v-else-if="!found.length && !acts.length && !answers.length" role="status" class="px-4 py-3 text-ink-2">
          Nothing by these letters. Try fewer of them.
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
