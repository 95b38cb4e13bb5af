<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, defineAsyncComponent, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { useMeanwhile } from '../ui/meanwhile'
import Meanwhile from '../ui/Meanwhile.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters, searchPapers } from '../ui/search'
import { momentText } from '../ui/show'
import ManyField from '../ui/ManyField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { typedMinutes, useLoad } from '../use'

const props = defineProps<{ id?: number; matter?: Choice | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
/** Loaded when it is first wanted: the first page seldom needs it. */
const RecordTime = defineAsyncComponent(() => import('../time/RecordTime.vue'))
const recording = ref(false)
const notes = useNotes()
type Task = Answer<typeof api.tasks.get>
const { data: task, problem, reload } = useLoad<Task | null>(async () => (props.id ? api.tasks.get({ id: props.id }) : null))
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const formOf = (t?: Task) => ({
  text: t?.text ?? '',
  details: t?.details ?? '',
  matter: t ? (t.matterId ? ({ id: t.matterId, text: t.matter ?? '' } as Choice) : null) : (props.matter ?? null),
  assigneeId: t?.assigneeId ?? session.me!.id,
  dueOn: (t?.dueOn ?? null) as Day | null,
  dueTime: t?.dueTime ?? '',
  remindOn: (t?.remindOn ?? null) as Day | null,
  hours: t?.estimateMinutes ? String(t.estimateMinutes / 60) : '',
  priority: t?.priority ?? ('normal' as Task['priority']),
  onlyNamed: t?.onlyNamed ?? false,
  named: t?.named.map((n) => n.id) ?? [],
  items: (t?.checklist ?? []).map((i): { id?: number; text: string; done: boolean } => ({ ...i })),
  paperIds: t?.papers.map((p) => p.id) ?? [],
})
const form = reactive(formOf())
/** The task as it was read, which a save must find again. */
let seen: ReturnType<typeof formOf> | null = null
const staff = computed(
  () => setting.value?.staff.map((s) => ({ value: s.id, text: s.name })) ?? [{ value: session.me!.id, text: session.me!.name }],
)
const priorities = [
  { value: 'high' as const, text: 'First' },
  { value: 'normal' as const, text: 'Normal' },
  { value: 'low' as const, text: 'When there is time' },
]
const meanwhile = useMeanwhile(form, {
  text: 'What is to be done',
  matter: 'Matter',
  assigneeId: ['Who', (id) => staff.value.find((s) => s.value === id)?.text ?? ''],
  priority: ['Priority', (p) => priorities.find((x) => x.value === p)?.text ?? ''],
  dueOn: 'Due',
  dueTime: 'At',
  remindOn: 'Remind on',
  hours: 'Estimate, hours',
  details: 'Details',
  items: 'Checklist',
  paperIds: ['Papers', (ids) => known.value.flatMap((p) => (ids.includes(p.id) ? [p.text] : [])).join(', ')],
  onlyNamed: 'Only those named here see it',
  named: ['Who is named', (ids) => staff.value.flatMap((s) => (ids.includes(s.value) ? [s.text] : [])).join(', ')],
})
watch(task, (t) => {
  // What is being entered stays when only the comments were read again.
  if (!t || (seen && meanwhile.changed.value)) return
  seen = formOf(t)
  Object.assign(form, formOf(t))
  meanwhile.begin()
})
const { data: papers } = useLoad(
  async () => (form.matter && session.may('papers.see') ? (await api.papers.list({ matterId: form.matter.id, size: 60 })).rows : []),
  [() => form.matter?.id],
)
/** Those that the task had, and the newest of the matter; others are found by their names. */
const known = computed((): Choice[] => {
  const had = task.value && task.value.matterId === form.matter?.id ? task.value.papers : []
  return [...had, ...(papers.value ?? []).filter((p) => !had.some((h) => h.id === p.id))].map((p) => ({ id: p.id, text: p.name }))
})
// Papers of one matter do not go along to another; those that came with it, as somebody else kept them, stay.
watch(
  () => ({ id: form.matter?.id, papers: form.paperIds }),
  (now, was) => {
    if (!was.id || now.id === was.id || now.papers !== was.papers) return
    form.paperIds = task.value?.matterId === now.id ? task.value!.papers.map((p) => p.id) : []
  },
)
const item = ref('')
function addItem() {
  if (item.value.trim()) form.items.push({ text: item.value.trim(), done: false })
  item.value = ''
}

function input({ matter, hours, items, dueTime, ...rest }: ReturnType<typeof formOf>) {
  return {
    ...rest,
    matterId: matter?.id ?? null,
    dueTime: dueTime || null,
    estimateMinutes: typedMinutes(hours),
    items: items.map((i) => (i.id ? { id: i.id, text: i.text, done: i.done } : { text: i.text, done: i.done })),
  }
}
const { state, act, fault, send } = useForm(() =>
  props.id ? api.tasks.change({ id: props.id, ...input(form), ...(seen ? { seen: input(seen) } : {}) }) : api.tasks.make(input(form)),
)
async function save() {
  addItem()
  const done = await meanwhile.save<unknown>(state, send, async () => (seen = formOf(await api.tasks.get({ id: props.id! }))))
  if (!done) return
  // What is said beside goes with it.
  if (props.id && said.value.trim() && !(await act(() => api.tasks.comment({ id: props.id!, text: said.value })))) return
  notes.say(props.id ? 'Task changed' : 'Task made')
  session.changed()
  emit('close')
}
const said = ref('')
async function comment() {
  if (!said.value.trim() || !props.id) return
  if (!(await act(() => api.tasks.comment({ id: props.id!, text: said.value })))) return
  said.value = ''
  session.changed()
  await reload()
}
async function takeOut() {
  if (!props.id || !(await sure('Take the task out', 'It goes from every list; what was said about it goes with it.', 'Take it out')))
    return
  if (!(await act(() => api.tasks.remove({ id: props.id! })))) return
  notes.say('Task taken out')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :waiting="Boolean(id) && !task"
    :title="id ? 'Task' : 'New task'"
    :save="id ? 'Save' : 'Make task'"
    :busy="state.busy"
    :message="state.said || (id && !task ? problem : '')"
    :changed="meanwhile.changed.value"
    :disabled="Boolean(id) && !task?.mayChange"
    @save="save"
    @close="emit('close')"
  >
    <p v-if="task?.waits" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">Waits for: {{ task.waits }}</p>
    <p v-if="task?.step" class="text-ink-2">{{ task.procedure }}, {{ task.step }}</p>
    <Meanwhile :of="meanwhile" />
    <TextField v-model="form.text" label="What is to be done" :fault="fault('text')" autofocus />
    <Picker v-if="!task?.step" v-model="form.matter" label="Matter" optional :search="searchMatters" :fault="fault('matterId')" />
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField v-model="form.assigneeId" label="Who" :options="staff" :fault="fault('assigneeId')" />
      <ChoiceField v-model="form.priority" label="Priority" :options="priorities" />
      <DayField v-model="form.dueOn" label="Due" optional :fault="fault('dueOn')" />
      <TimeField v-model="form.dueTime" label="At" optional :fault="fault('dueTime')" />
      <DayField v-model="form.remindOn" label="Remind on" optional :fault="fault('remindOn')" />
      <TextField v-model="form.hours" label="Estimate, hours" optional :fault="fault('estimateMinutes')" />
    </div>
    <TextField v-model="form.details" label="Details" optional :lines="3" :fault="fault('details')" />
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Checklist</legend>
      <div v-for="(i, n) in form.items" :key="n" class="flex items-center gap-2 border-t border-line-2 py-1">
        <input v-model="i.done" type="checkbox" class="h-[15px] w-[15px] accent-ink" :aria-label="`Done: ${i.text}`" />
        <input v-model="i.text" class="control" :aria-label="`Item ${n + 1}`" />
        <Btn small @click="form.items.splice(n, 1)">Take out</Btn>
      </div>
      <div class="mt-1 flex gap-2">
        <input v-model="item" class="control" aria-label="New item" placeholder="New item" @keydown.enter.stop.prevent="addItem" />
        <Btn small @click="addItem">Add</Btn>
      </div>
    </fieldset>
    <ManyField
      v-if="known.length && form.matter"
      v-model="form.paperIds"
      label="Papers"
      optional
      :options="known"
      :find="session.may('papers.see') ? searchPapers(form.matter.id) : undefined"
      :fault="fault('paperIds')"
    />
    <fieldset v-if="form.matter">
      <label class="flex gap-2"><input v-model="form.onlyNamed" type="checkbox" class="accent-ink" /> Only those named here see it</label>
      <div v-if="form.onlyNamed" class="mt-1 grid stacks grid-cols-2">
        <label v-for="s in staff" :key="s.value" class="flex gap-2"
          ><input v-model="form.named" type="checkbox" :value="s.value" class="accent-ink" /> {{ s.text }}</label
        >
      </div>
    </fieldset>
    <section v-if="id && task" aria-label="Comments">
      <h3 class="mb-1 text-sm font-medium text-ink-2">Comments</h3>
      <p v-for="c in task.talk" :key="c.id" class="border-t border-line-2 py-1.5">
        <b class="font-semibold">{{ c.who }}</b> <span class="text-sm text-ink-2">{{ momentText(c.at) }}</span><br />{{ c.text }}
      </p>
      <div class="mt-1 flex gap-2">
        <input v-model="said" class="control" aria-label="Comment" placeholder="Comment" @keydown.enter.stop.prevent="comment" />
        <Btn small :busy="state.busy" @click="comment">Say</Btn>
      </div>
    </section>
    <p v-if="task" class="text-sm text-ink-2">
      Given out by {{ task.assignedBy }}<template v-if="task.doneAt">; done by {{ task.doneBy }}, {{ momentText(task.doneAt) }}</template>
    </p>
    <template #more
      ><Btn v-if="id && form.matter && session.may('time.record')" @click="recording = true">Record time</Btn
      ><Btn v-if="id && task && !task.done && task.mayChange" @click="takeOut">Take out</Btn></template
    >
    <RecordTime v-if="recording" :matter="form.matter" :words="form.text" @close="recording = false" />
  </SideSheet>
</template>
