<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { useDebounceFn } from '@vueuse/core'
import { computed, defineAsyncComponent, onUnmounted, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import TextField from '../../ui/TextField.vue'
import { useUnsaved } from '../../ui/unsaved'
import { useForm } from '../../ui/form'
import { useLoad } from '../../use'
import { useStaff } from '../file/useStaff'
import { waitFor } from '../../wait'
import { options } from '../show'
import QuestionField from './QuestionField.vue'
import ValueField from './ValueField.vue'

/** A paper made from a template: what is missing is asked, each value can be changed, and the pages are seen beside it. */
const props = defineProps<{ matterId: number }>()
const PdfPages = defineAsyncComponent(() => import('../view/PdfPages.vue'))
const route = useRoute()
const router = useRouter()
const session = useSession()
const notes = useNotes()
const again = Number(route.query['again']) || null
const { data: templates } = useLoad(() => api.templates.list())
const { data: sets } = useLoad(() => api.templates.sets())
const { data: folders } = useLoad(() => api.papers.folders({ id: props.matterId }))
const { others } = useStaff()

const chosen = ref('')
const personId = ref<number | null>(null)
const answers = reactive<Record<string, string | string[]>>({})
const values = reactive<Record<string, string>>({})
const keep = ref<string[]>([])
const form = reactive({
  name: '',
  folder: '',
  as: 'both' as 'docx' | 'pdf' | 'both',
  review: false,
  toId: null as number | null,
  dueOn: null as Day | null,
  message: '',
  share: false,
  forWhom: '',
  email: '',
  endsOn: null as Day | null,
  needsCode: false,
})
const named = ref(false)
const prepared = ref<Answer<typeof api.templates.prepare> | null>(null)
const problem = ref('')
const progress = ref<number | null>(null)

const picks = computed(() => [
  ...(sets.value ?? [])
    .filter((s) => s.templates.length)
    .map((s) => ({ value: `set ${s.id}`, text: `Set: ${s.name} (${s.templates.length})` })),
  ...(templates.value ?? [])
    .filter((t) => !t.retired)
    .map((t) => ({ value: String(t.id), text: `${t.shelf ? `${t.shelf}: ` : ''}${t.name}${t.faults ? ' (has faults)' : ''}` })),
])
const templateIds = computed(() =>
  chosen.value.startsWith('set ')
    ? (sets.value?.find((s) => `set ${s.id}` === chosen.value)?.templates.map((t) => t.id) ?? [])
    : chosen.value
      ? [Number(chosen.value)]
      : [],
)
const making = computed(() => ({
  matterId: props.matterId,
  templateId: templateIds.value[0] ?? 0,
  alsoIds: templateIds.value.slice(1),
  personId: personId.value,
  answers: { ...answers },
  values: { ...values },
}))

/** What was answered and changed by hand, and what of it stood here at first. */
const given = () => JSON.stringify([answers, values])
const began = ref(given())
let turn = 0
async function prepare() {
  if (!templateIds.value.length) return
  const mine = ++turn
  try {
    const found = await api.templates.prepare(making.value)
    if (mine !== turn) return
    prepared.value = found
    problem.value = ''
    if (!named.value) form.name = found.name
    form.folder ||= found.folder
    void look()
  } catch (error) {
    if (mine === turn) problem.value = error instanceof Error ? error.message : 'This cannot be prepared.'
  }
}
const soon = useDebounceFn(prepare, 350)
watch(chosen, (_now, was) => {
  if (was) form.folder = ''
  prepared.value = null
  void prepare()
})
watch([personId, answers, values], () => void soon())

// Made again: from what it was made with, and what the record says now.
async function start() {
  if (!again) return (chosen.value = String(route.query['template'] ?? ''))
  const [made, paper] = await Promise.all([api.templates.made({ id: again }), api.papers.one({ id: again })])
  Object.assign(answers, made.answers)
  Object.assign(values, made.values)
  personId.value = made.personId
  form.name = paper.name.replace(/\.(?:docx|pdf)$/i, '')
  form.folder = paper.folder
  named.value = true
  began.value = given()
  chosen.value = String(made.templateId)
}
void start().catch(
  (error: unknown) => (problem.value = error instanceof Error ? error.message : 'This paper was not made from a template.'),
)

// The pages beside: made anew a moment after the last change; an older one never comes over a newer.
const preview = ref(0)
const drawing = ref(false)
const previewProblem = ref('')
let drawn = 0
const look = useDebounceFn(async () => {
  if (prepared.value?.faulty) return
  const mine = ++drawn
  drawing.value = true
  try {
    const { jobId, previewId } = await api.templates.preview(making.value)
    const done = await waitFor(
      () => api.papers.job({ id: jobId }),
      undefined,
      () => gone || mine !== drawn,
    )
    if (gone || mine !== drawn) return
    if (done === true) preview.value = previewId
    previewProblem.value = done === true ? '' : done
  } catch (error) {
    if (mine === drawn) previewProblem.value = error instanceof Error ? error.message : 'The pages cannot be shown.'
  } finally {
    if (mine === drawn) drawing.value = false
  }
}, 600)

const missing = computed(() => prepared.value?.values.filter((v) => v.missing || v.changed) ?? [])
const known = computed(() => prepared.value?.values.filter((v) => !v.missing && !v.changed) ?? [])
const questions = computed(() => prepared.value?.questions.filter((q) => q.asked) ?? [])
const opened = reactive<Record<string, boolean>>({})
function change(path: string, text: string | null) {
  if (text === null) {
    delete values[path]
    keep.value = keep.value.filter((k) => k !== path)
  } else values[path] = text
}
const done = ref(false)
let gone = false
onUnmounted(() => (gone = true))
useUnsaved({ changed: () => !done.value && given() !== began.value })

const { state, fault, send } = useForm(() =>
  api.templates.make({
    ...making.value,
    name: form.name,
    folder: form.folder,
    as: form.as,
    writeBack: keep.value.filter((k) => values[k]),
    versionOf: again,
    review: form.review ? { toId: form.toId ?? 0, dueOn: form.dueOn, message: form.message } : null,
    share: form.share ? { forWhom: form.forWhom, email: form.email, endsOn: form.endsOn ?? '', needsCode: form.needsCode } : null,
  }),
)

async function make() {
  const started = await send()
  if (!started) return
  // From here on it is made without this page: whoever leaves loses nothing, and is not fetched back.
  done.value = true
  progress.value = 0
  const made = await waitFor(
    () => api.papers.job({ id: started.jobId }),
    (p) => (progress.value = p),
  ).catch(() => 'The server does not answer. The paper is made without this page; look for it among the papers in a while.')
  progress.value = null
  if (made !== true) {
    done.value = false
    state.message = made
    if (gone) notes.say(`${form.name}: ${made}`)
    return
  }
  notes.say(again ? `${form.name} is made again, as a new version` : `${form.name} is in ${form.folder}`)
  session.changed()
  if (!gone) void router.push(`/matters/${props.matterId}/papers`)
}
</script>

<template>
  <div class="grid stacks gap-x-4 gap-y-3 px-4 py-3 min-[1000px]:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]" @keydown.ctrl.enter="make">
    <div class="space-y-3">
      <div class="flex items-center gap-2">
        <h2>{{ again ? 'Make it again' : 'Make a paper' }}</h2>
        <RouterLink :to="`/matters/${matterId}/papers`" class="ml-auto text-lagoon underline">Back to the papers</RouterLink>
      </div>
      <ChoiceField
        v-model="chosen"
        label="Template"
        :options="[{ value: '', text: 'Choose a template' }, ...picks]"
        :fault="fault('templateId')"
        autofocus
      />
      <p v-if="problem" role="alert" class="text-rust">{{ problem }}</p>
      <template v-if="prepared">
        <p v-if="prepared.faulty" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust">
          This template has faults and is not used until they are mended.
          <RouterLink v-if="session.may('firm.set-up')" :to="`/papers/templates/${templateIds[0]}`" class="font-semibold underline"
            >See them</RouterLink
          >
        </p>
        <template v-else>
          <ChoiceField
            v-if="prepared.needsPerson"
            v-model="personId"
            label="For whom"
            :options="[
              { value: null as number | null, text: 'Choose a person' },
              ...prepared.persons.map((p) => ({ value: p.id as number | null, text: `${p.name}, ${p.role}` })),
            ]"
            :fault="fault('personId')"
          />
          <section v-if="questions.length" class="space-y-3" aria-label="Questions of the template">
            <QuestionField
              v-for="q in questions"
              :key="q.key"
              v-model="answers[q.key]"
              :question="q"
              :costs="prepared.costs"
              :time="prepared.time"
              :fault="fault(`answers.${q.key}`)"
            />
          </section>
          <section v-if="missing.length" class="space-y-3 rounded-sheet bg-bill-wash p-3" aria-label="What is asked">
            <h3>{{ prepared.values.some((v) => v.missing) ? 'The record lacks this' : 'Changed for this paper' }}</h3>
            <ValueField
              v-for="v in missing"
              :key="v.path"
              v-model:keep="keep"
              :value="v"
              :typed="values[v.path]"
              :fault="fault(`values.${v.path}`)"
              @change="change(v.path, $event)"
            />
          </section>
          <section v-if="known.length" aria-label="Values it uses">
            <h3>From the record <span class="font-sans text-sm font-normal text-ink-3">press a value to change it</span></h3>
            <div v-for="v in known" :key="v.path" class="border-t border-line-2 py-1">
              <div class="grid grid-cols-[minmax(0,170px)_minmax(0,1fr)] items-start gap-2">
                <span class="break-words text-ink-2">{{ v.label }}</span>
                <span v-if="v.type === 'list'" class="break-words">{{ v.value || '—' }}</span>
                <button
                  v-else
                  type="button"
                  class="min-h-6 text-left break-words whitespace-pre-line decoration-dotted underline-offset-4 hover:underline"
                  :aria-label="`Change ${v.label}: ${v.value || 'nothing'}`"
                  title="Change"
                  :aria-expanded="Boolean(opened[v.path])"
                  @click="opened[v.path] = !opened[v.path]"
                >
                  {{ v.value || '—' }}
                </button>
              </div>
              <ValueField
                v-if="opened[v.path]"
                v-model:keep="keep"
                :value="v"
                :typed="values[v.path]"
                :fault="fault(`values.${v.path}`)"
                @change="change(v.path, $event)"
              />
            </div>
          </section>
          <section class="grid stacks grid-cols-2 gap-3 border-t border-line-2 pt-3" aria-label="How it is kept">
            <div class="col-span-2">
              <TextField v-model="form.name" label="Name of the paper" :fault="fault('name')" @input="named = true" />
            </div>
            <p v-if="prepared.also.length" class="col-span-2 text-ink-2">
              In the same act: {{ prepared.also.map((a) => a.name).join('; ') }}
            </p>
            <TextField v-model="form.folder" label="Folder" :fault="fault('folder')" :list="folders?.folders.map((f) => f.path) ?? []" />
            <ChoiceField
              v-model="form.as"
              label="As"
              :options="[
                { value: 'both', text: 'DOCX and PDF' },
                { value: 'docx', text: 'DOCX' },
                { value: 'pdf', text: 'PDF' },
              ]"
            />
            <label class="col-span-2 flex gap-2"
              ><input v-model="form.review" type="checkbox" class="mt-[3px] accent-ink" /> Ask a colleague to read it</label
            >
            <template v-if="form.review">
              <ChoiceField
                v-model="form.toId"
                label="Who"
                :options="[{ value: null as number | null, text: 'Choose' }, ...options(others)]"
                :fault="fault('toId') || fault('review.toId')"
              />
              <DayField v-model="form.dueOn" label="By" optional />
              <div class="col-span-2"><TextField v-model="form.message" label="What to look at" optional /></div>
            </template>
            <label class="col-span-2 flex gap-2"
              ><input v-model="form.share" type="checkbox" class="mt-[3px] accent-ink" /> Show it to someone outside, by a link that is sent
              to them</label
            >
            <template v-if="form.share">
              <TextField v-model="form.forWhom" label="For whom is the link" :fault="fault('share.forWhom')" />
              <TextField v-model="form.email" label="E-mail" :fault="fault('share.email')" />
              <DayField v-model="form.endsOn" label="Until" :fault="fault('share.endsOn') || fault('endsOn')" />
              <label class="flex items-end gap-2 pb-1.5"
                ><input v-model="form.needsCode" type="checkbox" class="accent-ink" /> With a code</label
              >
            </template>
          </section>
          <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
          <div class="flex items-center gap-3">
            <Btn main :busy="state.busy || progress !== null" key-name="Ctrl Enter" @click="make">{{
              again ? 'Make it again' : prepared.also.length ? `Make ${prepared.also.length + 1} papers` : 'Make it'
            }}</Btn>
            <span v-if="progress !== null" role="status" class="text-ink-2">Being made … {{ progress }} %</span>
            <span v-else-if="!prepared.ready" class="text-ink-2">Something is still to be answered.</span>
          </div>
        </template>
      </template>
    </div>
    <div class="min-h-[560px] rounded-sheet border border-line min-[1000px]:sticky min-[1000px]:top-2 min-[1000px]:h-[calc(100vh-110px)]">
      <p v-if="previewProblem" role="alert" class="px-4 py-3 text-rust">{{ previewProblem }}</p>
      <PdfPages v-if="preview" :src="`/api/papers/preview/${preview}`" label="How the paper looks" />
      <p v-else class="px-4 py-6 text-ink-2" role="status">
        {{ drawing ? 'Its pages are being made …' : 'The pages stand here as soon as a template is chosen.' }}
      </p>
    </div>
  </div>
</template>
