<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import Btn from '../ui/Btn.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { clockText, dayText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'
import { useNotes } from './notes'
import { useSession } from './session'

const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: timers, problem, reload } = useLoad(() => api.time.timers())
const matter = ref<Choice | null>(null)
const text = ref('')
const chosen = ref<number | null>(null)
const started = ref('')
const ended = ref('')
const now = computed(() => timers.value?.find((t) => t.id === chosen.value))

watch(timers, (list) => {
  if (chosen.value !== null || !list?.[0]) return
  choose(list[0])
})
function choose(t: NonNullable<typeof timers.value>[number]) {
  chosen.value = t.id
  matter.value = t.matterId ? { id: t.matterId, text: t.matter } : null
  text.value = t.text
  started.value = t.since?.time ?? ''
  ended.value = ''
}
async function after(said: string, leave = true) {
  notes.say(said)
  session.changed()
  if (leave) emit('close')
  else await reload()
}
const { state, act, fault, send } = useForm(() => api.time.startTimer({ matterId: matter.value?.id ?? null, text: text.value }))

async function start() {
  const made = await send()
  if (made) await after('Timer started')
}
async function stop() {
  // Until it is known what runs, nothing is started or stopped.
  if (!timers.value) return
  const id = chosen.value
  if (id === null) return start()
  const hours = {
    started: now.value?.since && started.value !== now.value.since.time ? started.value || null : null,
    ended: ended.value || null,
  }
  if ((hours.started || hours.ended) && !(await act(() => api.time.setTimer({ id, ...hours })))) return
  const made = await act(() => api.time.stopTimer({ id, matterId: matter.value?.id ?? 0, text: text.value }))
  if (made) await after('Time kept as a draft')
}
async function toggle(id: number, running: boolean) {
  if (await act(() => api.time.runTimer({ id, running }))) await after(running ? 'Timer goes on' : 'Timer paused', false)
}
async function drop(t: NonNullable<typeof timers.value>[number]) {
  const { id } = t
  if (
    !(await sure(
      'Drop the timer',
      `${clockText(t.seconds)} of ${t.text || t.matter || 'work without a text'} is not kept as time.`,
      'Drop it',
    ))
  )
    return
  if (!(await act(() => api.time.dropTimer({ id })))) return
  chosen.value = null
  await after('Timer dropped', false)
}
function fresh() {
  chosen.value = null
  matter.value = null
  text.value = ''
}
</script>

<template>
  <SideSheet
    :waiting="!timers"
    :title="chosen === null ? 'Start a timer' : 'Timer'"
    :save="chosen === null ? 'Start timer' : 'Stop and keep as draft'"
    :busy="state.busy"
    :message="state.message || (timers ? '' : problem)"
    @save="stop"
    @close="$emit('close')"
  >
    <template v-if="timers">
      <Picker v-model="matter" label="Matter" :search="searchMatters" :fault="fault('matterId')" autofocus />
      <TextField v-model="text" label="What is being done" :fault="fault('text')" />
      <template v-if="now?.running">
        <p v-if="now.overnight" role="status" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
          This timer has run since {{ dayText(now.since!.day) }}. Say until when you worked; the time is kept on that day.
        </p>
        <div class="grid stacks grid-cols-2 gap-3">
          <TimeField v-model="started" label="Started at" :fault="fault('started')" />
          <TimeField v-model="ended" label="Worked until" :optional="!now.overnight" :fault="fault('ended')" />
        </div>
      </template>
      <div v-if="timers?.length" class="pt-2">
        <h3 class="mb-1">Running and paused</h3>
        <div
          v-for="t in timers"
          :key="t.id"
          class="flex items-center gap-2 border-t border-line-2 py-1.5"
          :class="t.id === chosen && 'bg-bill-wash'"
        >
          <b class="w-16">{{ clockText(t.seconds) }}</b>
          <button type="button" class="min-w-0 flex-1 truncate text-left underline-offset-2 hover:underline" @click="choose(t)">
            {{ t.text || 'no text yet' }}<span class="text-ink-2"> {{ t.matter }}</span>
          </button>
          <Btn small @click="toggle(t.id, !t.running)">{{ t.running ? 'Pause' : 'Go on' }}</Btn>
          <Btn small @click="drop(t)">Drop</Btn>
        </div>
      </div>
    </template>
    <template #more><Btn v-if="chosen !== null" @click="fresh">Start another</Btn></template>
  </SideSheet>
</template>
