<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useAct, useLoad } from '../use'
import SideSheet from './SideSheet.vue'
import Btn from './Btn.vue'
import TextField from './TextField.vue'

/** Named views of a list: the query of its address, kept under a name, for oneself or for all. */
const props = defineProps<{ list: string; state: Record<string, string> }>()
const emit = defineEmits<{ choose: [Record<string, string>] }>()
const notes = useNotes()
const { state: acting, act, fault } = useAct()
const { data, reload } = useLoad(() => api.views.list({ list: props.list }))
const saving = ref(false)
const name = ref('')
const shared = ref(false)
async function save() {
  if (!(await act(() => api.views.save({ list: props.list, name: name.value, state: JSON.stringify(props.state), shared: shared.value }))))
    return
  notes.say(`View ${name.value} kept`)
  saving.value = false
  await reload()
}
async function forget(id: number) {
  if (await act(() => api.views.remove({ id }))) await reload()
}
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton :as="Btn">Views</MenuButton>
    <MenuItems class="absolute right-0 z-30 mt-1 w-72 rounded-sheet border border-line bg-paper py-1 shadow-lg">
      <MenuItem v-for="v in data ?? []" :key="v.id" v-slot="{ active }">
        <div class="flex items-center px-3 py-1.5" :class="active && 'bg-lagoon-wash'">
          <button
            type="button"
            class="min-w-0 flex-1 truncate text-left"
            @click="emit('choose', JSON.parse(v.state) as Record<string, string>)"
          >
            {{ v.name }} <span v-if="!v.own" class="text-ink-2">of {{ v.by }}</span
            ><span v-else-if="v.shared" class="text-ink-2">for all</span>
          </button>
          <button v-if="v.own" type="button" class="px-1 text-ink-2" :aria-label="`Forget ${v.name}`" @click.stop="forget(v.id)">×</button>
        </div>
      </MenuItem>
      <p v-if="!data?.length" class="px-3 py-1.5 text-ink-2">No view kept yet.</p>
      <MenuItem v-slot="{ active }">
        <button
          type="button"
          class="block w-full border-t border-line-2 px-3 py-2 text-left text-lagoon"
          :class="active && 'bg-lagoon-wash'"
          @click="saving = true"
        >
          Keep what is shown as a view
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
  <SideSheet
    v-if="saving"
    title="Keep a view"
    save="Keep"
    :busy="acting.busy"
    :message="acting.fields.length ? '' : acting.message"
    :changed="name !== ''"
    @save="save"
    @close="saving = false"
  >
    <TextField v-model="name" label="Name" :fault="fault('name')" autofocus />
    <label class="flex gap-2"
      ><input v-model="shared" type="checkbox" class="accent-ink" /> For all colleagues; each sees only what is open to them</label
    >
  </SideSheet>
</template>
