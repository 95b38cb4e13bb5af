<script setup lang="ts">
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

/** Folders that a matter's papers start with: for all areas, and for one besides. */
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.papers.standardFolders())
const { data: setting } = useLoad(() => api.matters.setting())
const areaId = ref<number | null>(null)
const text = ref('')
const was = ref('')
const kept = computed(() => (data.value ?? []).filter((f) => f.areaId === areaId.value).map((f) => f.path).join('\n')) // prettier-ignore
watch(
  [kept, areaId],
  () => {
    if (text.value !== was.value) return
    text.value = was.value = kept.value
  },
  { immediate: true },
)
const changed = computed(() => text.value !== was.value)
useUnsaved({ changed: () => changed.value })
const { state, fault, send } = useForm(() => {
  const paths = text.value.split('\n').map((p) => p.trim()).filter(Boolean) // prettier-ignore
  return api.papers.setStandardFolders({ areaId: areaId.value, paths })
})
async function save() {
  if (!(await send())) return
  was.value = text.value
  notes.say('The folders are kept')
  await reload()
}
const areas = computed(() => [
  { value: null as number | null, text: 'All areas' },
  ...(setting.value?.areas.map((a) => ({ value: a.id as number | null, text: `${a.name}, besides` })) ?? []),
])
</script>

<template>
  <SetUpPage hint="What the papers of every matter start with. Folders in which papers lie stay where they are.">
    <template #acts><Btn main :busy="state.busy" :disabled="!changed" key-name="Ctrl Enter" @click="save">Save</Btn></template>
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <form class="sheet max-w-[560px] space-y-3 px-4 py-3.5" aria-label="Folders" @submit.prevent="save" @keydown.ctrl.enter="save">
        <fieldset :disabled="changed">
          <ChoiceField v-model="areaId" label="For" :options="areas" :hint="changed ? 'Save first, or put it back as it was.' : ''" />
        </fieldset>
        <TextField
          v-model="text"
          label="Folders, one in a line"
          :lines="12"
          :fault="fault('paths')"
          hint="A folder within another stands behind a slash: Discovery/Served on us"
        />
        <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
      </form>
    </State>
  </SetUpPage>
</template>
