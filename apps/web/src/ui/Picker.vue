<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref, shallowRef, watch } from 'vue'
import Field from './Field.vue'
import { fits } from './fits'

export interface Choice {
  id: number
  text: string
  hint?: string
}
const model = defineModel<Choice | null>({ required: true })
const props = defineProps<{
  label: string
  search: (q: string) => Promise<Choice[]>
  fault?: string
  hint?: string
  optional?: boolean
  autofocus?: boolean
  placeholder?: string
  /** Shows what there is at a press or an arrow key, for short lists in an order of their own. */
  listed?: boolean
  /** Offers to make what was typed. */
  make?: string
  /** What is found depends on this, too: it is asked anew when it changes. */
  again?: unknown
}>()
const emit = defineEmits<{ make: [text: string] }>()

const query = ref('')
const answer = shallowRef<{ to: string; list: Choice[] }>({ to: '', list: [] })
/** Why nothing could be looked up: that nothing was found would be another thing. */
const failed = ref('')
let turn = 0
watch(
  [query, () => props.again],
  async ([q, again], [, before]) => {
    const mine = ++turn
    if (again !== before) answer.value = { to: q, list: [] }
    let list: Choice[] = []
    let fault = ''
    try {
      list = await props.search(q)
    } catch (error) {
      fault = error instanceof Error ? error.message : 'The server does not answer.'
    }
    if (mine !== turn) return
    answer.value = { to: q, list }
    failed.value = fault
  },
  { immediate: true },
)
/** Until what was typed is answered, only what certainly fits it is offered: whoever presses Enter at once takes nothing else. */
const found = computed(() => {
  const { to, list } = answer.value
  if (to === query.value) return list
  return list.filter((c) => fits(query.value, `${c.text} ${c.hint ?? ''}`))
})
/** Nobody is made anew who may be there already, unseen. */
const making = computed<Choice | null>(() =>
  props.make && !failed.value && query.value.trim().length > 1 ? { id: -1, text: query.value.trim() } : null,
)
const said = computed(() => {
  if (failed.value) return `Nothing can be looked up: ${failed.value}`
  const answered = answer.value.to === query.value && query.value.trim().length > 1
  return answered && !found.value.length && !making.value ? 'Nothing by these letters. Try fewer of them.' : ''
})

function take(choice: Choice | null) {
  if (choice?.id === -1) emit('make', choice.text)
  else model.value = choice
}
/** Opens the list as the arrow key does. */
function show(event: Event) {
  const input = (event.currentTarget as HTMLElement).parentElement?.querySelector('input')
  input?.focus()
  input?.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }))
}
const display = (choice: unknown) => (choice as Choice | null)?.text ?? ''
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :fault="fault" :hint="hint" :optional="optional">
    <Combobox v-slot="{ open }" :model-value="model" nullable by="id" as="div" class="relative" @update:model-value="take">
      <ComboboxInput
        :id="id"
        class="control"
        :display-value="display"
        autocomplete="off"
        :placeholder="placeholder"
        :aria-describedby="described"
        :aria-invalid="invalid"
        :aria-label="label"
        :data-autofocus="autofocus || undefined"
        @change="query = $event.target.value"
        @click="listed && !open && show($event)"
      />
      <button
        v-if="listed"
        type="button"
        tabindex="-1"
        aria-hidden="true"
        class="absolute top-0 right-0 h-[33px] w-8 text-ink-2"
        @mousedown.prevent
        @click="show($event)"
      >
        ▾
      </button>
      <ComboboxOptions
        v-if="open && (found.length || making)"
        static
        class="absolute right-0 left-0 z-30 mt-1 max-h-72 overflow-auto rounded-sheet border border-line bg-paper py-1 shadow-lg"
      >
        <ComboboxOption v-for="c in found" :key="c.id" v-slot="{ active }" :value="c" as="template">
          <li class="cursor-pointer px-3 py-[7px]" :class="active ? 'bg-lagoon-wash' : ''">
            <span class="font-semibold">{{ c.text }}</span>
            <span v-if="c.hint" class="text-ink-2"> · {{ c.hint }}</span>
          </li>
        </ComboboxOption>
        <ComboboxOption v-if="making" v-slot="{ active }" :value="making" as="template">
          <li class="cursor-pointer border-t border-line-2 px-3 py-[7px] font-semibold text-lagoon" :class="active ? 'bg-lagoon-wash' : ''">
            {{ make }} “{{ making.text }}”
          </li>
        </ComboboxOption>
      </ComboboxOptions>
      <p
        v-if="open && said"
        role="status"
        class="absolute right-0 left-0 z-30 mt-1 rounded-sheet border border-line bg-paper px-3 py-2 shadow-lg"
        :class="failed ? 'text-rust' : 'text-ink-2'"
      >
        {{ said }}
      </p>
    </Combobox>
  </Field>
</template>
