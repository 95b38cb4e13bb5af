<script setup lang="ts">
import { procedureRoles, type ProcedureIn } from '@heron/contract'
import { addDays } from '@heron/core/calendar'
import { docketAnchors, faultsOfSteps, planProcedure, showTiming } from '@heron/core/tasks'
import { weekdaysOnly } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { VueDraggable } from 'vue-draggable-plus'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import TimeLine from '../tasks/TimeLine.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { momentText, plural } from '../ui/show'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import StepSheet from './StepSheet.vue'

type Step = ProcedureIn['steps'][number]
const route = useRoute()
const router = useRouter()
const session = useSession()
const notes = useNotes()
const id = computed(() => Number(route.params['id']) || 0)
const { data: setting } = useLoad(() => api.matters.setting())
const loaded = useLoad(async () => (id.value ? api.tasks.procedure({ id: id.value }) : null), [id])
const form = reactive({ name: '', description: '', areaId: 0, steps: [] as Step[] })
watch(
  loaded.data,
  (p) =>
    p &&
    Object.assign(form, {
      name: p.name,
      description: p.description,
      areaId: p.areaId ?? 0,
      steps: JSON.parse(JSON.stringify(p.steps)) as Step[],
    }),
)
const open = ref<number | null>(null)
const faults = computed(() => faultsOfSteps(form.steps))
const textOf = (key: string) => form.steps.find((s) => s.key === key)?.text ?? key
const who = (s: Step) =>
  s.assignTo.kind === 'role'
    ? s.assignTo.role
    : s.assignTo.kind === 'starter'
      ? 'whoever starts it'
      : s.assignTo.kind === 'given'
        ? 'whoever it is given to'
        : (setting.value?.staff.find((x) => 'userId' in s.assignTo && x.id === s.assignTo.userId)?.name ?? '')
/** As it would fall if it started today, with every docket date 90 days ahead. */
const points = computed(() => {
  if (faults.value.length || !form.steps.length) return []
  const docket = Object.fromEntries(docketAnchors(form.steps).map((d) => [d, addDays(session.today, 90)]))
  const plan = planProcedure(form.steps, { start: session.today, opened: session.today, docket, done: {} }, weekdaysOnly)
  return plan.map((p) => ({ text: textOf(p.key), day: p.due }))
})
function add() {
  let n = form.steps.length + 1
  while (form.steps.some((s) => s.key === `s${n}`)) n += 1
  form.steps.push({
    key: `s${n}`,
    text: '',
    assignTo: { kind: 'role', role: 'lead' },
    priority: 'normal',
    estimateMinutes: null,
    remindDays: null,
    waitsFor: [],
    due: { count: 0, unit: 'business', direction: 'after', anchor: { kind: 'start' } },
  })
  open.value = form.steps.length - 1
}
function move(at: number, step: number) {
  const [s] = form.steps.splice(at, 1)
  if (s) form.steps.splice(at + step, 0, s)
  window.setTimeout(() => document.querySelector<HTMLElement>(`[data-step="${s?.key}"]`)?.focus(), 0)
}
const { state, fault, send } = useForm(() =>
  api.tasks.saveProcedure({
    ...(id.value ? { id: id.value } : {}),
    name: form.name,
    description: form.description,
    areaId: form.areaId || null,
    steps: form.steps,
  }),
)

async function save() {
  const saved = await send()
  if (!saved) return
  notes.say(`Version ${saved.version} kept; what was started before stays as it is`)
  if (id.value) await loaded.reload()
  else await router.replace(`/set-up/procedures/${saved.id}`)
}
</script>

<template>
  <SetUpPage
    :title="form.name || 'New procedure'"
    :hint="loaded.data.value ? `Version ${loaded.data.value.version}, started ${plural(loaded.data.value.runs, 'time')}` : ''"
    @keydown.ctrl.enter="save"
  >
    <template #acts>
      <Btn main :busy="state.busy" :disabled="!form.steps.length || faults.length > 0" key-name="Ctrl Enter" @click="save"
        >Save as a version</Btn
      >
    </template>
    <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
    <div class="sheet mb-3.5 grid stacks grid-cols-[1fr_1.5fr_220px] gap-3 px-4 py-3.5">
      <TextField v-model="form.name" label="Name" :fault="fault('name')" autofocus />
      <TextField v-model="form.description" label="What it is for" optional :fault="fault('description')" />
      <ChoiceField
        v-model="form.areaId"
        label="Area"
        :options="[{ value: 0, text: 'Any' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
      />
    </div>
    <section class="sheet mb-3.5 px-4 py-3.5" aria-label="Line of time">
      <h2>Line of time</h2>
      <p class="text-ink-2">
        As it would fall if it started today<template v-if="docketAnchors(form.steps).length"
          >, with the {{ docketAnchors(form.steps).join(' and the ') }} in 90 days</template
        >.
      </p>
      <TimeLine :points="points" />
    </section>
    <section class="sheet pb-3" aria-label="Steps">
      <div class="flex items-center px-4 pt-3 pb-1">
        <h2>Steps</h2>
        <span class="ml-3 text-ink-2">Drag them, or press Alt with an arrow key on a step.</span>
        <Btn small class="ml-auto" @click="add">New step</Btn>
      </div>
      <ul v-if="faults.length" role="alert" class="mx-4 rounded-control bg-rust-wash px-3 py-2 text-rust">
        <li v-for="f in faults" :key="f">{{ f }}</li>
      </ul>
      <p v-if="!form.steps.length" class="px-4 py-3 text-ink-2">No step yet.</p>
      <VueDraggable v-model="form.steps" handle=".grip" :animation="120">
        <div
          v-for="(s, i) in form.steps"
          :key="s.key"
          class="grid stacks grid-cols-[30px_1fr_1fr_200px_auto] items-center gap-2 border-t border-line-2 px-4 py-1.5"
          @keydown.alt.up.prevent="i > 0 && move(i, -1)"
          @keydown.alt.down.prevent="i < form.steps.length - 1 && move(i, 1)"
        >
          <span class="grip cursor-grab text-ink-3" aria-hidden="true">⠿</span>
          <button type="button" class="text-left font-semibold hover:underline" :data-step="s.key" @click="open = i">
            {{ s.text || 'Step without words' }}
          </button>
          <span class="text-ink-2"
            >{{ showTiming(s.due, textOf)
            }}<span v-if="s.waitsFor.length" class="block text-sm">waits for {{ s.waitsFor.map(textOf).join(', ') }}</span></span
          >
          <span class="text-ink-2">{{ who(s) }}<template v-if="s.priority === 'high'">, first</template></span>
          <Btn small :aria-label="`Take out ${s.text}`" @click="form.steps.splice(i, 1)">Take out</Btn>
        </div>
      </VueDraggable>
    </section>
    <p v-if="loaded.data.value" class="mt-2 text-sm text-ink-2">
      <span v-for="v in loaded.data.value.versions" :key="v.version" class="mr-3"
        >Version {{ v.version }}: {{ momentText(v.at) }}, {{ v.by }}</span
      >
    </p>
    <StepSheet
      v-if="open !== null && form.steps[open]"
      :key="form.steps[open]!.key"
      :step="form.steps[open]!"
      :steps="form.steps"
      :staff="setting?.staff ?? []"
      :roles="procedureRoles"
      @save="((form.steps[open] = $event), (open = null))"
      @close="open = null"
    />
  </SetUpPage>
</template>
