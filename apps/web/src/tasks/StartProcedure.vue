<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { useLatest, useLoad } from '../use'
import StepRows from './StepRows.vue'
import { agreed, stepRows, type StepRow } from './steps'
import TimeLine from './TimeLine.vue'

const props = defineProps<{ matterId: number; areaId: number | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: procedures } = useLoad(() => api.tasks.procedures())
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
// Those of the matter's area first, then those for any, then the rest.
const near = (areaId: number | null) => (areaId !== null && areaId === props.areaId ? 0 : areaId === null ? 1 : 2)
const offered = computed(() => (procedures.value ?? []).filter((p) => !p.retired).sort((a, b) => near(a.areaId) - near(b.areaId)))
const procedureId = ref<number | null>(null)
const start = ref<Day | null>(session.today)
const givenTo = ref(session.me!.id)
const anchors = reactive<Record<string, string>>({})
type Plan = Answer<typeof api.tasks.preview>
const plan = ref<Plan | null>(null)
const steps = ref<StepRow[]>([])
const staff = computed(() => setting.value?.staff.map((s) => ({ value: s.id, text: s.name })) ?? [])
const kept = computed(() => steps.value.filter((s) => s.keep))
const chosen = computed(() => offered.value.find((p) => p.id === procedureId.value))

watch(offered, (list) => (procedureId.value ??= list[0]?.id ?? null))
watch(procedureId, () => {
  steps.value = []
  Object.keys(anchors).forEach((k) => delete anchors[k])
})
const { run, settled } = useLatest()
watch([procedureId, start, givenTo, () => JSON.stringify(anchors)], ([id, from]) =>
  run(async (current) => {
    if (!id || !from) return false
    const got = await act(() =>
      api.tasks.preview({ id: props.matterId, procedureId: id, start: from, givenTo: givenTo.value, anchors: { ...anchors } }),
    )
    if (!got || !current()) return false
    plan.value = got
    steps.value = stepRows(got.steps, steps.value)
    return true
  }),
)
const { state, act, fault, send } = useForm(() => {
  const id = procedureId.value
  const own = agreed(steps.value)
  return api.tasks.start({
    id: props.matterId,
    procedureId: id,
    start: start.value!,
    givenTo: givenTo.value,
    anchors: { ...anchors },
    version: plan.value!.version,
    steps: own,
  })
})

async function save() {
  const id = procedureId.value
  if (!id || !start.value || !plan.value) return
  const made = await send()
  if (!made) return
  notes.say(`${plural(made.tasks, 'task')} made`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Start a procedure"
    wide
    :save="`Make ${plural(kept.length, 'task')}`"
    :busy="state.busy"
    :message="state.message"
    :disabled="!kept.length || !settled"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-2 gap-3">
      <ChoiceField
        v-model="procedureId"
        label="Procedure"
        autofocus
        :options="offered.map((p) => ({ value: p.id, text: `${p.name} (${p.steps} steps)` }))"
      />
      <DayField v-model="start" label="Starts on" :fault="fault('start')" />
      <ChoiceField v-if="chosen?.given" v-model="givenTo" label="Given to" :options="staff" />
      <ChoiceField
        v-for="d in plan?.dates ?? []"
        :key="d.name"
        :model-value="anchors[d.name] ?? d.chosen ?? 'none'"
        :label="`Which date is the ${d.name}`"
        :hint="d.choices.length ? undefined : 'There is no date on the docket yet. These steps stay without one until there is.'"
        :options="[
          { value: 'none', text: 'Not yet known' },
          ...d.choices.map((c) => ({ value: c.key, text: `${c.title}, ${dayText(c.day)}` })),
        ]"
        @update:model-value="anchors[d.name] = String($event)"
      />
    </div>
    <TimeLine :points="kept.map((s) => ({ text: s.text, day: s.dueOn }))" />
    <p class="text-ink-2">These tasks will be made. Change a date or a person, or leave a step out.</p>
    <StepRows v-model="steps" :staff="staff" :fault-at="(i) => fault(`steps.${i}.dueOn`)" />
  </SideSheet>
</template>
