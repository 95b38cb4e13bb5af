<script setup lang="ts">
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText } from '../ui/show'
import type { StepRow } from './steps'

/** The steps of a procedure before it starts: left out, dated and given out here. */
const steps = defineModel<StepRow[]>({ required: true })
const props = defineProps<{ staff: { value: number; text: string }[]; faultAt: (i: number) => string | undefined }>()
const textOf = (key: string) => steps.value.find((s) => s.key === key)?.text ?? key
const place = (s: StepRow) => steps.value.filter((x) => x.keep).indexOf(s)
const faultOf = (s: StepRow) => (place(s) < 0 ? undefined : props.faultAt(place(s)))
</script>

<template>
  <ol>
    <li
      v-for="s in steps"
      :key="s.key"
      class="grid stacks grid-cols-[22px_1fr_150px_170px] items-start gap-2 border-t border-line-2 py-2"
      :class="!s.keep && 'bg-page'"
    >
      <input v-model="s.keep" type="checkbox" class="mt-1.5" :aria-label="`Keep ${s.text}`" />
      <span class="pt-1"
        >{{ s.text
        }}<span class="block text-sm text-ink-2"
          >{{ s.how }}<template v-if="s.dueOn">: {{ dayText(s.dueOn) }}</template
          ><template v-if="s.provisional">, until that is done</template
          ><template v-if="s.waitsFor.length">; waits for {{ s.waitsFor.map(textOf).join(', ') }}</template></span
        ></span
      >
      <DayField v-model="s.dueOn" label="Due" :fault="faultOf(s)" />
      <ChoiceField v-model="s.assigneeId" label="Who" :options="staff" />
    </li>
  </ol>
</template>
