<script setup lang="ts">
import { computed } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import { useLoad } from '../use'

/** A paper of the matter to go with what is said. */
const paperId = defineModel<number | null>({ required: true })
const props = defineProps<{ matterId: number; label?: string }>()
const session = useSession()
const { data } = useLoad(async () =>
  session.may('papers.see') ? (await api.papers.list({ matterId: props.matterId, size: 100 })).rows : [],
)
const chosen = computed({ get: () => paperId.value ?? 0, set: (v: number) => (paperId.value = v || null) })
</script>

<template>
  <div v-if="data?.length" class="max-w-96">
    <ChoiceField
      v-model="chosen"
      :label="label ?? 'With a paper'"
      :options="[{ value: 0, text: 'None' }, ...data.map((p) => ({ value: p.id, text: p.name }))]"
    />
  </div>
</template>
