<script setup lang="ts" generic="T extends { id: number }">
import { nextTick, ref, watch, type Ref } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'

/**
 * Cards in columns. A card is dragged to another column, or is focused and moved with Shift and an arrow key; arrow keys alone go from
 * card to card. The page that shows it does the moving and loads the columns anew, also when a move was refused.
 */
export interface BoardColumn<C> {
  key: string
  name: string
  count: number
  /** Said under the name. */
  note: string
  cards: readonly C[]
  /** Where nothing is put by hand. */
  shut?: boolean
}
const props = defineProps<{ label: string; columns: readonly BoardColumn<T>[]; moves: boolean; wide?: boolean }>()
/** `back` puts the cards back where they are kept, where a move was refused: what is read anew may be the same as before. */
const emit = defineEmits<{ open: [card: T]; move: [card: T, from: string, to: string, back: () => void] }>()
defineSlots<{ card(p: { card: T }): unknown; late(p: { column: BoardColumn<T> }): unknown; more(p: { column: BoardColumn<T> }): unknown }>()

const shown = ref([]) as Ref<{ column: BoardColumn<T>; cards: T[] }[]>
/** Keeps the focus on the card that was moved, in its new column. */
let follow: number | undefined
function lay() {
  shown.value = props.columns.map((column) => ({ column, cards: [...column.cards] }))
  if (follow === undefined) return
  const id = follow
  follow = undefined
  void nextTick(() => focusOn(id))
}
watch(() => props.columns, lay, { immediate: true })
const board = ref<HTMLElement>()
const focusOn = (id: number | undefined) => board.value?.querySelector<HTMLElement>(`[data-card="${id}"]`)?.focus()

function dropped(to: BoardColumn<T>, at: number) {
  const card = shown.value.find((c) => c.column.key === to.key)?.cards[at]
  const from = card && props.columns.find((c) => c.cards.some((x) => x.id === card.id))
  if (card && from) emit('move', card, from.key, to.key, lay)
}
function keys(event: KeyboardEvent, at: number, card: T) {
  const here = shown.value[at]!
  const up = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0
  const side = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!up && !side) return
  event.preventDefault()
  const row = here.cards.indexOf(card)
  if (up) return focusOn(here.cards[row + up]?.id)
  // Past columns without cards, or where nothing can be put.
  const next = (fits: (c: (typeof shown.value)[number]) => boolean) => {
    for (let i = at + side; shown.value[i]; i += side) if (fits(shown.value[i]!)) return shown.value[i]
    return undefined
  }
  if (!event.shiftKey) {
    const to = next((c) => c.cards.length > 0)
    return focusOn(to?.cards[Math.min(row, to.cards.length - 1)]?.id)
  }
  const to = props.moves && next((c) => !c.column.shut)
  if (!to) return
  follow = card.id
  emit('move', card, here.column.key, to.column.key, lay)
}
</script>

<template>
  <div ref="board" class="flex gap-3 overflow-x-auto pb-4" tabindex="0" role="region" :aria-label="label">
    <section
      v-for="(c, at) in shown"
      :key="c.column.key"
      class="sheet flex flex-col"
      :class="wide ? 'max-w-[340px] min-w-[224px] flex-1' : 'w-[206px] flex-none'"
      :aria-label="c.column.name"
    >
      <h2 class="border-b border-line-2 px-3 py-2 text-base">
        {{ c.column.name }}
        <span class="block font-sans text-sm text-ink-2">{{ c.column.note }}<slot name="late" :column="c.column" /></span>
      </h2>
      <VueDraggable
        v-model="c.cards"
        :group="{ name: label, put: !c.column.shut }"
        :sort="false"
        :animation="120"
        class="min-h-24 flex-1 p-2"
        :disabled="!moves"
        @add="dropped(c.column, $event.newIndex ?? -1)"
      >
        <button
          v-for="card in c.cards"
          :key="card.id"
          type="button"
          :data-card="card.id"
          class="mb-1.5 block w-full rounded-control border border-line bg-paper px-2.5 py-1.5 text-left hover:bg-page"
          :class="moves && 'cursor-grab'"
          @click="emit('open', card)"
          @keydown="keys($event, at, card)"
        >
          <slot name="card" :card="card" />
        </button>
      </VueDraggable>
      <p v-if="c.column.count > c.column.cards.length" class="px-3 pb-2 text-sm text-ink-2"><slot name="more" :column="c.column" /></p>
    </section>
  </div>
</template>
