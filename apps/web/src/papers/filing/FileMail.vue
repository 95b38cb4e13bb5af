<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Answer } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import ManyField from '../../ui/ManyField.vue'
import PageHead from '../../ui/PageHead.vue'
import Picker, { type Choice } from '../../ui/Picker.vue'
import { searchMatters } from '../../ui/search'
import State from '../../ui/State.vue'
import TextField from '../../ui/TextField.vue'
import { plural } from '../../ui/show'
import { useUnsaved } from '../../ui/unsaved'
import { useForm } from '../../ui/form'
import { useStaff } from '../file/useStaff'
import { sizeText } from '../show'

/** One e-mail with all that came with it, filed in one act: on which matter, under which names, in which folders, and who is told. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const notes = useNotes()
const id = Number(route.params['id'])
const mail = ref<Answer<typeof api.filing.one> | null>(null)
const problem = ref('')
const form = reactive({
  matter: null as Choice | null,
  name: '',
  folder: 'Correspondence',
  again: false,
  task: false,
  text: '',
  assigneeId: null as number | null,
  dueOn: null as Day | null,
  tell: [] as number[],
  tellText: '',
  dates: false,
  time: false,
})
const parts = ref<{ index: number; on: boolean; name: string; folder: string; size: number; why: string; was: string }[]>([])
const folders = ref<string[]>([])
const { all } = useStaff()

/** What a person may have typed or chosen here, beside the matter. */
const typed = () => JSON.stringify([{ ...form, matter: null, again: false }, parts.value])
let began = ''
async function load() {
  try {
    const here = Number(route.query['matter']) || undefined
    const found = await api.filing.one({ id, ...(here ? { matterId: here } : {}) })
    mail.value = found
    form.name = found.name
    parts.value = found.parts.map((p) => ({
      index: p.index,
      on: !p.inline,
      name: p.proposed,
      folder: 'Correspondence',
      size: p.size,
      why: p.why,
      was: p.name,
    }))
    began = typed()
    const [best] = found.proposals
    if (best && best.score >= 18) form.matter = { id: best.matterId, text: best.matter, hint: best.number }
  } catch (error) {
    problem.value = error instanceof Error ? error.message : 'This e-mail cannot be read.'
  }
}
void load()
watch(
  () => form.matter?.id,
  async (matterId) => {
    form.again = false
    const found = matterId ? ((await api.papers.folders({ id: matterId }).catch(() => null))?.folders.map((f) => f.path) ?? []) : []
    if (matterId === form.matter?.id) folders.value = found
  },
)
const onFile = computed(() => mail.value?.before.filter((b) => b.matterId === form.matter?.id) ?? [])
const taken = computed(() => parts.value.filter((p) => p.on))
const filed = ref(false)
useUnsaved({ changed: () => Boolean(mail.value) && !filed.value && mail.value?.state === 'waiting' && typed() !== began })

const { state, act, fault, send } = useForm(() =>
  api.filing.file({
    id,
    matterId: form.matter?.id ?? 0,
    name: form.name,
    folder: form.folder,
    parts: taken.value.map(({ index, name, folder }) => ({ index, name, folder })),
    again: form.again,
    task: form.task ? { text: form.text, assigneeId: form.assigneeId ?? 0, dueOn: form.dueOn } : null,
    tell: form.tell,
    tellText: form.tellText,
  }),
)

async function save() {
  const done = await send()
  if (!done) return
  filed.value = true
  notes.say(`Filed on ${form.matter!.text}${taken.value.length ? `, with ${plural(taken.value.length, 'attachment')}` : ''}`)
  session.changed()
  const words = `Read e-mail from ${mail.value?.from?.name || mail.value?.from?.address || 'them'}: ${mail.value?.subject ?? ''}`.slice(
    0,
    300,
  )
  if (form.time) return void router.push({ path: '/time', query: { record: '1', matter: String(form.matter!.id), words } })
  void router.push(form.dates ? `/matters/${form.matter!.id}/docket?work=1&paper=${done.paperId}` : `/matters/${form.matter!.id}/papers`)
}
async function aside() {
  if (!(await act(() => api.filing.putAside({ id })))) return
  filed.value = true
  session.changed()
  void router.push('/papers/mail')
}
const who = (p: { name: string; address: string } | null) => (p ? (p.name ? `${p.name} <${p.address}>` : p.address) : 'not said')
</script>

