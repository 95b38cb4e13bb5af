<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useAct, useLoad } from '../use'

const props = defineProps<{ matterId: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data: procedures } = useLoad(() => api.tasks.procedures())
const { data: setting } = useLoad(() => api.matters.setting())
const procedureId = ref<number | null>(null)
const start = ref<string | null>(session.today)
interface Row {
  ordinal: number
  text: string
  how: string
  dueOn: string | null
  assigneeId: number
  keep: boolean
}
const steps = ref<Row[]>([])
const staff = computed(() => setting.value?.staff.map((s) => ({ value: s.id, text: s.name })) ?? [])
const kept = computed(() => steps.value.filter((s) => s.keep))

watch(procedures, (list) => (procedureId.value ??= list?.[0]?.id ?? null))
watch([procedureId, start], async ([id, from]) => {
  if (!id || !from) return
  const plan = await act(() => api.tasks.preview({ id: props.matterId, procedureId: id, start: from }))
  if (plan) steps.value = plan.map((s) => ({ ...s, keep: true }))
})
async function save() {
  const id = procedureId.value
  if (!id || !start.value) return
  const chosen = kept.value.map((s) => ({ ordinal: s.ordinal, dueOn: s.dueOn ?? '', assigneeId: s.assigneeId }))
  const made = await act(() => api.tasks.start({ id: props.matterId, procedureId: id, start: start.value!, steps: chosen }))
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
    :disabled="!kept.length"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid grid-cols-2 gap-3">
      <ChoiceField
        v-model="procedureId"
        label="Procedure"
        autofocus
        :options="(procedures ?? []).map((p) => ({ value: p.id, text: `${p.name} (${p.steps} steps)` }))"
      />
      <DayField v-model="start" label="Starts on" :fault="fault('start')" />
    </div>
    <p class="text-ink-2">These tasks will be made. Change a date or a person, or leave a step out.</p>
    <ol>
      <li
        v-for="s in steps"
        :key="s.ordinal"
        class="grid grid-cols-[22px_1fr_150px_170px] items-start gap-2 border-t border-line-2 py-2"
        :class="!s.keep && 'bg-page'"
      >
        <input v-model="s.keep" type="checkbox" class="mt-1.5" :aria-label="`Keep ${s.text}`" />
        <span class="pt-1"
          >{{ s.text
          }}<span class="block text-sm text-ink-2"
            >{{ s.how }}<template v-if="s.dueOn">: {{ dayText(s.dueOn) }}</template></span
          ></span
        >
        <DayField v-model="s.dueOn" label="Due" :fault="fault(`steps.${kept.indexOf(s)}.dueOn`)" />
        <ChoiceField v-model="s.assigneeId" label="Who" :options="staff" />
      </li>
    </ol>
  </SideSheet>
</template>
