<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { plural } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import AreaSheet from './AreaSheet.vue'
import SetUpPage from './SetUpPage.vue'

type Area = Answer<typeof api.firm.areas>[number]
const notes = useNotes()
const { data, problem, loading, reload } = useLoad(() => api.firm.areas())
const { data: setting } = useLoad(() => api.matters.setting())
const open = ref<Area | 'new' | null>(null)
async function saved(name: string) {
  open.value = null
  notes.say(`${name} kept`)
  await reload()
}
const rules = (key: string | null) => setting.value?.ruleSets.find((r) => r.key === key)?.title ?? ''
</script>

<template>
  <SetUpPage>
    <template #acts><Btn main @click="open = 'new'">New area</Btn></template>
    <section class="sheet overflow-x-auto" aria-label="Practice areas">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
        <template #empty>No practice area yet. Each brings its stages, rules, team and procedures to the matters opened in it.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th>Area</th>
              <th>Stages</th>
              <th>Rules</th>
              <th>Open to</th>
              <th class="num">Matters</th>
              <th><span class="sr-only">Change</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in data" :key="a.id">
              <td>
                <b>{{ a.name }}</b><span v-if="a.retired" class="tag ml-1 bg-mist text-ink-2">retired</span>
                <span class="block text-sm text-ink-2">{{
                  [
                    a.team.length ? plural(a.team.length, 'person', 'people') : '',
                    a.procedureIds.length ? plural(a.procedureIds.length, 'procedure') : '',
                  ]
                    .filter(Boolean)
                    .join(', ')
                }}</span>
              </td>
              <td class="text-ink-2">
                {{
                  a.stages
                    .filter((s) => !s.retired)
                    .map((s) => s.name)
                    .join(' → ')
                }}
              </td>
              <td class="text-ink-2">{{ rules(a.ruleSetKey) }}</td>
              <td class="text-ink-2">
                {{ a.staff.file === 0 ? 'the team only' : a.staff.file === 1 ? 'all staff, to see' : 'all staff' }}
              </td>
              <td class="num">{{ a.matters || '' }}</td>
              <td class="num"><Btn small :aria-label="`Change ${a.name}`" @click="open = a">Change</Btn></td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <AreaSheet v-if="open" :area="open === 'new' ? null : open" @saved="saved" @close="open = null" />
  </SetUpPage>
</template>
