<script setup lang="ts">
import { ref } from 'vue'
import Field from '../../ui/Field.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { useUploads } from '../uploads'

/** A new version of a paper from this computer. The earlier ones stay. */
const props = defineProps<{ id: number; matterId: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const uploads = useUploads()
const file = ref<File | null>(null)
const why = ref('')
function save() {
  uploads.add(props.matterId, 'Versions', [file.value!], { versionOf: props.id, why: why.value })
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`New version of ${name}`"
    save="Save it"
    :disabled="!file"
    :changed="Boolean(file)"
    @save="save"
    @close="emit('close')"
  >
    <Field v-slot="{ id: fieldId }" label="File from this computer">
      <input
        :id="fieldId"
        type="file"
        class="control"
        data-autofocus
        @change="file = ($event.target as HTMLInputElement).files?.[0] ?? null"
      />
    </Field>
    <TextField v-model="why" label="What changed" optional />
    <p class="text-ink-2">The versions before it stay, and can be made the current one again.</p>
  </SideSheet>
</template>
