<script setup lang="ts">
import { evenParts, payersFault } from '@heron/core/billing'
import { computed, ref, watch } from 'vue'
import ContactPicker from '../people/ContactPicker.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import MoneyField from '../ui/MoneyField.vue'
import type { Choice } from '../ui/Picker.vue'
import TextField from '../ui/TextField.vue'
import { payersToSend, type SharedPayer } from './payers'
import { X } from '@lucide/vue'

/** Whom to bill and, where several pay, what each of them bears. */
const billTo = defineModel<Choice | null>({ required: true })
const payers = defineModel<SharedPayer[]>('payers', { required: true })
defineProps<{ hint?: string; fault: (path: string) => string | undefined; autofocus?: boolean }>()
const another = ref<Choice | null>(null)

/** Parts follow the number of payers until one is typed. */
function share(list: SharedPayer[]) {
  const parts = list.filter((p) => p.how === 'part')
  const even = evenParts(parts.length)
  for (const [i, p] of parts.entries()) p.percent = String(even[i]! / 100)
  payers.value = list
}
const part = (who: Choice): SharedPayer => ({ who, how: 'part', percent: '', fixed: null })
watch(another, (c) => {
  if (!c) return
  another.value = null
  const first = payers.value.length || !billTo.value ? payers.value : [part(billTo.value)]
  if (first.some((p) => p.who.id === c.id)) return
  if (!first.length) billTo.value = c
  else share([...first, part(c)])
})
/** Of two who pay by percent, the other bears what is left of a hundred. */
function typed(i: number, text: string) {
  payers.value[i]!.percent = text
  const others = payers.value.filter((p, at) => at !== i && p.how === 'part')
  const n = Number(text.trim().replace(',', '.') || NaN)
  if (others.length === 1 && n > 0 && n < 100) others[0]!.percent = String(Math.round((100 - n) * 100) / 100)
}
function takeOut(i: number) {
  const left = payers.value.filter((_, at) => at !== i)
  billTo.value = left[0]?.who ?? null
  if (left.length > 1) share(left)
  else payers.value = []
}
const wrong = computed(() => payersFault(payersToSend(payers.value)))
</script>

<template>
  <div>
    <div class="grid stacks grid-cols-2 gap-3">
      <ContactPicker
        v-if="!payers.length"
        v-model="billTo"
        label="Whom to bill"
        :hint="hint"
        :fault="fault('billToId')"
        :autofocus="autofocus"
        as="payee"
      />
      <ContactPicker
        v-model="another"
        label="Further payer"
        optional
        :hint="payers.length ? '' : 'Splits each bill among them'"
        as="payee"
      />
    </div>
    <ul v-if="payers.length" class="mt-2" aria-label="Payers">
      <li
        v-for="(p, i) in payers"
        :key="p.who.id"
        class="grid grid-cols-[1fr_150px_140px_26px] items-center gap-2 border-t border-line-2 py-1.5"
      >
        <span>{{ p.who.text }}</span>
        <ChoiceField
          v-model="p.how"
          :label="`How ${p.who.text} pays`"
          bare
          :options="[
            { value: 'part', text: 'a percentage' },
            { value: 'fixed', text: 'a fixed amount' },
          ]"
        />
        <TextField
          v-if="p.how === 'part'"
          :model-value="p.percent"
          :label="`Percent borne by ${p.who.text}`"
          bare
          class="[&_input]:text-right"
          @update:model-value="typed(i, $event)"
        />
        <MoneyField v-else v-model="p.fixed" :label="`Amount borne by ${p.who.text}`" bare />
        <button type="button" :aria-label="`Take out ${p.who.text}`" class="grid place-items-center text-ink-2" @click="takeOut(i)">
          <X :size="15" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <p v-if="payers.length" role="status" :class="wrong || fault('payers') ? 'text-rust' : 'text-ink-2'" class="mt-1 text-sm">
      {{ fault('payers') || wrong || 'Fixed amounts come first, parts share what is left. Each payer gets a bill of their own.' }}
    </p>
  </div>
</template>
