<script setup lang="ts">
import type { ProcedureIn } from '@heron/contract'
import { computed, nextTick, reactive } from 'vue'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'

type Step = ProcedureIn['steps'][number]
const props = defineProps<{ step: Step; steps: Step[]; staff: { id: number; name: string }[]; roles: readonly string[] }>()
const emit = defineEmits<{ save: [Step]; close: [] }>()
const a = props.step.due.anchor
const to = props.step.assignTo
const form = reactive({
  text: props.step.text,
  who: to.kind === 'role' ? `role ${to.role}` : to.kind === 'person' ? `person ${to.userId}` : (to.kind as string),
  priority: props.step.priority,
  hours: props.step.estimateMinutes ? String(props.step.estimateMinutes / 60) : '',
  remindDays: props.step.remindDays === null ? '' : String(props.step.remindDays),
  waitsFor: [...props.step.waitsFor],
  count: String(props.step.due.count),
  unit: props.step.due.unit,
  direction: props.step.due.direction,
  anchor: a.kind === 'step' || a.kind === 'done' ? `${a.kind} ${a.step}` : (a.kind as string),
  date: a.kind === 'docket' ? a.name : 'trial',
})
const before = JSON.stringify(form)
const others = computed(() => props.steps.filter((s) => s.key !== props.step.key))
const faults = reactive({ text: '', count: '', hours: '', remindDays: '' })
/** What cannot be read is said at its field; nothing is turned into a number that nobody typed. */
function readable(): boolean {
  const number = (text: string, most: number) => (/^\d+(\.\d+)?$/.test(text.trim()) && Number(text) <= most ? Number(text) : null)
  const whole = (text: string, most: number) => (Number.isInteger(number(text, most)) ? number(text, most) : null)
  faults.text = form.text.trim() ? '' : 'Say what is to be done'
  faults.count = whole(form.count, 3650) === null ? 'Give whole days, 0 to 3,650; choose “before” to count back' : ''
  faults.hours = form.hours.trim() && number(form.hours, 1000) === null ? 'Give hours, such as 1.5, at most 1,000' : ''
  faults.remindDays = form.remindDays.trim() && whole(form.remindDays, 365) === null ? 'Give whole days, 0 to 365' : ''
  return !Object.values(faults).some(Boolean)
}
function save() {
  if (!readable()) {
    void nextTick(() => document.querySelector<HTMLElement>('[role="dialog"] [aria-invalid="true"]')?.focus())
    return
  }
  const [kind, key = ''] = form.anchor.split(' ')
  const [wkind, wkey = ''] = form.who.split(' ')
  emit('save', {
    ...props.step,
    text: form.text,
    assignTo: (wkind === 'role'
      ? { kind: 'role', role: wkey }
      : wkind === 'person'
        ? { kind: 'person', userId: Number(wkey) }
        : { kind: wkind }) as Step['assignTo'],
    priority: form.priority,
    estimateMinutes: Number(form.hours) > 0 ? Math.round(Number(form.hours) * 60) : null,
    remindDays: form.remindDays.trim() === '' ? null : Number(form.remindDays),
    waitsFor: form.waitsFor,
    due: {
      count: Number(form.count),
      unit: form.unit,
      direction: form.direction,
      anchor: (kind === 'step' || kind === 'done'
        ? { kind, step: key }
        : kind === 'docket'
          ? { kind, name: form.date.trim() }
          : { kind }) as Step['due']['anchor'],
    },
  })
}
</script>

<template>
  <SideSheet title="Step" save="Keep the step" :changed="JSON.stringify(form) !== before" @save="save" @close="emit('close')">
    <TextField v-model="form.text" label="What is to be done" :fault="faults.text" autofocus />
    <ChoiceField
      v-model="form.who"
      label="Who"
      :options="[
        ...roles.map((r) => ({ value: `role ${r}`, text: `The matter’s ${r}` })),
        { value: 'starter', text: 'Whoever starts the procedure' },
        { value: 'given', text: 'Whoever it is given to' },
        ...staff.map((s) => ({ value: `person ${s.id}`, text: s.name })),
      ]"
    />
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">When</legend>
      <div class="grid stacks grid-cols-3 items-end gap-2">
        <TextField v-model="form.count" label="Days" :fault="faults.count" />
        <ChoiceField
          v-model="form.unit"
          label="Counted as"
          :options="[
            { value: 'business', text: 'business days' },
            { value: 'calendar', text: 'calendar days' },
          ]"
        />
        <ChoiceField
          v-model="form.direction"
          label="Direction"
          :options="[
            { value: 'after', text: 'after' },
            { value: 'before', text: 'before' },
          ]"
        />
      </div>
      <div class="mt-2 grid gap-2">
        <ChoiceField
          v-model="form.anchor"
          label="Counted from"
          :options="[
            { value: 'start', text: 'the day the procedure starts' },
            { value: 'opened', text: 'the day the matter was opened' },
            { value: 'docket', text: 'a date on the docket' },
            ...others.map((s) => ({ value: `step ${s.key}`, text: `the date of “${s.text}”` })),
            ...others.map((s) => ({ value: `done ${s.key}`, text: `when “${s.text}” is done` })),
          ]"
        />
        <TextField
          v-if="form.anchor === 'docket'"
          v-model="form.date"
          label="Which date"
          :list="['trial', 'hearing', 'mediation', 'pretrial conference']"
          hint="Its name on the docket, or a part of it"
        />
      </div>
    </fieldset>
    <fieldset v-if="others.length">
      <legend class="mb-1 text-sm font-medium text-ink-2">Waits for</legend>
      <label v-for="s in others" :key="s.key" class="flex gap-2"
        ><input v-model="form.waitsFor" type="checkbox" :value="s.key" class="accent-ink" /> {{ s.text }}</label
      >
    </fieldset>
    <div class="grid stacks grid-cols-3 items-end gap-2">
      <ChoiceField
        v-model="form.priority"
        label="Priority"
        :options="[
          { value: 'high', text: 'First' },
          { value: 'normal', text: 'Normal' },
          { value: 'low', text: 'When there is time' },
        ]"
      />
      <TextField v-model="form.hours" label="Estimate, hours" optional :fault="faults.hours" />
      <TextField v-model="form.remindDays" label="Remind, days before" optional :fault="faults.remindDays" />
    </div>
  </SideSheet>
</template>
