<script setup lang="ts">
import { nextPlace, offerPhrases } from '@heron/core/time'
import { respell } from '@heron/core/words'
import { computed, nextTick, ref } from 'vue'
import Field from '../ui/Field.vue'
import { useNotes } from '../shell/notes'
import { useSpelling } from '../ui/spelling'
import { useTimeSetUp } from './set-up'

/** Words of what was done. Phrases are offered by their code or words and taken with Tab; then Tab goes from one place to fill to the next. */
const model = defineModel<string>({ required: true })
const props = defineProps<{
  label: string
  fault?: string | undefined
  lines?: number
  bare?: boolean
  autofocus?: boolean
  placeholder?: string
  /** Names around it are known to the spelling. */
  matterId?: number | undefined
}>()
const notes = useNotes()
const setUp = useTimeSetUp()
void setUp.ready()
const area = ref<HTMLTextAreaElement | null>(null)
const caret = ref(0)
const at = ref(0)
const shut = ref(true)
/** While places are left to fill, Tab goes to the next one, and nothing is offered over them. */
const offers = computed(() =>
  shut.value || nextPlace(model.value, caret.value) ? [] : offerPhrases(model.value.slice(0, caret.value), setUp.phrases),
)
function typed() {
  caret.value = area.value?.selectionStart ?? 0
  at.value = 0
  shut.value = false
}
async function choose(from: number) {
  await nextTick()
  const place = nextPlace(model.value, from)
  if (place) area.value?.setSelectionRange(place.start, place.end)
  else area.value?.setSelectionRange(from, from)
}
async function take(i: number) {
  const offer = offers.value[i]
  if (!offer) return
  const before = model.value.slice(0, offer.from)
  const after = model.value.slice(caret.value)
  model.value = before + offer.phrase.text + after
  shut.value = true
  area.value?.focus()
  const end = before.length + offer.phrase.text.length
  await choose(nextPlace(offer.phrase.text, 0) ? before.length : end)
}
const spelling = useSpelling(model, () => props.matterId)
const respelled = (word: string, as: string) => (model.value = respell(model.value, word, as))
async function known(word: string) {
  await spelling.add(word).then(
    () => notes.say(`“${word}” is taken for right from now on`),
    () => notes.say(`“${word}” could not be kept. Try again.`),
  )
}
function keyed(event: KeyboardEvent) {
  const wrong = spelling.unknown.value.find((u) => u.offers[0])
  if (event.ctrlKey && event.key === '.' && wrong) {
    respelled(wrong.word, wrong.offers[0]!)
    event.preventDefault()
    return
  }
  const open = offers.value.length > 0
  if (event.key === 'Tab' && !event.shiftKey) {
    const next = area.value ? nextPlace(model.value, area.value.selectionEnd) : null
    if (open) void take(at.value)
    else if (next) void choose(next.start)
    else return
  } else if (open && event.key === 'ArrowDown') at.value = (at.value + 1) % offers.value.length
  else if (open && event.key === 'ArrowUp') at.value = (at.value + offers.value.length - 1) % offers.value.length
  else if (open && event.key === 'Escape') {
    shut.value = true
    event.stopPropagation()
  } else return
  event.preventDefault()
}
</script>

<template>
  <div class="relative">
    <Field v-slot="{ id, described, invalid }" :label="label" :fault="fault" :bare="bare ?? false">
      <textarea
        :id="id"
        ref="area"
        v-model="model"
        class="control"
        :rows="props.lines ?? 3"
        :aria-describedby="described"
        :aria-invalid="invalid"
        :placeholder="placeholder"
        :data-autofocus="autofocus || undefined"
        spellcheck="false"
        @input="typed"
        @keydown="keyed"
        @blur="((shut = true), spelling.look())"
      ></textarea>
    </Field>
    <div
      v-if="offers.length"
      class="absolute right-0 left-0 z-20 mt-1 rounded-control border border-line bg-paper shadow-lg"
      role="status"
      aria-label="Phrases, taken with Tab"
    >
      <p
        v-for="(o, i) in offers"
        :key="`${o.phrase.code} ${i}`"
        class="flex cursor-pointer gap-2 px-2.5 py-1"
        :class="i === at ? 'bg-mist' : ''"
        @mousedown.prevent="take(i)"
      >
        <b class="w-14 shrink-0">{{ o.phrase.code }}</b><span class="truncate">{{ o.phrase.text }}</span>
        <kbd v-if="i === at" class="kbd ml-auto">Tab</kbd>
      </p>
    </div>
    <p v-if="spelling.unknown.value.length" class="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-sm" role="status" aria-label="Spelling">
      <span v-for="(u, i) in spelling.unknown.value" :key="u.word" class="flex flex-wrap items-baseline gap-x-2">
        <span class="text-rust underline decoration-wavy underline-offset-2">{{ u.word }}</span>
        <button
          v-for="(o, k) in u.offers"
          :key="o"
          type="button"
          tabindex="-1"
          class="text-lagoon hover:underline"
          @mousedown.prevent="respelled(u.word, o)"
        >
          {{ o }}<kbd v-if="i === 0 && k === 0" class="kbd ml-1">Ctrl .</kbd>
        </button>
        <button type="button" tabindex="-1" class="text-ink-2 hover:underline" @mousedown.prevent="known(u.word)">is right</button>
      </span>
    </p>
  </div>
</template>
