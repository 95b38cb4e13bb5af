<script setup lang="ts">
import { marks, type DocketRow } from '@heron/contract'
import { showCourtDays } from '@heron/core/calendar'
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import WeightMark from '../ui/WeightMark.vue'
import { useAct } from '../use'

const props = defineProps<{ row: DocketRow }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()

async function mark(value: (typeof marks)[number]) {
  const was = props.row.mark
  if (!(await act(() => api.docket.mark({ id: props.row.id, mark: value })))) return
  notes.say(`${props.row.title}: ${value}`, {
    label: 'Undo',
    act: () => api.docket.mark({ id: props.row.id, mark: was }).then(session.changed),
  })
  session.changed()
  emit('close')
}
const moving = ref(false)
const day = ref<string | null>(props.row.day)
const by = ref<'hand' | 'court'>('court')
const why = ref('')
async function move() {
  const done = await act(() => api.docket.move({ id: props.row.id, day: day.value ?? '', by: by.value, why: why.value }))
  if (!done) return
  notes.say(`${props.row.title} moved${done.follows ? '; steps of a procedure would follow: look at To do' : ''}`)
  session.changed()
  emit('close')
}
async function include(leftOut: boolean) {
  if (!(await act(() => api.docket.include({ id: props.row.id, leftOut })))) return
  notes.say(leftOut ? 'Left out' : 'Docketed')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet :title="row.title" :message="state.fields.length ? '' : state.message" @close="emit('close')">
    <div class="flex items-stretch gap-2">
      <WeightMark :weight="row.weight" />
      <p class="py-1">
        <b class="font-serif text-xl">{{ dayText(row.day) }}</b>
        <span class="text-ink-2">{{ showCourtDays(row.courtDays) }} · {{ row.weight }}</span>
      </p>
    </div>
    <p v-if="row.text">{{ row.text }}</p>
    <p v-if="row.authority">
      <span class="text-ink-2">Authority: </span
      ><a v-if="row.link" :href="row.link" target="_blank" rel="noopener noreferrer" class="text-lagoon underline">{{ row.authority }}</a
      ><template v-else>{{ row.authority }}</template>
    </p>
    <p class="text-ink-2">
      {{ row.matter }}<template v-if="row.responsible"> · {{ row.responsible }}</template
      ><template v-if="row.dayEnds"> · the day ends at {{ row.dayEnds }} for electronic filing</template>
    </p>
    <section v-if="row.trace.length">
      <h3 class="mb-1">How it is counted</h3>
      <p v-if="row.howCounted" class="text-ink-2">{{ row.howCounted }}</p>
      <ol class="mt-1 list-decimal space-y-1 pl-5">
        <li v-for="(t, i) in row.trace" :key="i">{{ t.text }}</li>
      </ol>
    </section>
    <form v-if="moving" class="space-y-2 border-t border-line-2 pt-2" @submit.prevent="move">
      <DayField v-model="day" label="New day" :fault="fault('day')" autofocus />
      <ChoiceField
        v-model="by"
        label="Set by"
        :options="[
          { value: 'court', text: 'The court' },
          { value: 'hand', text: 'Us, by hand' },
        ]"
      />
      <TextField v-model="why" label="Why" :fault="fault('why')" />
      <Btn main type="submit" :busy="state.busy">Move the date</Btn>
    </form>
    <div v-if="session.may('docket.change')" class="flex flex-wrap gap-2 pt-2">
      <Btn v-if="!row.leftOut && !moving" small @click="moving = true">Move</Btn>
      <template v-if="row.leftOut"><Btn main :busy="state.busy" @click="include(false)">Docket it after all</Btn></template>
      <template v-else>
        <Btn v-for="m in marks.filter((x) => x !== row.mark)" :key="m" small :busy="state.busy" @click="mark(m)">Mark {{ m }}</Btn>
        <Btn small :busy="state.busy" @click="include(true)">Leave out</Btn>
      </template>
    </div>
  </SideSheet>
</template>
