<script setup lang="ts">
import type { ContactIn } from '@heron/contract'
import { ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

const session = useSession()
const notes = useNotes()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.people.get({ id }))
const { state, act, fault } = useAct()
const editing = ref(false)
const form = ref<ContactIn>({ kind: 'person', name: '', greeting: '', email: '', phone: '', address: '', notes: '', kinds: [] })
watch(editing, (on) => {
  if (on && data.value) form.value = { ...data.value, kinds: data.value.kinds as ContactIn['kinds'] }
})
async function save() {
  const { kind, name, greeting, email, phone, address, notes: text, kinds } = form.value
  if (!(await act(() => api.people.change({ id, kind, name, greeting, email, phone, address, notes: text, kinds })))) return
  notes.say('Contact changed')
  editing.value = false
  await reload()
}
</script>

<template>
  <div class="px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="data.name" :hint="data.kinds.join(', ') || data.kind"
          ><Btn v-if="session.may('people.change')" @click="editing = true">Change</Btn></PageHead
        >
        <div class="grid gap-[18px] lg:grid-cols-[340px_minmax(0,1fr)]">
          <section
            class="sheet px-4 py-3.5 [&_dt]:text-ink-2 [&_dl>div]:border-t [&_dl>div]:border-line-2 [&_dl>div]:py-[6px]"
            aria-label="How to reach"
          >
            <h2 class="mb-1">How to reach</h2>
            <dl>
              <div>
                <dt>E-mail</dt>
                <dd>{{ data.email || 'none' }}</dd>
              </div>
              <div>
                <dt>Phone</dt>
                <dd>{{ data.phone || 'none' }}</dd>
              </div>
              <div>
                <dt>Address</dt>
                <dd class="whitespace-pre-line">{{ data.address || 'none' }}</dd>
              </div>
              <div v-if="data.greeting">
                <dt>Greeting in letters</dt>
                <dd>{{ data.greeting }}</dd>
              </div>
              <div v-if="data.notes">
                <dt>Notes</dt>
                <dd class="whitespace-pre-line">{{ data.notes }}</dd>
              </div>
            </dl>
          </section>
          <section class="sheet" aria-label="Matters">
            <h2 class="px-4 pt-3.5 pb-1">Matters and parts played</h2>
            <State :empty="!data.parts.length">
              <template #empty>In no matter yet.</template>
              <table class="list-table">
                <thead>
                  <tr>
                    <th>Number</th>
                    <th>Matter</th>
                    <th>Part</th>
                    <th>State</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="p in data.parts" :key="`${p.matterId}${p.part}`" class="open-on">
                    <td class="text-ink-2">{{ p.number }}</td>
                    <td>
                      <RouterLink :to="`/matters/${p.matterId}`" class="font-semibold hover:underline">{{ p.name }}</RouterLink>
                    </td>
                    <td>{{ p.part }}</td>
                    <td class="text-ink-2">{{ p.open ? 'open' : 'closed' }}</td>
                  </tr>
                </tbody>
              </table>
            </State>
          </section>
        </div>
      </template>
    </State>
    <SideSheet
      v-if="editing"
      title="Change contact"
      save="Save"
      :busy="state.busy"
      :message="state.fields.length ? '' : state.message"
      changed
      @save="save"
      @close="editing = false"
    >
      <TextField v-model="form.name" label="Name" :fault="fault('name')" autofocus />
      <ChoiceField
        v-model="form.kind"
        label="Is a"
        :options="[
          { value: 'person', text: 'Person' },
          { value: 'organization', text: 'Organization' },
        ]"
      />
      <TextField v-model="form.greeting" label="Greeting in letters" optional />
      <TextField v-model="form.email" label="E-mail" optional :fault="fault('email')" />
      <TextField v-model="form.phone" label="Phone" optional />
      <TextField v-model="form.address" label="Address" optional :lines="3" />
      <TextField v-model="form.notes" label="Notes" optional :lines="4" />
    </SideSheet>
  </div>
</template>
