<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

const props = defineProps<{ matterId: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data: templates } = useLoad(() => api.papers.templates())
const templateId = ref<number | null>(null)
const prepared = ref<Answer<typeof api.papers.prepare> | null>(null)
const name = ref('')
const answers = ref<Record<string, string>>({})
const progress = ref<number | null>(null)

watch(templates, (list) => (templateId.value ??= list?.[0]?.id ?? null))
watch(templateId, async (id) => {
  if (!id) return
  prepared.value = await act(() => api.papers.prepare({ id: props.matterId, templateId: id }))
  name.value ||= prepared.value?.name ?? ''
  answers.value = Object.fromEntries((prepared.value?.missing ?? []).map((f) => [f, '']))
})
const asked = computed(() => prepared.value?.fields.filter((f) => prepared.value!.missing.includes(f.name)) ?? [])
const known = computed(() => prepared.value?.fields.filter((f) => !prepared.value!.missing.includes(f.name)) ?? [])

async function make() {
  const id = templateId.value
  if (!id) return
  const started = await act(() => api.papers.make({ id: props.matterId, templateId: id, name: name.value, answers: answers.value }))
  if (!started) return
  progress.value = 0
  for (;;) {
    const job = await act(() => api.papers.job({ id: started.jobId }))
    if (!job) break
    progress.value = job.progress
    if (job.state === 'done') {
      notes.say(`${name.value}: DOCX and PDF are in the file`)
      session.changed()
      emit('close')
      break
    }
    if (job.state === 'failed') {
      state.message = job.error ?? 'The paper could not be made.'
      break
    }
    await new Promise((r) => window.setTimeout(r, 300))
  }
  progress.value = null
}
</script>

<template>
  <SideSheet
    title="Make a paper"
    wide
    save="Make DOCX and PDF"
    :busy="state.busy || progress !== null"
    :message="state.fields.length ? '' : state.message"
    @save="make"
    @close="emit('close')"
  >
    <ChoiceField v-model="templateId" label="Template" autofocus :options="(templates ?? []).map((t) => ({ value: t.id, text: t.name }))" />
    <TextField v-model="name" label="Name of the paper" :fault="fault('name')" />
    <section v-if="asked.length" aria-label="What is missing" class="space-y-3 rounded-sheet bg-bill-wash p-3">
      <h3>The record lacks this</h3>
      <TextField
        v-for="f in asked"
        :key="f.name"
        :model-value="answers[f.name] ?? ''"
        :label="f.label"
        :fault="fault(`answers.${f.name}`)"
        @update:model-value="answers[f.name] = $event"
      />
    </section>
    <section v-if="known.length" aria-label="Values it will use">
      <h3>From the record</h3>
      <dl>
        <div v-for="f in known" :key="f.name" class="grid stacks grid-cols-[200px_1fr] border-t border-line-2 py-1">
          <dt class="text-ink-2">{{ f.label }}</dt>
          <dd class="whitespace-pre-line">{{ f.value }}</dd>
        </div>
      </dl>
    </section>
    <p v-if="progress !== null" role="status" class="text-ink-2">Making the paper … {{ progress }} %</p>
  </SideSheet>
</template>
