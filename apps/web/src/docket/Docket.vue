<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import PageHead from '../ui/PageHead.vue'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import Btn from '../ui/Btn.vue'
import Agenda from './Agenda.vue'
import Calendars from './Calendars.vue'
import Closures from './Closures.vue'
import ReminderSheet from './ReminderSheet.vue'

const session = useSession()
const scope = ref<'mine' | 'team' | 'firm'>(session.me?.role === 'docket clerk' ? 'firm' : 'mine')
const open = ref<'' | 'reminders' | 'calendars' | 'closures'>('')
const span = ref<'5' | '10' | '20' | '65'>('20')
const { data, problem, loading, reload } = useLoad(
  () => api.docket.agenda({ from: session.today, courtDays: Number(span.value), scope: scope.value }),
  [scope, span, () => session.tick],
)
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Docket" hint="Every date with its authority and how it was counted; Enter on a line shows both.">
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
    <section class="sheet overflow-hidden" aria-label="Agenda">
      <State :loading="loading && !data" :problem="problem" @again="reload()"><Agenda v-if="data" :agenda="data" /></State>
    </section>
    <ReminderSheet v-if="open === 'reminders'" @close="open = ''" />
    <Closures v-if="open === 'closures'" @close="open = ''" />
    <Calendars v-if="open === 'calendars'" @close="open = ''" />
  </div>
</template>
