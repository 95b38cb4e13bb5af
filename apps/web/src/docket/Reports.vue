<script setup lang="ts">
import { isDay, type Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { useAddress, dayOr } from '../address'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { dayText, plural } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useAct } from '../use'
import DocketTabs from './DocketTabs.vue'
import ReportSheet from './ReportSheet.vue'
import WhoseDates from './WhoseDates.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'
import { sure } from '../ui/question'

/** Reports of dates to read here, print, take home or send. */
const session = useSession()
const notes = useNotes()
const { act } = useAct()
const usual = {
  kind: 'span',
  from: session.today,
  to: '',
  span: '20',
  scope: session.me?.role === 'docket clerk' ? 'firm' : 'mine',
  userId: '0',
  areaId: '0',
  matterId: '0',
  matter: '',
  texts: '',
}
const s = useAddress(usual, ['kind'])
const from = ref<Day | null>(s.from)
const to = ref(dayOr(s.to, null))
watch([from, to], () => {
  if (from.value && isDay(from.value)) s.from = from.value
  s.to = to.value && isDay(to.value) ? to.value : ''
})
const matter = ref<Choice | null>(Number(s.matterId) ? { id: Number(s.matterId), text: s.matter } : null)
watch(matter, (m) => Object.assign(s, { matterId: String(m?.id ?? 0), matter: m?.text ?? '' }))
const sending = ref(false)
const report = computed(() => ({
  kind: s.kind as 'span',
  from: s.from,
  courtDays: Number(s.span),
  ...(isDay(s.to) ? { to: s.to } : {}),
  scope: s.scope as 'mine',
  ...(Number(s.userId) ? { userId: Number(s.userId) } : {}),
  ...(Number(s.areaId) ? { areaId: Number(s.areaId) } : {}),
  ...(s.kind === 'matter' && Number(s.matterId) ? { matterId: Number(s.matterId) } : {}),
}))
const ready = computed(() => s.kind !== 'matter' || Number(s.matterId) > 0)
const { data, problem, loading, reload } = useShown(() =>
  ready.value ? asks.reports.table.queryOptions({ input: { ...report.value, texts: s.texts ? 'true' : 'false' } }) : null,
)
const { data: weekly, reload: lookAgain } = useShown(() => asks.reports.schedules.queryOptions())
const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
async function end(id: number) {
  if (!(await sure('Send it no longer', 'Nobody on its list gets the report any more.', 'Send no longer'))) return
  if (!(await act(() => api.reports.endSchedule({ id })))) return
  notes.say('It is sent no longer')
  await lookAgain()
}
const shown = (cell: string) => (isDay(cell) ? dayText(cell) : cell)
const print = () => window.print()
const reportRows = computed(() => (data.value?.rows ?? []).map((cells, at) => ({ cells, at })))
const reportColumns = computed((): Column<(typeof reportRows.value)[number]>[] =>
  (data.value?.columns ?? []).map((text, j) => {
    const days = reportRows.value.every((r) => !r.cells[j] || isDay(r.cells[j]))
    // What is short takes little room; what is long gets more of the rest.
    const longest = Math.max(...reportRows.value.map((r) => r.cells[j]?.length ?? 0))
    return {
      key: `c${j}`,
      text,
      ...(days ? { size: 112 } : longest <= 10 ? { size: 88 } : { wrap: true, size: 104, grow: Math.min(longest, 60) / 20 }),
      strong: text === 'Title',
      narrow: text === 'Title' ? 'title' : 'line',
      sort: true,
      value: (r) => r.cells[j] ?? '',
      show: (r) => shown(r.cells[j] ?? ''),
    }
  }),
)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Docket reports" class="no-print">
      <Btn :disabled="!data" @click="print">Print</Btn>
      <Btn main :disabled="!ready" @click="sending = true">File or send it</Btn>
    </PageHead>
    <DocketTabs class="no-print" />
    <div class="no-print mb-3 flex flex-wrap items-end gap-3">
      <Switch
        v-model="s.kind"
        label="Report of"
        :options="[
          { value: 'span', text: 'Dates of a span' },
          { value: 'matter', text: 'A matter’s docket' },
          { value: 'teams', text: 'Who is on which matter' },
          { value: 'closed', text: 'Closed days ahead' },
        ]"
      />
    </div>
    <div class="no-print mb-3 flex flex-wrap items-end gap-3">
      <div v-if="s.kind === 'matter'" class="w-96">
        <Picker v-model="matter" label="Matter" :search="searchMatters" listed />
      </div>
      <template v-if="s.kind === 'span' || s.kind === 'closed'">
        <div class="w-40"><DayField v-model="from" label="From" /></div>
        <div class="w-40"><DayField v-model="to" label="To" optional /></div>
        <ChoiceField
          v-if="!s.to && s.kind === 'span'"
          v-model="s.span"
          label="Or so far ahead"
          :options="[
            { value: '5', text: '5 court days' },
            { value: '10', text: '10 court days' },
            { value: '20', text: '20 court days' },
            { value: '65', text: 'The quarter' },
            { value: '255', text: 'A year' },
          ]"
        />
      </template>
      <template v-if="s.kind === 'span'">
        <ChoiceField
          v-model="s.scope"
          label="Whose dates"
          :options="[
            { value: 'mine', text: 'Mine' },
            { value: 'team', text: 'My teams' },
            { value: 'firm', text: 'The firm' },
          ]"
        />
      </template>
      <template v-if="s.kind === 'span' || s.kind === 'teams'">
        <WhoseDates v-model:user-id="s.userId" v-model:area-id="s.areaId" />
      </template>
      <label v-if="s.kind === 'span' || s.kind === 'matter'" class="flex h-[33px] items-center gap-2"
        ><input type="checkbox" :checked="Boolean(s.texts)" @change="s.texts = s.texts ? '' : '1'" /> Full texts</label
      >
    </div>
    <section class="sheet" aria-label="Report">
      <p v-if="!ready" class="px-4 py-6 text-ink-2">Choose the matter whose docket you want.</p>
      <State v-else :loading="loading && !data" :problem="problem" @again="reload()">
        <template v-if="data">
          <div class="px-4 pt-3 pb-2">
            <h2>{{ data.title }}</h2>
            <p class="text-ink-2">{{ data.under }} · as of {{ dayText(data.asOf) }}</p>
          </div>
          <div class="overflow-x-auto" tabindex="0" role="region" aria-label="The report’s rows">
            <DataTable
              v-if="data.rows.length"
              label="The report"
              :name="`report-${s.kind}`"
              plain
              :rows="reportRows"
              :columns="reportColumns"
              :row-id="(r) => r.at"
            />
            <p v-else class="px-4 py-5 text-ink-2">Nothing falls into this report.</p>
          </div>
        </template>
      </State>
    </section>
    <section v-if="weekly?.length" aria-label="Sent every week" class="no-print sheet mt-4">
      <h2 class="px-4 pt-3 pb-1.5">Sent every week</h2>
      <p v-for="w in weekly" :key="w.id" class="flex items-center gap-3 border-t border-line-2 px-4 py-1.5">
        <span class="min-w-0 flex-1"
          >{{ w.words }}
          <span class="text-ink-2"
            >every {{ weekdays[w.weekday - 1] }} to {{ w.to.length > 3 ? plural(w.to.length, 'person', 'people') : w.to.join(', ')
            }}<template v-if="w.lastOn"> · last sent {{ dayText(w.lastOn) }}</template></span
          ></span
        >
        <Btn small :aria-label="`Send no longer: ${w.words}`" @click="end(w.id)">Send no longer</Btn>
      </p>
    </section>
    <ReportSheet v-if="sending" :report="report" @close="sending = false" />
  </div>
</template>
