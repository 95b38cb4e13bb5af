<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import StepRows from '../tasks/StepRows.vue'
import { agreed, stepRows, type StepRow } from '../tasks/steps'
import ChoiceField from '../ui/ChoiceField.vue'
import { plural } from '../ui/show'

/** The procedure that starts with the matter, with its actual dates and people before anything is made. */
const procedureId = defineModel<number>({ required: true })
const props = defineProps<{
  procedures: { id: number; name: string; steps: number }[]
  start: string | null
  leadId: number
  team: { userId: number; role: 'lead' | 'lawyer' | 'paralegal' | 'assistant' | 'outside' }[]
  staff: { value: number; text: string }[]
  fault: (path: string) => string
}>()
const version = ref(0)
const steps = ref<StepRow[]>([])
const problem = ref('')
let turn = 0
watch(procedureId, () => (steps.value = []))
watch(
  () => JSON.stringify([procedureId.value, props.start, props.leadId, props.team]),
  async () => {
    const mine = ++turn
    if (!procedureId.value || !props.start || !props.leadId) return
    const asked = { procedureId: procedureId.value, start: props.start, leadId: props.leadId, team: props.team }
    try {
      const got = await api.tasks.previewOpening(asked)
      if (mine !== turn) return
      version.value = got.version
      steps.value = stepRows(got.steps, steps.value)
      problem.value = ''
    } catch (error) {
      if (mine === turn) problem.value = error instanceof Error ? error.message : 'The steps could not be read.'
    }
  },
  { immediate: true },
)
const kept = computed(() => steps.value.filter((s) => s.keep).length)
/** What is sent with the opening. */
const procedures = () =>
  procedureId.value && props.start
    ? [
        {
          procedureId: procedureId.value,
          start: props.start,
          ...(steps.value.length ? { agreed: { version: version.value, steps: agreed(steps.value) } } : {}),
        },
      ]
    : []
defineExpose({ procedures })
</script>

<template>
  <h2 class="mb-2.5">First steps</h2>
  <ChoiceField
    v-model="procedureId"
    label="Procedure to start on opening"
    :fault="fault('procedures.0.procedureId')"
    :options="[
      { value: 0, text: 'None now' },
      ...props.procedures.map((p) => ({ value: p.id, text: `${p.name}, ${plural(p.steps, 'step')}` })),
    ]"
  />
  <p v-if="problem" role="alert" class="mt-2 text-rust">{{ problem }}</p>
  <template v-if="procedureId">
    <p v-if="!leadId" class="mt-2 text-ink-2">Its dates and people stand here once the lead is chosen.</p>
    <template v-else-if="steps.length">
      <p class="mt-2 text-ink-2">
        {{ plural(kept, 'task') }} will be made. Change a date or a person, or leave a step out. Steps that hang on a date of the docket get
        it when it is there.
      </p>
      <StepRows v-model="steps" class="mt-1.5" :staff="staff" :fault-at="(i) => fault(`procedures.0.agreed.steps.${i}.dueOn`)" />
    </template>
  </template>
</template>
