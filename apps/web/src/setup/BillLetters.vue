<script setup lang="ts">
import { billLetterFields } from '@heron/core/billing'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useUnsaved } from '../ui/unsaved'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'

const notes = useNotes()
const { data, problem, reload } = useLoad(() => api.billing.letters())
const key = ref('bill en')
/** What was typed and is not saved yet, by letter: it stays while another is looked at. */
const typed = ref<Record<string, { subject: string; body: string }>>({})
const form = ref({ subject: '', body: '' })
const letter = computed(() => data.value?.find((l) => `${l.kind} ${l.language}` === key.value))
const changed = computed(
  () => Boolean(letter.value) && (form.value.subject !== letter.value?.subject || form.value.body !== letter.value?.body),
)
watch(letter, (l, before) => {
  if (!l) return
  const other = l.kind !== before?.kind || l.language !== before.language
  if (other && before) {
    const own = `${before.kind} ${before.language}`
    if (form.value.subject !== before.subject || form.value.body !== before.body) typed.value[own] = { ...form.value }
    else delete typed.value[own]
  }
  if (other || !changed.value) form.value = typed.value[key.value] ?? { subject: l.subject, body: l.body }
  if (other) delete typed.value[key.value]
})
useUnsaved({ changed: () => changed.value || Object.keys(typed.value).length > 0 })
const fields = billLetterFields.map((f) => `{${f}}`).join(', ')
const titles: Record<string, string> = { bill: 'A bill' }
const options = computed(() =>
  (data.value ?? []).map((l) => ({
    value: `${l.kind} ${l.language}`,
    text: `${titles[l.kind] ?? l.kind.charAt(0).toUpperCase() + l.kind.slice(1)}, ${l.language === 'en' ? 'English' : 'Spanish'}${l.own ? ', own words' : ''}`,
  })),
)
const saving = (own: { subject: string; body: string }) =>
  api.billing.saveLetter({ kind: letter.value!.kind, language: letter.value!.language, ...own })
const { state, act, fault, send } = useForm(() => saving(form.value))
async function save(own = true) {
  if (!letter.value || !(await (own ? send() : act(() => saving({ subject: '', body: '' }))))) return
  notes.say(own && form.value.body ? 'Words kept' : 'The words that ship are back')
  const sent = JSON.stringify(form.value)
  await reload()
  if (JSON.stringify(form.value) === sent && letter.value) form.value = { subject: letter.value.subject, body: letter.value.body }
}
</script>

<template>
  <SetUpPage hint="With which words bills and reminders go out.">
    <template #acts
      ><Btn v-if="letter?.own" :busy="state.busy" @click="save(false)">Back to the usual words</Btn
      ><Btn main :busy="state.busy" :disabled="!changed" key-name="Ctrl Enter" @click="save()">Save</Btn></template
    >
    <State :loading="!data" :problem="problem" @again="reload()">
      <form class="sheet max-w-[720px] space-y-3 px-4 py-3.5" @submit.prevent @keydown.ctrl.enter="save()">
        <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
        <ChoiceField v-model="key" label="Letter" :options="options" />
        <TextField v-model="form.subject" label="Subject" :fault="fault('subject')" />
        <TextField v-model="form.body" label="Words" :lines="12" :fault="fault('body')" />
        <p class="text-ink-2">In braces stand {{ fields }}.</p>
      </form>
    </State>
  </SetUpPage>
</template>
