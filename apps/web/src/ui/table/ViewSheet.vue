<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import { useForm } from '../form'
import { useLoad } from '../../use'
import Btn from '../Btn.vue'
import SideSheet from '../SideSheet.vue'
import State from '../State.vue'
import TextField from '../TextField.vue'
import { readView, type ViewState } from '../views'
import { sure } from '../../ui/question'

/** Named views of a list, of oneself and those that colleagues gave to all: taken, forgotten, and what is shown kept as another. */
const props = defineProps<{ list: string; state: ViewState }>()
const emit = defineEmits<{ choose: [ViewState]; close: [] }>()
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.views.list({ list: props.list }))
const name = ref('')
const shared = ref(false)
const {
  state: acting,
  act,
  fault,
  send,
} = useForm(() => api.views.save({ list: props.list, name: name.value, state: JSON.stringify(props.state), shared: shared.value }))
async function save() {
  if (!(await send())) return
  notes.say(`View ${name.value} kept`)
  emit('close')
}
async function forget(id: number) {
  if (!(await sure('Forget the view', 'It is gone for everybody who uses it. Nothing that it shows is touched.', 'Forget it'))) return
  if (await act(() => api.views.remove({ id }))) await reload()
}
function choose(state: string) {
  emit('choose', readView(state))
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Views"
    save="Keep what is shown"
    :busy="acting.busy"
    :message="acting.said"
    :changed="name !== ''"
    @save="save"
    @close="emit('close')"
  >
    <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
      <template #empty>No view of this list is kept yet.</template>
      <ul aria-label="Views that are kept">
        <li v-for="v in data ?? []" :key="v.id" class="flex items-center gap-2 border-t border-line-2 py-1">
          <button type="button" class="min-w-0 flex-1 truncate py-1 text-left text-lagoon hover:underline" @click="choose(v.state)">
            {{ v.name }} <span v-if="!v.own" class="text-ink-2">of {{ v.by }}</span
            ><span v-else-if="v.shared" class="text-ink-2">for all</span>
          </button>
          <Btn v-if="v.own" :aria-label="`Forget ${v.name}`" @click="forget(v.id)">Forget</Btn>
        </li>
      </ul>
    </State>
    <TextField v-model="name" label="Keep what is shown as" :fault="fault('name')" placeholder="For the end of the month" />
    <label class="flex gap-2"
      ><input v-model="shared" type="checkbox" class="accent-ink" /> For all colleagues; each sees only what is open to them</label
    >
  </SideSheet>
</template>
