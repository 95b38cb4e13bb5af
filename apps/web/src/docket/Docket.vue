<script setup lang="ts">
import { weights, type Weight } from '@heron/core/docket'
import { reactive, ref } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import PageHead from '../ui/PageHead.vue'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import TextField from '../ui/TextField.vue'
import Agenda from './Agenda.vue'
import Calendars from './Calendars.vue'
import Closures from './Closures.vue'
import ReminderSheet from './ReminderSheet.vue'
import ReportSheet from './ReportSheet.vue'

const session = useSession()
const scope = ref<'mine' | 'team' | 'firm'>(session.me?.role === 'docket clerk' ? 'firm' : 'mine')
const open = ref<'' | 'reminders' | 'calendars' | 'closures' | 'report'>('')
const span = ref<'5' | '10' | '20' | '65'>('20')
const filter = reactive({ q: '', userId: 0, areaId: 0, weight: '' as '' | Weight, only: '' as '' | 'unassigned' | 'unconfirmed' | 'late' })
const { data: setting } = useLoad(() => api.matters.setting())
const asked = () => ({
  from: session.today,
  courtDays: Number(span.value),
  scope: scope.value,
  q: filter.q,
  weight: filter.weight,
  only: filter.only,
  ...(filter.userId ? { userId: filter.userId } : {}),
  ...(filter.areaId ? { areaId: filter.areaId } : {}),
})
const query = () => Object.fromEntries(Object.entries(asked()).map(([k, v]) => [k, String(v)]))
const { data, problem, loading, reload } = useLoad(
  () => api.docket.agenda(asked()),
  [scope, span, () => JSON.stringify(filter), () => session.tick],
)
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Docket" hint="Enter on a line shows how a date was counted.">
      <Switch
        v-model="span"
        label="How far ahead"
        :options="[
          { value: '5', text: '5 court days' },
          { value: '10', text: '10' },
          { value: '20', text: '20' },
          { value: '65', text: 'Quarter' },
        ]"
      />
      <Switch
        v-model="scope"
        label="Whose dates"
        :options="[
          { value: 'mine', text: 'Mine' },
          { value: 'team', text: 'Team' },
          { value: 'firm', text: 'Firm' },
        ]"
      />
      <Btn @click="open = 'closures'">Closed days</Btn>
      <Btn @click="open = 'reminders'">Reminders</Btn>
      <Btn @click="open = 'calendars'">Calendars</Btn>
    </PageHead>
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <TextField v-model="filter.q" class="w-56" label="Words" placeholder="title, matter, authority, tag" />
      <ChoiceField
        v-model="filter.userId"
        label="Person"
        :options="[{ value: 0, text: 'Anyone' }, ...(setting?.staff ?? []).map((s) => ({ value: s.id, text: s.name }))]"
      />
      <ChoiceField
        v-model="filter.areaId"
        label="Practice area"
        :options="[{ value: 0, text: 'Any' }, ...(setting?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))]"
      />
      <ChoiceField
        v-model="filter.weight"
        label="Weight"
        :options="[{ value: '', text: 'Any' }, ...weights.map((w) => ({ value: w, text: w }))]"
      />
      <ChoiceField
        v-model="filter.only"
        label="Look for"
        :options="[
          { value: '', text: 'All' },
          { value: 'unassigned', text: 'Nobody responsible' },
          { value: 'unconfirmed', text: 'Tentative or provisional' },
          { value: 'late', text: 'Overdue' },
        ]"
      />
      <Btn class="ml-auto" @click="open = 'report'">Report</Btn>
    </div>
    <section class="sheet overflow-hidden" aria-label="Agenda">
      <State :loading="loading && !data" :problem="problem" @again="reload()"><Agenda v-if="data" :agenda="data" /></State>
    </section>
    <ReportSheet v-if="open === 'report'" address="/api/docket/report" :query="query()" @close="open = ''" />
    <ReminderSheet v-if="open === 'reminders'" @close="open = ''" />
    <Closures v-if="open === 'closures'" @close="open = ''" />
    <Calendars v-if="open === 'calendars'" @close="open = ''" />
  </div>
</template>
