<script setup lang="ts">
import { questionTypes, type Question } from '@heron/contract'
import { computed, ref, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import TextField from '../../ui/TextField.vue'
import { useUnsaved } from '../../ui/unsaved'
import { keyOf } from '../../ui/rows'
import { useForm } from '../../ui/form'

/** Questions that a template asks by itself, in their order; each may hang on a condition. */
const props = defineProps<{ id: number; version: number; questions: readonly Question[]; may: boolean }>()
const emit = defineEmits<{ saved: [] }>()
const notes = useNotes()
const list = ref<(Question & { choiceText: string })[]>([])
const was = ref('')
const asQuestions = () => list.value.map(({ choiceText, ...q }) => ({ ...q, choices: choiceText.split('\n').map((c) => c.trim()).filter(Boolean) })) // prettier-ignore
watch(
  () => props.questions,
  (now) => {
    if (was.value && JSON.stringify(list.value) !== was.value) return
    list.value = now.map((q) => ({ ...q, choiceText: q.choices.join('\n') }))
    was.value = JSON.stringify(list.value)
  },
  { immediate: true },
)
const changed = computed(() => JSON.stringify(list.value) !== was.value)
useUnsaved({ changed: () => changed.value })
const names: Record<(typeof questionTypes)[number], string> = {
  text: 'Text',
  number: 'Number',
  money: 'Amount',
  date: 'Date',
  'yes/no': 'Yes or no',
  choice: 'One of a list',
  choices: 'Several of a list',
  contact: 'Person or organization',
  costs: 'Costs of the matter',
  time: 'Time of the matter',
}
function add() {
  // A key that no other question has, whichever were taken out before.
  let n = list.value.length + 1
  while (list.value.some((q) => q.key === `question_${n}`)) n += 1
  list.value.push({
    key: `question_${n}`,
    text: '',
    type: 'text',
    choices: [],
    required: true,
    when: '',
    help: '',
    choiceText: '',
  })
}
const move = (i: number, by: number) => list.value.splice(i + by, 0, ...list.value.splice(i, 1))
const { state, fault, send } = useForm(() => api.templates.setQuestions({ id: props.id, after: props.version, questions: asQuestions() }))

async function save() {
  if (!(await send())) {
    // What somebody else made of it is shown; what stands here stays.
    if (state.code === 'changed-meanwhile') emit('saved')
    return
  }
  was.value = JSON.stringify(list.value)
  notes.say('The questions are saved')
  emit('saved')
}
</script>

<template>
  <section class="sheet px-4 py-3.5" aria-label="Questions">
    <div class="flex items-center gap-2">
      <h2>Its own questions</h2>
      <Btn v-if="may" small class="ml-auto" @click="add">Add a question</Btn>
    </div>
    <p v-if="!list.length" class="text-ink-2">It asks nothing by itself. An answer stands in the template as {answers.key}.</p>
    <VueDraggable v-model="list" handle="[data-grip]" :disabled="!may">
      <fieldset v-for="(q, i) in list" :key="keyOf(q)" :disabled="!may" class="border-t border-line-2 py-2">
        <legend class="sr-only">Question {{ i + 1 }}</legend>
        <div class="grid stacks items-end gap-2 min-[700px]:grid-cols-[minmax(0,1fr)_150px_170px]">
          <TextField v-model="q.text" label="Question" :fault="fault(`questions.${i}.text`)" />
          <TextField v-model="q.key" label="Key" :fault="fault(`questions.${i}.key`)" />
          <ChoiceField v-model="q.type" label="Answer" :options="questionTypes.map((t) => ({ value: t, text: names[t] }))" />
        </div>
        <div v-if="q.type === 'choice' || q.type === 'choices'" class="mt-2">
          <TextField v-model="q.choiceText" label="Choices, one in a line" :lines="3" :fault="fault(`questions.${i}.choices`)" />
        </div>
        <div class="mt-2 grid stacks items-end gap-2 min-[700px]:grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto]">
          <TextField
            v-model="q.when"
            label="Asked only where"
            optional
            placeholder="answers.tone = 'firm'"
            :fault="fault(`questions.${i}.when`)"
          />
          <TextField v-model="q.help" label="Help" optional :fault="fault(`questions.${i}.help`)" />
          <label class="flex gap-2 pb-1.5"><input v-model="q.required" type="checkbox" class="accent-ink" /> must be answered</label>
        </div>
        <div v-if="may" class="mt-1 flex gap-2">
          <span data-grip class="cursor-grab px-1 text-ink-3" aria-hidden="true">⋮⋮</span>
          <Btn small :disabled="i === 0" :aria-label="`Question ${i + 1} up`" @click="move(i, -1)">Up</Btn>
          <Btn small :disabled="i === list.length - 1" :aria-label="`Question ${i + 1} down`" @click="move(i, 1)">Down</Btn>
          <Btn small :aria-label="`Take question ${i + 1} away`" @click="list.splice(i, 1)">Take away</Btn>
        </div>
      </fieldset>
    </VueDraggable>
    <p v-if="fault('questions') || state.said" role="alert" class="mt-2 text-rust">
      {{ fault('questions') || state.said }}
    </p>
    <Btn v-if="may && changed" class="mt-3" main :busy="state.busy" @click="save">Save the questions</Btn>
  </section>
</template>
