<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { api } from '../api'
import Picker, { type Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import { searchMatters } from '../ui/search'
import EntryForm from './EntryForm.vue'

/** A new date from the firm's docket: first of which matter, then the date itself. */
const props = defineProps<{ day: Day; time: string }>()
const emit = defineEmits<{ close: [] }>()
const matter = ref<Choice | null>(null)
const known = ref<{ id: number; ruleSetKey: string | null } | null>(null)
async function take(m: Choice | null) {
  matter.value = m
  known.value = m ? { id: m.id, ruleSetKey: (await api.matters.get({ id: m.id })).ruleSetKey } : null
}
</script>

<template>
  <EntryForm
    v-if="known"
    :matter-id="known.id"
    :rule-set-key="known.ruleSetKey"
    :matter-name="matter?.text"
    :at="props"
    @close="emit('close')"
  />
  <SideSheet v-else title="New date" @close="emit('close')">
    <Picker :model-value="matter" label="Matter" :search="searchMatters" listed autofocus @update:model-value="take" />
    <p class="text-ink-2">Dates that follow from an event are worked out on the matter’s own Docket.</p>
  </SideSheet>
</template>
