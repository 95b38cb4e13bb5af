<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import { useSession } from '../../shell/session'
import Field from '../../ui/Field.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { useAct } from '../../use'

/** A new template, or with `templateId` a new version of one. It is checked at once; faults are shown, and it is kept. */
const props = defineProps<{ templateId?: number }>()
const emit = defineEmits<{ close: []; added: [id: number] }>()
const session = useSession()
const { state, act, fault } = useAct()
const file = ref<File | null>(null)
const name = ref('')
const why = ref('')
function choose(event: Event) {
  file.value = (event.target as HTMLInputElement).files?.[0] ?? null
  name.value ||= file.value?.name.replace(/\.docx$/i, '') ?? ''
}
async function save() {
  const made = await act(async () =>
    props.templateId
      ? (await api.templates.newVersion({ id: props.templateId, why: why.value, file: file.value! }), { id: props.templateId })
      : api.templates.add({ name: name.value, file: file.value! }),
  )
  if (!made) return
  session.changed()
  emit('added', made.id)
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="templateId ? 'New version of the template' : 'Add a template'"
    save="Check and keep it"
    :busy="state.busy"
    :disabled="!file"
    :message="state.said"
    :changed="Boolean(file)"
    @save="save"
    @close="emit('close')"
  >
    <Field v-slot="{ id, described, invalid }" label="DOCX from this computer" :fault="fault('file')"
      ><input
        :id="id"
        type="file"
        accept=".docx"
        class="control"
        :aria-describedby="described"
        :aria-invalid="invalid"
        data-autofocus
        @change="choose"
    /></Field>
    <TextField v-if="templateId" v-model="why" label="What changed" optional :fault="fault('why')" />
    <TextField v-else v-model="name" label="Name" :fault="fault('name')" />
    <p class="text-ink-2">
      Fields stand between braces: {client.name}, {matter.opened_on | long date}. Conditions: {if matter.hourly} … {else} … {end if}. Lists:
      {for each p in parties} … {end for}. Merge fields of word processors are understood as well.
      <RouterLink to="/papers/fields" class="text-lagoon underline">All fields and formats</RouterLink>
    </p>
  </SideSheet>
</template>
