<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText, showHours, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

type Line = Answer<typeof api.billing.preBill>['lines'][number]
/** Lines of a pre-bill split, made one, moved to another matter, or a fee added. */
const props = defineProps<{ id: number; how: 'split' | 'merge' | 'move' | 'add'; lines: readonly Line[] }>()
const emit = defineEmits<{ close: []; done: [] }>()
const notes = useNotes()
const first = props.lines[0]
const duration = ref('')
const text = ref(props.how === 'merge' ? [...new Set(props.lines.map((l) => l.text))].join('; ').slice(0, 1000) : (first?.text ?? ''))
const restText = ref(first?.text ?? '')
const matter = ref<Choice | null>(null)
const amount = ref<number | null>(null)
const titles = { split: 'Split the line', merge: 'Make one line', move: 'Move to another matter', add: 'Add a fee' }
const saves = { split: 'Split', merge: 'Make one', move: 'Move', add: 'Add' }
const said = {
  split: 'Split in two',
  merge: 'Made one; Part in its menu takes it apart',
  move: 'Moved; it is unbilled there',
  add: 'Fee added',
}
const { state, fault, send } = useForm(() => {
  const { id, how } = props
  const lineId = first?.id ?? 0
  return how === 'split'
    ? api.billing.splitLine({ id, lineId, duration: duration.value, text: text.value, restText: restText.value })
    : how === 'merge'
      ? api.billing.mergeLines({ id, lineIds: props.lines.map((l) => l.id), text: text.value })
      : how === 'move'
        ? api.billing.moveLine({ id, lineId, matterId: matter.value?.id ?? 0 })
        : api.billing.addLine({ id, label: text.value, amount: amount.value ?? 0 })
})

async function save() {
  if (!(await send())) return
  notes.say(said[props.how])
  emit('done')
}
</script>

<template>
  <SideSheet
    :title="titles[how]"
    :save="saves[how]"
    :busy="state.busy"
    :message="state.fields.some((f) => f.path !== 'lineIds' && f.path !== 'lineId') ? '' : state.fields[0]?.message || state.message"
    @save="save"
    @close="emit('close')"
  >
    <template v-if="how === 'split' && first">
      <p>
        {{ showHours(first.minutes ?? 0) }} h of {{ first.timekeeper }}<template v-if="first.day">, {{ dayText(first.day) }}</template
        >, {{ showMoney(first.charged) }}
      </p>
      <TextField v-model="duration" label="Time of the first part" placeholder="0.7, 1:30 or 90m" :fault="fault('duration')" autofocus />
      <TextField v-model="text" label="What the first part was" :lines="3" :fault="fault('text')" />
      <TextField v-model="restText" label="What the rest was" :lines="3" :fault="fault('restText')" />
    </template>
    <template v-else-if="how === 'merge'">
      <ul class="list-disc pl-5">
        <li v-for="l in lines" :key="l.id">{{ showHours(l.minutes ?? 0) }} h {{ l.text }}</li>
      </ul>
      <TextField v-model="text" label="Text on the bill" :lines="4" :fault="fault('text')" autofocus />
      <p class="text-ink-2">The entries stay as they were recorded; the bill shows them as one.</p>
    </template>
    <template v-else-if="how === 'move'">
      <p>{{ first?.text }}</p>
      <Picker v-model="matter" label="To the matter" :search="searchMatters" :fault="fault('matterId')" autofocus />
    </template>
    <template v-else>
      <TextField v-model="text" label="What for" :fault="fault('label')" autofocus />
      <MoneyField v-model="amount" label="Fee" :fault="fault('amount')" />
      <p class="text-ink-2">It stands on this bill beside what was recorded. Where it is not billed after all, take it out again.</p>
    </template>
  </SideSheet>
</template>
