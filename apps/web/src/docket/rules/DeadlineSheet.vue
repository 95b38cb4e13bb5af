<script setup lang="ts">
import { showCounting, weights, type RuleDeadline, type RuleSet } from '@heron/core/docket'
import { computed, reactive } from 'vue'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { blankLeg, formOf, readForm, type LegForm } from './form'

/** One deadline of a rule set, or one of the firm's own dates on top of a court's. */
const props = defineProps<{
  set: RuleSet
  trigger: string
  was: RuleDeadline | null
  practice: boolean
  busy: boolean
  message: string
  faults: string[]
}>()
const emit = defineEmits<{ close: []; save: [deadline: Omit<RuleDeadline, 'key'>]; remove: [] }>()
const form = reactive(formOf(props.was, props.practice))
const before = JSON.stringify(form)
const kind = computed(() => props.set.triggers.find((t) => t.key === props.trigger))
const siblings = computed(() => props.set.deadlines.filter((d) => d.trigger === props.trigger && d.key !== props.was?.key))
const bases = computed(() => [
  { value: 'trigger', text: `the event: ${kind.value?.title.toLowerCase() ?? ''}` },
  ...siblings.value.flatMap((d) => [
    { value: `final ${d.key}`, text: `“${d.title}”` },
    { value: `before-roll ${d.key}`, text: `“${d.title}”, before it was moved` },
  ]),
  ...props.set.triggers
    .filter((t) => t.key !== props.trigger)
    .map((t) => ({ value: `event ${t.key}`, text: `another event: ${t.title.toLowerCase()}` })),
])
const units = [
  { value: 'day', text: 'calendar days' },
  { value: 'courtDay', text: 'court days' },
  { value: 'clearDay', text: 'clear days' },
  { value: 'week', text: 'weeks' },
  { value: 'month', text: 'months' },
  { value: 'year', text: 'years' },
] as const
const rolls = [
  { value: 'default', text: 'on when counting on, back when counting back' },
  { value: 'forward', text: 'always on' },
  { value: 'back', text: 'always back' },
  { value: 'none', text: 'never' },
] as const
const given = computed(() => readForm(form, props.trigger))
const words = computed(() => showCounting(props.set, { ...given.value, key: props.was?.key ?? 'new' }))
const add = () => form.legs.push(blankLeg())
const remove = (leg: LegForm) => form.legs.splice(form.legs.indexOf(leg), 1)
</script>

<template>
  <SideSheet
    :title="was ? was.title : practice ? 'A date of our own' : 'New deadline'"
    wide
    save="Keep it"
    :busy="busy"
    :message="message"
    :changed="JSON.stringify(form) !== before"
    @save="emit('save', given)"
    @close="emit('close')"
  >
    <p class="text-ink-2">
      Counted when this happens: {{ kind?.title }}. What is docketed already stays until you take what the rules now give.
    </p>
    <TextField v-model="form.title" label="Title" autofocus />
    <TextField v-model="form.text" label="What must be done" :lines="3" hint="In full, at least 20 letters" />
    <div class="grid stacks grid-cols-3 gap-3">
      <ChoiceField v-model="form.weight" label="Weight" :options="weights.map((w) => ({ value: w, text: w }))" />
      <TextField v-model="form.cite" label="Authority" />
      <TextField v-model="form.link" label="Address of the rule" optional />
    </div>
    <fieldset v-for="(leg, i) in form.legs" :key="i" class="rounded-control border border-line-2 px-3 pt-1 pb-3">
      <legend class="px-1 font-semibold">{{ form.legs.length > 1 ? `Count ${i + 1}` : 'How it is counted' }}</legend>
      <div class="grid stacks grid-cols-[70px_150px_110px_1fr] gap-2.5">
        <TextField v-model="leg.count" label="Number" />
        <ChoiceField v-model="leg.unit" label="Of" :options="units" />
        <ChoiceField
          v-model="leg.direction"
          label="After or before"
          :options="[
            { value: 'after', text: 'after' },
            { value: 'before', text: 'before' },
          ]"
        />
        <ChoiceField v-model="leg.base" label="What it is counted from" :options="bases" />
      </div>
      <div class="mt-2.5 flex items-end gap-2.5">
        <ChoiceField v-model="leg.roll" class="w-[400px]" label="On a closed day it moves" :options="rolls" />
        <Btn v-if="form.legs.length > 1" small class="mb-1" :aria-label="`Take count ${i + 1} out`" @click="remove(leg)">Take out</Btn>
      </div>
    </fieldset>
    <div class="flex items-end gap-3">
      <Btn small @click="add">Another count</Btn>
      <ChoiceField
        v-if="form.legs.length > 1"
        v-model="form.combine"
        label="Of these holds"
        :options="[
          { value: 'earliest', text: 'the earliest' },
          { value: 'latest', text: 'the latest' },
        ]"
      />
    </div>
    <p class="rounded-control bg-mist px-3 py-2" aria-live="polite"><b class="font-semibold">It reads:</b> {{ words }}</p>
    <label class="flex items-center gap-2"
      ><input v-model="form.serviceExtends" type="checkbox" /> The method of service adds its days</label
    >
    <label class="flex items-center gap-2"
      ><input v-model="form.filing" type="checkbox" /> Done by filing: put off while the clerk’s office cannot be reached</label
    >
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField
        v-if="set.facts.length"
        v-model="form.fact"
        label="Applies"
        :options="[
          { value: '', text: 'always' },
          ...set.facts.flatMap((f) => [
            { value: `+${f.key}`, text: `only where ${f.question}` },
            { value: `-${f.key}`, text: `unless ${f.question}` },
          ]),
        ]"
      />
      <ChoiceField
        v-model="form.provisionalUntil"
        label="Provisional until"
        :options="[
          { value: '', text: 'not provisional' },
          ...set.triggers.filter((t) => t.key !== trigger).map((t) => ({ value: t.key, text: t.title.toLowerCase() })),
        ]"
      />
      <DayField v-model="form.from" label="In force for events from" optional />
      <DayField v-model="form.to" label="to" optional />
    </div>
    <ul v-if="faults.length" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust">
      <li v-for="f in faults" :key="f">{{ f }}</li>
    </ul>
    <template #more><Btn v-if="was" @click="emit('remove')">Take it out of the rules</Btn></template>
  </SideSheet>
</template>
