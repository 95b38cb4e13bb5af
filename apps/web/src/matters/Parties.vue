<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import NewContact from '../people/NewContact.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import { plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useAct } from '../use'
import { partyRoles } from './roles'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const adding = ref(false)
const making = ref('')
const who = ref<Choice | null>(null)
const role = ref('')
const side = ref<'ours' | 'adverse' | 'other'>('adverse')
const counsel = ref('')

async function save() {
  const check = await act(() =>
    api.matters.addParty({
      id: props.matter.id,
      contactId: who.value?.id ?? 0,
      role: role.value,
      side: side.value,
      counsel: counsel.value,
    }),
  )
  if (!check) return
  notes.say(
    `${who.value?.text} added; ${check.hits.length ? `${plural(check.hits.length, 'conflict hit')} to decide` : 'no conflict found'}`,
  )
  adding.value = false
  who.value = null
  session.changed()
}
</script>

<template>
  <div class="flex items-center px-4 py-3">
    <h2>Parties</h2>
    <Btn v-if="session.may('matters.open')" class="ml-auto" @click="adding = true">Add a party</Btn>
  </div>
  <table class="list-table">
    <thead>
      <tr>
        <th>Who</th>
        <th>Role</th>
        <th>Side</th>
        <th>Counsel</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in matter.parties" :key="p.id">
        <td>
          <RouterLink :to="`/people/${p.contactId}`" class="font-semibold hover:underline">{{ p.name }}</RouterLink>
        </td>
        <td>{{ p.role }}</td>
        <td class="text-ink-2">{{ p.side }}</td>
        <td class="text-ink-2">{{ p.counsel }}</td>
      </tr>
      <tr v-if="!matter.parties.length">
        <td colspan="4" class="text-ink-2">No parties yet. Each one added is checked for conflicts.</td>
      </tr>
    </tbody>
  </table>
  <SideSheet
    v-if="adding"
    title="Add a party"
    save="Add and check conflicts"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="who !== null"
    @save="save"
    @close="adding = false"
  >
    <Picker
      v-model="who"
      label="Who"
      :search="searchContacts"
      :fault="fault('contactId')"
      make="New person or organization"
      autofocus
      @make="making = $event"
    />
    <TextField v-model="role" label="Role" :list="partyRoles" :fault="fault('role')" />
    <ChoiceField
      v-model="side"
      label="Side"
      :options="[
        { value: 'ours', text: 'Ours' },
        { value: 'adverse', text: 'Adverse' },
        { value: 'other', text: 'Other' },
      ]"
    />
    <TextField v-model="counsel" label="Counsel" optional />
    <NewContact v-if="making" :name="making" as="opposing party" @made="((who = $event), (making = ''))" @close="making = ''" />
  </SideSheet>
</template>
