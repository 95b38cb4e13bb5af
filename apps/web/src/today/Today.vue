<script setup lang="ts">
import { weekdayName, parts } from '@heron/core/calendar'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { asks } from '../api'
import { useShown } from '../shown'
import Agenda from '../docket/Agenda.vue'
import { useSession } from '../shell/session'
import TaskList from '../tasks/TaskList.vue'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import { plural, showHours, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import Mentions from './Mentions.vue'
import Notices from './Notices.vue'
import Reminders from './Reminders.vue'

const session = useSession()
const router = useRouter()
const scope = ref<'mine' | 'team' | 'firm'>(session.me?.role === 'docket clerk' ? 'firm' : 'mine')
const sees = session.may('docket.see')
const agenda = useShown(() =>
  sees ? asks.docket.agenda.queryOptions({ input: { from: session.today, courtDays: 10, scope: scope.value, onCalendar: true } }) : null,
)
const time = useShown(() =>
  session.may('time.record') ? asks.time.list.queryOptions({ input: { from: session.today, to: session.today } }) : null,
)
const waiting = useShown(() => asks.shell.waiting.queryOptions())

const longMonth = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December']
const title = computed(() => {
  const [, m, d] = parts(session.today)
  return `${weekdayName(session.today)} ${d} ${longMonth[m - 1]}`
})
const hint = computed(() => {
  const a = agenda.data.value
  if (!a) return ''
  const week = a.rows.filter((r) => r.courtDays <= 5 && r.weight !== 'appointment' && r.weight !== 'firm practice').length
  const late = a.late.length
  return `${session.me?.name.split(' ')[0]}, ${plural(week, 'court date')} in the next 5 court days; ${late ? `${plural(late, 'date')} overdue` : 'nothing is overdue'}.`
})
const waits = computed(() => {
  const w = waiting.data.value
  if (!w) return []
  return [
    w.preBills?.count
      ? { what: 'Bills', text: `${plural(w.preBills.count, 'pre-bill')} to review`, figure: showMoney(w.preBills.total), to: '/bills' }
      : null,
    w.approved?.count
      ? {
          what: 'Bills',
          text: `${plural(w.approved.count, 'approved pre-bill')} to issue`,
          figure: showMoney(w.approved.total),
          to: '/bills',
        }
      : null,
    w.sheets ? { what: 'Trust', text: `${plural(w.sheets, 'deposit sheet')} to post`, figure: '', to: '/trust' } : null,
    w.covers
      ? { what: 'Trust', text: `${plural(w.covers, 'cover')} of the firm on the way into trust`, figure: '', to: '/trust?show=settle' }
      : null,
    w.agree ? { what: 'Trust', text: `${plural(w.agree, 'thing')} to agree to`, figure: '', to: '/trust?show=settle' } : null,
    w.conflicts
      ? { what: 'Conflicts', text: `${plural(w.conflicts, 'matter')} with hits to decide`, figure: '', to: '/matters?conflicts=open' }
      : null,
    w.enquiries
      ? { what: 'Enquiries', text: `${plural(w.enquiries, 'enquiry', 'enquiries')} with a step due`, figure: '', to: '/people/enquiries' }
      : null,
    w.given
      ? {
          what: 'Tasks',
          text: `${plural(w.given, 'task')} you gave out ${w.given === 1 ? 'is' : 'are'} overdue`,
          figure: '',
          to: '/tasks?view=assigned&when=overdue',
        }
      : null,
    w.mail ? { what: 'Papers', text: `${plural(w.mail, 'e-mail')} to file`, figure: '', to: '/papers/mail' } : null,
    w.reviews ? { what: 'Papers', text: `${plural(w.reviews, 'draft')} to read`, figure: '', to: '/papers/to-read' } : null,
    w.stoppedBills
      ? {
          what: 'Books',
          text: `${plural(w.stoppedBills, 'recurring bill')} of vendors stopped`,
          figure: '',
          to: '/books?show=payables&part=again',
        }
      : null,
    w.stoppedJournals
      ? { what: 'Books', text: `${plural(w.stoppedJournals, 'recurring journal')} stopped`, figure: '', to: '/books?enter=journal' }
      : null,
    w.stoppedCosts
      ? { what: 'Costs', text: `${plural(w.stoppedCosts, 'recurring cost')} stopped`, figure: '', to: '/time/costs?show=recurring' }
      : null,
    w.stuck
      ? {
          what: 'Background',
          text: `${plural(w.stuck, 'letter or job', 'letters or jobs')} failed or waiting`,
          figure: '',
          to: '/set-up/background',
        }
      : null,
  ].filter((x) => x !== null)
})
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead :title="title" :hint="hint">
      <Btn v-if="session.may('time.record')" key-name="R" @click="router.push('/time?record=1')">Record time</Btn>
      <Btn v-if="session.may('matters.open')" main key-name="N" @click="router.push('/matters/new')">Open a matter</Btn>
    </PageHead>
    <div class="grid stacks grid-cols-1 gap-[18px] lg:grid-cols-[1fr_380px] xl:grid-cols-[1fr_408px]">
      <section v-if="sees" class="sheet min-w-0 overflow-hidden" aria-label="Docket">
        <div class="flex items-center gap-3 px-3.5 py-2.5">
          <h2>Docket</h2>
          <span class="text-ink-2">next 10 court days</span>
          <Switch
            v-model="scope"
            class="ml-auto"
            label="Whose dates"
            :options="[
              { value: 'mine', text: 'Mine' },
              { value: 'team', text: 'Team' },
              { value: 'firm', text: 'Firm' },
            ]"
          />
        </div>
        <State :loading="agenda.loading.value && !agenda.data.value" :problem="agenda.problem.value" @again="agenda.reload()">
          <Agenda v-if="agenda.data.value" :agenda="agenda.data.value" />
        </State>
      </section>
      <div class="space-y-3.5" :class="!sees && 'lg:order-none'">
        <Reminders v-if="sees" />
        <Mentions />
        <section class="sheet" aria-label="To do"><TaskList title="To do" /></section>
        <section v-if="session.may('time.record')" class="sheet" aria-label="Time today">
          <div class="flex px-3.5 pt-3 pb-2">
            <h2>Time today</h2>
            <span class="ml-auto"
              ><b>{{ showHours(time.data.value?.together.minutes ?? 0) }} h</b>
              <span class="text-ink-2">· {{ showMoney(time.data.value?.together.worth ?? 0) }}</span></span
            >
          </div>
          <State
            :loading="time.loading.value && !time.data.value"
            :problem="time.problem.value"
            :empty="!time.data.value?.rows.length"
            @again="time.reload()"
          >
            <template #empty
              >Nothing recorded today. <RouterLink to="/time?record=1" class="text-lagoon underline">Record time</RouterLink></template
            >
            <div
              v-for="t in time.data.value?.rows"
              :key="t.id"
              class="grid grid-cols-[40px_1fr_auto] gap-1 border-t border-line-2 px-3.5 py-[5px]"
            >
              <b>{{ showHours(t.minutes) }}</b><span class="truncate"
                >{{ t.matter }}<span class="text-ink-2"> · {{ t.text }}</span></span
              ><span class="text-ink-2">{{ showMoney(t.amount) }}</span>
            </div>
          </State>
        </section>
        <section class="sheet" aria-label="Waiting on you">
          <h2 class="px-3.5 pt-3 pb-2">Waiting on you</h2>
          <State
            :loading="waiting.loading.value && !waiting.data.value"
            :problem="waiting.problem.value"
            :empty="!waits.length"
            @again="waiting.reload()"
          >
            <template #empty>Nothing waits on you.</template>
            <RouterLink
              v-for="w in waits"
              :key="w.text"
              :to="w.to"
              class="grid grid-cols-[76px_1fr] border-t border-line-2 px-3.5 py-1.5 hover:bg-page"
            >
              <span class="text-ink-2">{{ w.what }}</span><span
                >{{ w.text }}<b v-if="w.figure">, {{ w.figure }}</b></span
              >
            </RouterLink>
          </State>
        </section>
        <Notices v-if="session.may('matters.see')" />
      </div>
    </div>
  </div>
</template>
