<script setup lang="ts">
import { procedureRoles, type ProcedureIn } from '@heron/contract'
import { addDays } from '@heron/core/calendar'
import { docketAnchors, faultsOfSteps, planProcedure, showTiming } from '@heron/core/tasks'
import { weekdaysOnly } from '@heron/core/calendar'
import { computed, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { VueDraggable } from 'vue-draggable-plus'
import { type Answer, api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import TimeLine from '../tasks/TimeLine.vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { momentText, plural } from '../ui/show'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useKeptForm } from '../ui/kept'
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
const blank = { name: '', description: '', areaId: 0, steps: [] as Step[] }
/** The procedure as it was read last: what is saved goes on top of this version. */
const known = shallowRef<Answer<typeof api.tasks.procedure> | null>(null)
async function read(): Promise<typeof blank> {
  // A new one stays as it was filled in until it stands under its own address.
  if (!id.value) return form.value
  const p = (known.value = await api.tasks.procedure({ id: id.value }))
  return { name: p.name, description: p.description, areaId: p.areaId ?? 0, steps: p.steps }
}
const { form: kept, problem, reload, save: keep } = useKeptForm(read)
const form = computed(() => kept.value ?? blank)
const open = ref<number | null>(null)
const faults = computed(() => faultsOfSteps(form.value.steps))
const textOf = (key: string) => form.value.steps.find((s) => s.key === key)?.text ?? key
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
  if (faults.value.length || !form.value.steps.length) return []
  const docket = Object.fromEntries(docketAnchors(form.value.steps).map((d) => [d, addDays(session.today, 90)]))
  const plan = planProcedure(form.value.steps, { start: session.today, opened: session.today, docket, done: {} }, weekdaysOnly)
  return plan.map((p) => ({ text: textOf(p.key), day: p.due }))
})
function add() {
  let n = form.value.steps.length + 1
  while (form.value.steps.some((s) => s.key === `s${n}`)) n += 1
  form.value.steps.push({
    key: `s${n}`,
    text: '',
    assignTo: { kind: 'role', role: 'lead' },
    priority: 'normal',
    estimateMinutes: null,
    remindDays: null,
    waitsFor: [],
    due: { count: 0, unit: 'business', direction: 'after', anchor: { kind: 'start' } },
  })
  open.value = form.value.steps.length - 1
}
function move(at: number, step: number) {
  const [s] = form.value.steps.splice(at, 1)
  if (s) form.value.steps.splice(at + step, 0, s)
  window.setTimeout(() => document.querySelector<HTMLElement>(`[data-step="${s?.key}"]`)?.focus(), 0)
}
const { state, fault, send } = useForm(() =>
  api.tasks.saveProcedure({
    ...(known.value ? { id: known.value.id, seen: known.value.version } : {}),
    name: form.value.name,
    description: form.value.description,
    areaId: form.value.areaId || null,
    steps: form.value.steps,
  }),
)

async function save() {
  const saved = await keep(() => send())
  if (!saved) {
    if (state.code === 'changed-meanwhile') await seeTheirs()
    return
  }
  notes.say(`Version ${saved.version} kept; what was started before stays as it is`)
  if (!id.value) await router.replace(`/set-up/procedures/${saved.id}`)
}
/** Versions stay on record, so nothing of theirs is lost when mine comes after it; but it is said whose mine would follow. */
async function seeTheirs() {
  const theirs = await api.tasks.procedure({ id: id.value }).catch(() => null)
  if (!theirs) return
  known.value = theirs
  const by = theirs.versions.find((v) => v.version === theirs.version)?.by ?? 'Somebody else'
  state.message = `${by} kept version ${theirs.version} meanwhile. Yours stands here and is not kept yet: press again to keep it as the version after theirs, or reload to see theirs.`
}
</script>

<template>
  <SetUpPage
    :title="form.name || 'New procedure'"
    :hint="known ? `Version ${known.version}, started ${plural(known.runs, 'time')}` : ''"
    @keydown.ctrl.enter="save"
  >
    <template #acts>
      <Btn main :busy="state.busy" :disabled="!kept?.steps.length || faults.length > 0" key-name="Ctrl Enter" @click="save"
        >Save as a version</Btn
      >
    </template>
    <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
    <State v-if="!kept" loading :problem="problem" @again="reload()" />
    <template v-else>
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
      <p v-if="known" class="mt-2 text-sm text-ink-2">
        <span v-for="v in known.versions" :key="v.version" class="mr-3">Version {{ v.version }}: {{ momentText(v.at) }}, {{ v.by }}</span>
      </p>
    </template>
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
