<script setup lang="ts">
import { usualLayout, type CheckPart } from '@heron/core/ledger'
import { computed, reactive, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import SideSheet from '../ui/SideSheet.vue'
import { useAct, useLoad } from '../use'

/** Where the parts of a check stand on the page, moved on a picture of it: by dragging, or by the arrow keys a millimetre at a time. */
const props = defineProps<{ bankAccountId: number }>()
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { state, act } = useAct()
const { data } = useLoad(() => api.checks.layout({ bankAccountId: props.bankAccountId }))
const layout = reactive(structuredClone(usualLayout))
const numbers = ref(true)
const before = ref('')
const now = () => JSON.stringify([layout, numbers.value])
watch(data, (d) => {
  if (!d || before.value) return
  Object.assign(layout, structuredClone(d.layout))
  numbers.value = d.numbers
  before.value = now()
})
const changed = computed(() => before.value !== '' && before.value !== now())
const words: Record<CheckPart, string> = {
  firm: 'Firm and account',
  number: 'No. 1234',
  date: 'Wednesday, November 25, 2026',
  payee: 'Pay to the order of',
  amount: '$ **123.45',
  words: 'One hundred twenty-three and 45/100 dollars',
  address: 'Address of the payee',
  memo: 'Memo',
  signature: 'Signature',
}
const shown = computed(() => (Object.keys(words) as CheckPart[]).filter((p) => numbers.value || p !== 'number'))
const page = { wide: 216, high: 279 }
const fit = (n: number, most: number) => Math.min(most, Math.max(0, Math.round(n)))
function shift(part: CheckPart, dx: number, dy: number) {
  layout[part] = { x: fit(layout[part].x + dx, 210), y: fit(layout[part].y + dy, 275) }
}
const picture = ref<SVGSVGElement | null>(null)
let held: { part: CheckPart; dx: number; dy: number } | null = null
function at(e: PointerEvent) {
  const box = picture.value!.getBoundingClientRect()
  return { x: ((e.clientX - box.left) / box.width) * page.wide, y: ((e.clientY - box.top) / box.height) * page.high }
}
function take(part: CheckPart, e: PointerEvent) {
  const p = at(e)
  held = { part, dx: p.x - layout[part].x, dy: p.y - layout[part].y }
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
}
function drag(e: PointerEvent) {
  if (!held) return
  const p = at(e)
  layout[held.part] = { x: fit(p.x - held.dx, 210), y: fit(p.y - held.dy, 275) }
}
const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }
function key(part: CheckPart, e: KeyboardEvent) {
  const step = steps[e.key]
  if (!step) return
  e.preventDefault()
  const by = e.shiftKey ? 10 : 1
  shift(part, step[0] * by, step[1] * by)
}
const asAtFirst = () => Object.assign(layout, structuredClone(usualLayout))
async function save() {
  if (!(await act(() => api.checks.setLayout({ bankAccountId: props.bankAccountId, layout: { ...layout }, numbers: numbers.value }))))
    return
  before.value = now()
  notes.say('Layout kept; try it with a sample on your paper')
}
</script>

<template>
  <SideSheet
    title="Layout of the check"
    save="Save"
    wide
    :busy="state.busy"
    :message="state.message || state.fields[0]?.message || ''"
    :changed="changed"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <p class="text-ink-2">Drag each part to its place, or choose it and use the arrow keys (with Shift by ten millimetres).</p>
    <label class="flex gap-2"
      ><input v-model="numbers" type="checkbox" class="accent-ink" /> Print the number; leave it out where the paper has it</label
    >
    <p>
      <a class="text-lagoon underline" :href="`/api/checks/sample?bankAccountId=${bankAccountId}`" target="_blank" rel="noopener"
        >A sample as PDF</a
      >
      <span class="text-ink-2">, as it was last saved</span>
    </p>
    <Btn small @click="asAtFirst">As it was at first</Btn>
    <svg
      ref="picture"
      :viewBox="`0 0 ${page.wide} ${page.high}`"
      class="mx-auto max-h-[62vh] w-full touch-none bg-paper"
      role="group"
      aria-label="Page with the check"
      @pointermove="drag"
      @pointerup="held = null"
    >
      <rect x="0.3" y="0.3" width="215.4" height="278.4" fill="none" class="stroke-line" stroke-width="0.6" />
      <line x1="0" x2="216" y1="93" y2="93" class="stroke-line" stroke-dasharray="3 2" stroke-width="0.5" />
      <g
        v-for="part in shown"
        :key="part"
        tabindex="0"
        role="button"
        :data-autofocus="part === shown[0] ? '' : undefined"
        class="cursor-move"
        :aria-label="`${words[part]}, ${layout[part].x} millimetres from the left, ${layout[part].y} from the top`"
        @pointerdown="take(part, $event)"
        @keydown="key(part, $event)"
      >
        <rect
          :x="layout[part].x - 1"
          :y="layout[part].y - 1"
          :width="words[part].length * 2.1 + 3"
          height="6.5"
          rx="1"
          class="fill-lagoon-wash stroke-lagoon"
          stroke-width="0.3"
        />
        <text :x="layout[part].x + 0.5" :y="layout[part].y + 3.8" font-size="4" class="fill-ink">{{ words[part] }}</text>
      </g>
    </svg>
  </SideSheet>
</template>
