<script setup lang="ts">
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import { useKeptForm } from '../ui/kept'
import State from '../ui/State.vue'
import { useAct } from '../use'

/** What the firm's bills show beyond the letterhead. */
const notes = useNotes()
const { state, act } = useAct()
const { form, problem, reload, save: keep } = useKeptForm(() => api.billing.look())
async function save() {
  if (await keep((own) => act(() => api.billing.changeLook(own)))) notes.say('Kept; it holds for bills issued from now on')
}
</script>

<template>
  <State :loading="!form" :problem="problem" @again="reload()">
    <form v-if="form" class="sheet space-y-3 px-4 py-3.5" aria-label="What bills show" @submit.prevent="save">
      <h2>What bills show</h2>
      <p v-if="state.message" role="alert" class="text-rust">{{ state.message }}</p>
      <ChoiceField
        v-model="form.group"
        label="Lines of work stand"
        :options="[
          { value: 'none', text: 'one after another' },
          { value: 'person', text: 'under each person' },
          { value: 'day', text: 'under each day' },
          { value: 'activity', text: 'under each activity' },
        ]"
      />
      <label class="flex items-center gap-2"
        ><input v-model="form.summary" type="checkbox" class="accent-ink" /> Hours and amounts by person, in sum</label
      >
      <label class="flex items-center gap-2"
        ><input v-model="form.trust" type="checkbox" class="accent-ink" /> What is held in trust for the matter</label
      >
      <label class="flex items-center gap-2"
        ><input v-model="form.slip" type="checkbox" class="accent-ink" /> A part to return with the payment</label
      >
      <p class="text-ink-2">
        A client or matter has its own way where its terms of bills say so. Payers whose letters are in Spanish get their bills in Spanish.
      </p>
      <Btn type="submit" :busy="state.busy">Keep what bills show</Btn>
    </form>
  </State>
</template>
