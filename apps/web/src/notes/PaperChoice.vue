<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchPapers } from '../ui/search'
import { useLoad } from '../use'

/** A paper of the matter to go with what is said: of few from a list, of many by words of its name. */
const paperId = defineModel<number | null>({ required: true })
const props = defineProps<{ matterId: number; label?: string }>()
const session = useSession()
const few = 100
const { data } = useLoad(() =>
  session.may('papers.see') ? api.papers.list({ matterId: props.matterId, size: few }) : Promise.resolve({ rows: [], total: 0 }),
)
const chosen = computed({ get: () => paperId.value ?? 0, set: (v: number) => (paperId.value = v || null) })
/** The one that is chosen, with its name, which may be none of the first. */
const picked = shallowRef<Choice | null>(null)
watch(
  [paperId, data],
  async ([id, list]) => {
    if (!list || list.total <= few || id === (picked.value?.id ?? null)) return
    const known = list.rows.find((p) => p.id === id) ?? (id ? await api.papers.one({ id }).catch(() => null) : null)
    if (id === paperId.value) picked.value = known ? { id: known.id, text: known.name } : null
  },
  { immediate: true },
)
function pick(choice: Choice | null) {
  picked.value = choice
  paperId.value = choice?.id ?? null
}
const find = computed(() => searchPapers(props.matterId))
</script>

<template>
  <div v-if="data?.rows.length" class="max-w-96">
    <Picker
      v-if="data.total > few"
      :model-value="picked"
      :label="label ?? 'With a paper'"
      optional
      placeholder="Words of its name"
      :search="find"
      @update:model-value="pick"
    />
    <ChoiceField
      v-else
      v-model="chosen"
      :label="label ?? 'With a paper'"
      :options="[{ value: 0, text: 'None' }, ...data.rows.map((p) => ({ value: p.id, text: p.name }))]"
    />
  </div>
</template>