<template>
  <div class="page px-6 pt-[18px]" @keydown.ctrl.enter="save">
    <PageHead title="File an e-mail" />
    <State :loading="!mail && !problem" :problem="problem" @again="load()">
      <div v-if="mail && mail.state !== 'waiting'" class="sheet px-4 py-4">
        This e-mail {{ mail.state === 'filed' ? 'was filed already' : 'was put aside' }}.
        <RouterLink to="/papers/mail" class="text-lagoon underline">E-mail to file</RouterLink>
      </div>
      <div v-else-if="mail" class="grid stacks gap-[18px] min-[1000px]:grid-cols-[minmax(0,1fr)_360px]">
        <div class="space-y-[14px]">
          <section class="sheet space-y-3 px-4 py-3.5" aria-label="Matter">
            <h2>On which matter</h2>
            <div v-if="mail.proposals.length" role="group" aria-label="Likely matters" class="flex flex-col gap-1">
              <button
                v-for="p in mail.proposals.slice(0, 5)"
                :key="p.matterId"
                type="button"
                class="rounded-control border px-3 py-1.5 text-left"
                :class="form.matter?.id === p.matterId ? 'border-lagoon bg-lagoon-wash' : 'border-line hover:bg-page'"
                :aria-pressed="form.matter?.id === p.matterId"
                @click="form.matter = { id: p.matterId, text: p.matter, hint: p.number }"
              >
                <b>{{ p.matter }}</b> <span class="text-ink-2">{{ p.number }}</span>
                <span class="block text-sm text-ink-2">{{ p.why.join('; ') }}</span>
              </button>
            </div>
            <Picker
              v-model="form.matter"
              label="Matter"
              :search="searchMatters"
              :fault="fault('matterId')"
              placeholder="Name, number or client"
            />
            <p v-if="onFile.length" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
              This message is on file there already as {{ onFile.map((b) => b.name).join(', ') }}.
              <label class="flex gap-2 font-semibold"
                ><input v-model="form.again" type="checkbox" class="accent-ink" /> File it again</label
              >
            </p>
            <p v-else-if="mail.before.length" class="text-bill-ink">It is on file on {{ mail.before.map((b) => b.matter).join(', ') }}.</p>
          </section>
          <section class="sheet px-4 py-3.5" aria-label="Papers">
            <h2 class="mb-2">Papers that come of it</h2>
            <datalist id="filing-folders"><option v-for="f in folders" :key="f" :value="f"></option></datalist>
            <div class="grid stacks items-end gap-2 min-[700px]:grid-cols-[minmax(0,1fr)_190px]">
              <TextField v-model="form.name" label="The message" :fault="fault('name')" />
              <TextField v-model="form.folder" label="Folder" :fault="fault('folder')" :list="folders" />
            </div>
            <fieldset v-for="(p, i) in parts" :key="p.index" class="mt-2 border-t border-line-2 pt-2">
              <legend class="sr-only">{{ p.was }}</legend>
              <label class="flex gap-2 text-ink-2"
                ><input v-model="p.on" type="checkbox" class="accent-ink" /> {{ p.was }}, {{ sizeText(p.size)
                }}<span v-if="p.why" class="text-ink-3">named by {{ p.why }}</span></label
              >
              <div v-if="p.on" class="mt-1 grid stacks items-end gap-2 min-[700px]:grid-cols-[minmax(0,1fr)_190px]">
                <TextField v-model="p.name" :label="`Name of ${p.was}`" bare :fault="fault(`parts.${taken.indexOf(p)}.name`)" />
                <TextField
                  v-model="p.folder"
                  :label="`Folder of ${p.was}`"
                  bare
                  :list="folders"
                  :fault="fault(`parts.${taken.indexOf(p)}.folder`)"
                />
              </div>
              <span class="sr-only">{{ i + 1 }}</span>
            </fieldset>
          </section>
          <section class="sheet space-y-3 px-4 py-3.5" aria-label="What follows">
            <h2>What follows</h2>
            <label class="flex gap-2"
              ><input v-model="form.task" type="checkbox" class="mt-[3px] accent-ink" /> Give a colleague a task about it</label
            >
            <div v-if="form.task" class="grid stacks gap-2 min-[700px]:grid-cols-[minmax(0,1fr)_180px_150px]">
              <TextField v-model="form.text" label="What is to do" :fault="fault('task.text')" />
              <ChoiceField
                v-model="form.assigneeId"
                label="Who"
                :options="[
                  { value: null as number | null, text: 'Choose' },
                  ...all.map((p) => ({ value: p.id as number | null, text: p.name })),
                ]"
                :fault="fault('task.assigneeId') || fault('assigneeId')"
              />
              <DayField v-model="form.dueOn" label="Due" optional :fault="fault('task.dueOn')" />
            </div>
            <ManyField
              v-model="form.tell"
              label="Tell"
              optional
              :options="all.map((p) => ({ id: p.id, text: p.name }))"
              :fault="fault('html')"
            />
            <TextField v-if="form.tell.length" v-model="form.tellText" label="Word to them" optional />
            <label v-if="session.may('time.record')" class="flex gap-2"
              ><input v-model="form.time" type="checkbox" class="mt-[3px] accent-ink" @change="form.dates = false" /> Go on to record time
              for it</label
            >
            <label v-if="session.may('docket.change')" class="flex gap-2"
              ><input v-model="form.dates" type="checkbox" class="mt-[3px] accent-ink" @change="form.time = false" /> Go on to work out
              dates from it</label
            >
          </section>
          <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
          <div class="flex flex-wrap gap-2">
            <Btn main :busy="state.busy" :disabled="!form.matter" key-name="Ctrl Enter" @click="save"
              >File {{ taken.length ? plural(taken.length + 1, 'paper') : 'it' }}</Btn
            >
            <Btn @click="aside">Put aside</Btn>
          </div>
        </div>
        <section class="sheet self-start px-4 py-3.5" aria-label="The message">
          <h2 class="break-words">{{ mail.subject || 'No subject' }}</h2>
          <p v-if="!mail.known" class="my-1 rounded-control bg-rust-wash px-2 py-1 text-rust">
            Not sent by anyone of the firm. Look twice before you trust it.
          </p>
          <p v-if="mail.unread" class="my-1 rounded-control bg-bill-wash px-2 py-1 text-bill-ink">{{ mail.unread }}</p>
          <p class="break-words text-ink-2">
            From {{ who(mail.from) }}<br />To {{ mail.to.map(who).join(', ') || 'not said'
            }}<template v-if="mail.cc.length"><br />Copy {{ mail.cc.map(who).join(', ') }}</template
            ><br />{{ mail.dateText }}
          </p>
          <p class="mt-2 border-t border-line-2 pt-2 break-words whitespace-pre-line">{{ mail.excerpt }}</p>
        </section>
      </div>
    </State>
  </div>
</template>
