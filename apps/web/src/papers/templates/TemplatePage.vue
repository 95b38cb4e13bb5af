<script setup lang="ts">
import { computed, defineAsyncComponent, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, asks } from '../../api'
import { recent } from '../../shown'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import ManyField from '../../ui/ManyField.vue'
import PageHead from '../../ui/PageHead.vue'
import State from '../../ui/State.vue'
import TextField from '../../ui/TextField.vue'
import { momentText, plural } from '../../ui/show'
import Meanwhile from '../../ui/Meanwhile.vue'
import { useMeanwhile } from '../../ui/meanwhile'
import { useUnsaved } from '../../ui/unsaved'
import { useForm } from '../../ui/form'
import { useLoad } from '../../use'
import AddTemplate from './AddTemplate.vue'
import Questions from './Questions.vue'
import Ties from './Ties.vue'

/** One template: what the check found, its fields, questions, versions, and who may use it. */
const PdfPages = defineAsyncComponent(() => import('../view/PdfPages.vue'))
const id = Number(useRoute().params['id'])
const session = useSession()
const notes = useNotes()
const { data: t, problem, loading, reload } = useLoad(() => api.templates.one({ id }))
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const may = computed(() => session.may('firm.set-up'))
const formOf = (now?: NonNullable<typeof t.value>) => ({
  name: now?.name ?? '',
  description: now?.description ?? '',
  shelf: now?.shelf ?? '',
  folder: now?.folder ?? '',
  areaId: now?.areaId ?? null,
  tags: now?.tags.join(', ') ?? '',
  language: now?.language ?? ('en' as const),
  namePattern: now?.namePattern ?? '',
  needsPerson: now?.needsPerson ?? false,
  peopleIds: [...(now?.peopleIds ?? [])],
})
const form = reactive(formOf())
const areas = computed(() => [
  { value: null as number | null, text: 'All areas' },
  ...(setting.value?.areas.map((a) => ({ value: a.id as number | null, text: a.name })) ?? []),
])
const staff = computed(() => setting.value?.staff.map((s) => ({ id: s.id, text: s.name })) ?? [])
const meanwhile = useMeanwhile(form, {
  name: 'Name',
  description: 'Description',
  shelf: 'Under which head',
  folder: 'Papers go into',
  areaId: ['Practice area', (areaId) => areas.value.find((a) => a.value === areaId)?.text ?? ''],
  tags: 'Tags',
  language: ['Language', (language) => (language === 'es' ? 'Spanish' : 'English')],
  namePattern: 'Name of papers',
  needsPerson: 'Ask for whom the paper is',
  peopleIds: ['Who may use it', (ids) => staff.value.filter((s) => ids.includes(s.id)).map((s) => s.text).join(', ')], // prettier-ignore
})
const changed = meanwhile.changed
let rowVersion = 0
watch(t, (now) => {
  if (!now || changed.value) return
  rowVersion = now.rowVersion
  Object.assign(form, formOf(now))
  meanwhile.begin()
})
useUnsaved({ changed: () => changed.value })
const { state, fault, send } = useForm(() => {
  const tags = form.tags.split(',').map((x) => x.trim()).filter(Boolean) // prettier-ignore
  return api.templates.change({ ...form, id, tags, rowVersion })
})
async function save() {
  const done = await meanwhile.save(state, send, async () => {
    const now = await api.templates.one({ id })
    rowVersion = now.rowVersion
    return formOf(now)
  })
  if (!done) return
  meanwhile.begin()
  notes.say('Saved')
  await reload()
}
const versioning = ref(false)
const showing = ref(false)
const where: Record<string, string> = {
  text: 'paragraph',
  header: 'header, paragraph',
  footer: 'footer, paragraph',
  notes: 'notes, paragraph',
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !t" :problem="problem" @again="reload()">
      <template v-if="t">
        <PageHead :title="t.name" :hint="t.description">
          <RouterLink to="/papers/templates" class="text-lagoon underline">All templates</RouterLink>
          <Btn :href="`/api/templates/${id}/file`">Download</Btn>
          <Btn @click="showing = !showing">{{ showing ? 'Hide its pages' : 'See its pages' }}</Btn>
          <Btn v-if="may" main @click="versioning = true">New version</Btn>
        </PageHead>
        <div class="grid stacks gap-[18px] min-[1000px]:grid-cols-[minmax(0,1fr)_380px]">
          <div class="space-y-[18px]">
            <section class="sheet px-4 py-3.5" aria-label="Check">
              <h2>{{ t.faults ? `The check found ${plural(t.faults, 'fault')}` : 'The check passed' }}</h2>
              <p v-if="t.faults" class="text-ink-2">
                The template is kept, and not used until these are mended: change the DOCX and save it as a new version.
              </p>
              <ol v-if="t.faults" class="mt-1">
                <li v-for="(f, i) in t.faultList" :key="i" class="border-t border-line-2 py-1.5">
                  <b class="text-rust">{{ f.text }}</b><span v-if="f.words" class="block text-ink-2"
                    >{{ where[f.part] ?? 'paragraph' }} {{ f.paragraph }}: “{{ f.words }}”</span
                  >
                </li>
              </ol>
              <p v-else class="text-ink-2">Fields used: {{ t.uses.join(', ') || 'none' }}</p>
            </section>
            <section v-if="showing" class="sheet h-[640px]" aria-label="Pages">
              <PdfPages :src="`/api/templates/${id}/pdf`" :label="`Pages of ${t.name}`" />
            </section>
            <Ties v-if="t.wordFields.length" :id="id" :version="t.version" :fields="t.wordFields" :may="may" @saved="reload()" />
            <Questions :id="id" :version="t.version" :questions="t.questionList" :may="may" @saved="reload()" />
          </div>
          <div class="space-y-[18px]">
            <section class="sheet space-y-3 px-4 py-3.5" aria-label="About it">
              <h2>About it</h2>
              <Meanwhile :of="meanwhile" />
              <fieldset :disabled="!may" class="space-y-3">
                <TextField v-model="form.name" label="Name" :fault="fault('name')" />
                <TextField v-model="form.description" label="Description" optional :fault="fault('description')" />
                <TextField v-model="form.shelf" label="Under which head" optional :fault="fault('shelf')" />
                <ChoiceField v-model="form.areaId" label="Practice area" :options="areas" />
                <ChoiceField
                  v-model="form.language"
                  label="Language"
                  :options="[
                    { value: 'en', text: 'English' },
                    { value: 'es', text: 'Spanish' },
                  ]"
                />
                <TextField v-model="form.folder" label="Papers go into" :fault="fault('folder')" />
                <TextField
                  v-model="form.namePattern"
                  label="Name of papers"
                  optional
                  :fault="fault('namePattern')"
                  hint="Like {template}, {client.name}, {today | iso date}"
                />
                <TextField v-model="form.tags" label="Tags, with commas" optional :fault="fault('tags')" />
                <label class="flex gap-2"
                  ><input v-model="form.needsPerson" type="checkbox" class="mt-[3px] accent-ink" /> Ask for whom the paper is</label
                >
                <ManyField v-model="form.peopleIds" label="Who may use it; nobody named means everyone" optional :options="staff" />
              </fieldset>
              <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
              <Btn v-if="may" main :busy="state.busy" :disabled="!changed" @click="save">Save</Btn>
            </section>
            <section class="sheet px-4 py-3.5" aria-label="Versions">
              <h2>Versions</h2>
              <div v-for="v in t.versions" :key="v.number" class="border-t border-line-2 py-1.5">
                <b>{{ v.number }}</b> <span v-if="v.current" class="rounded-full bg-mist px-2 text-sm">current</span> {{ v.why }}
                <span class="text-ink-2">{{ v.madeBy }}, {{ momentText(v.madeAt) }}</span>
                <a
                  :href="`/api/templates/${id}/file?version=${v.number}`"
                  class="text-lagoon underline"
                  :aria-label="`Download version ${v.number}`"
                  >Download</a
                >
              </div>
            </section>
          </div>
        </div>
        <AddTemplate v-if="versioning" :template-id="id" @close="versioning = false" @added="reload()" />
      </template>
    </State>
  </div>
</template>
