<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { api, type Answer } from '../api'
import GrantFields from '../matters/GrantFields.vue'
import { teamRoleOf } from '../matters/roles'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { keyOf } from '../ui/rows'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

type Area = Answer<typeof api.firm.areas>[number]
const props = defineProps<{ area: Area | null }>()
const emit = defineEmits<{ saved: [string]; close: [] }>()
const { data: setting } = useLoad(() => api.matters.setting())
const { data: procedures } = useLoad(() => api.tasks.procedures())
const a = props.area
const form = reactive({
  name: a?.name ?? '',
  ruleSetKey: a?.ruleSetKey ?? '',
  staff: { ...(a?.staff ?? { file: 2, docket: 2, papers: 2, money: 2, trust: 2 }) },
  stages: (a?.stages ?? []).map((s) => ({ id: s.id as number | undefined, name: s.name, retired: s.retired, matters: s.matters })),
  team: [...(a?.team ?? [])],
  procedureIds: [...(a?.procedureIds ?? [])],
  retired: a?.retired ?? false,
})
const before = JSON.stringify(form)
const changed = computed(() => JSON.stringify(form) !== before)
const stage = ref('')
function addStage() {
  if (stage.value.trim()) form.stages.push({ id: undefined, name: stage.value.trim(), retired: false, matters: 0 })
  stage.value = ''
}
function move(at: number, step: number) {
  const to = at + step
  const [s] = form.stages.splice(at, 1)
  if (s) form.stages.splice(Math.max(0, Math.min(form.stages.length, to)), 0, s)
}
const onTeam = computed({
  get: () => form.team.map((t) => t.userId),
  set: (ids: number[]) =>
    (form.team = ids.map(
      (userId) =>
        form.team.find((t) => t.userId === userId) ?? { userId, role: teamRoleOf(setting.value?.staff.find((s) => s.id === userId)?.role) },
    )),
})
const { state, fault, send } = useForm(() => {
  const input = {
    ...form,
    ruleSetKey: form.ruleSetKey || null,
    stages: form.stages.map(({ id, name, retired }) => (id ? { id, name, retired } : { name, retired })),
  }
  return a ? api.firm.changeArea({ id: a.id, ...input }) : api.firm.makeArea(input)
})
async function save() {
  addStage()
  if (await send()) emit('saved', form.name)
}
</script>

<template>
  <SideSheet
    :title="a ? a.name : 'New practice area'"
    wide
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField v-model="form.name" label="Name" :fault="fault('name')" autofocus />
      <ChoiceField
        v-model="form.ruleSetKey"
        label="Rules by which dates are counted"
        :options="[{ value: '', text: 'None' }, ...(setting?.ruleSets ?? []).map((r) => ({ value: r.key, text: r.title }))]"
      />
    </div>
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Stages, in order: drag them, or use the arrow buttons</legend>
      <VueDraggable v-model="form.stages" handle=".grip" :animation="120">
        <div v-for="(s, i) in form.stages" :key="keyOf(s)" class="flex items-center gap-2 border-t border-line-2 py-1">
          <span class="grip cursor-grab px-1 text-ink-3" aria-hidden="true">⠿</span>
          <input v-model="s.name" class="control" :aria-label="`Stage ${i + 1}`" />
          <Btn small :disabled="i === 0" :aria-label="`${s.name} earlier`" @click="move(i, -1)">↑</Btn>
          <Btn small :disabled="i === form.stages.length - 1" :aria-label="`${s.name} later`" @click="move(i, 1)">↓</Btn>
          <label v-if="s.id" class="flex items-center gap-1 whitespace-nowrap"
            ><input v-model="s.retired" type="checkbox" class="accent-ink" /> retired</label
          >
          <Btn v-if="!s.matters" small :aria-label="`Take out ${s.name}`" @click="form.stages.splice(i, 1)">Take out</Btn>
        </div>
      </VueDraggable>
      <div class="mt-1 flex gap-2">
        <input v-model="stage" class="control" aria-label="New stage" placeholder="New stage" @keydown.enter.stop.prevent="addStage" />
        <Btn small @click="addStage">Add</Btn>
      </div>
      <p v-if="fault('stages')" class="text-sm text-rust">{{ fault('stages') }}</p>
    </fieldset>
    <p class="text-sm font-medium text-ink-2">What all staff may do on matters opened in this area</p>
    <GrantFields v-model="form.staff" :fault="fault('staff.file')" />
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Put on the team</legend>
      <div class="grid stacks grid-cols-3">
        <label v-for="s in setting?.staff ?? []" :key="s.id" class="flex gap-2"
          ><input v-model="onTeam" type="checkbox" :value="s.id" class="accent-ink" /> {{ s.name }}</label
        >
      </div>
    </fieldset>
    <fieldset>
      <legend class="mb-1 text-sm font-medium text-ink-2">Procedures offered first</legend>
      <label v-for="p in (procedures ?? []).filter((x) => !x.retired)" :key="p.id" class="flex gap-2"
        ><input v-model="form.procedureIds" type="checkbox" :value="p.id" class="accent-ink" /> {{ p.name }}</label
      >
    </fieldset>
    <label v-if="a" class="flex gap-2"
      ><input v-model="form.retired" type="checkbox" class="accent-ink" /> Retired: no new matter is opened in it</label
    >
  </SideSheet>
</template>
