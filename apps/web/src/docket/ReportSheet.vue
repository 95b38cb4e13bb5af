<script setup lang="ts">
import { computed, reactive } from 'vue'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import ManyField from '../ui/ManyField.vue'
import { plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** A report as a file, with titles or full texts, as a list or a line of time; sent to colleagues now or every week. */
type Asked = Omit<Parameters<typeof api.reports.mail>[0], 'userIds' | 'format' | 'texts' | 'layout' | 'paper'>
const props = defineProps<{ report: Asked }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const form = reactive({
  format: 'pdf' as 'pdf' | 'csv' | 'xlsx',
  texts: 'true' as 'true' | 'false',
  layout: 'list' as 'list' | 'line',
  paper: 'LETTER' as 'LETTER' | 'A4',
  userIds: [session.me!.id] as number[],
  weekday: 0,
})
const ofDates = computed(() => props.report.kind === 'span' || props.report.kind === 'matter' || !props.report.kind)
const how = () => ({ format: form.format, texts: form.texts === 'true', layout: form.layout, paper: form.paper })
const href = computed(() => {
  const query = Object.entries({ ...props.report, ...how() }).filter(([, v]) => v !== undefined && v !== '')
  return `/api/docket/report?${new URLSearchParams(query.map(([k, v]) => [k, String(v)])).toString()}`
})
const staff = computed(() => (setting.value?.staff ?? []).map((s) => ({ id: s.id, text: s.name, hint: s.title })))
const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

const { state, fault, send } = useForm(() => {
  const input = { ...props.report, ...how(), userIds: form.userIds }
  return form.weekday ? api.reports.schedule({ ...input, weekday: form.weekday }) : api.reports.mail(input)
})
async function save() {
  const weekday = form.weekday
  const done = await send()
  if (!done) return
  notes.say(
    'sent' in done
      ? `Sent to ${plural(done.sent, 'person', 'people')}, each as they may see it`
      : `It goes out every ${days[weekday - 1]}, from the next one on`,
  )
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    light
    title="Report"
    :save="form.weekday ? `Send it every ${days[form.weekday - 1]}` : 'Send it now'"
    :busy="state.busy"
    :message="state.said"
    @save="save"
    @close="emit('close')"
  >
    <ChoiceField
      v-model="form.format"
      label="As"
      autofocus
      :options="[
        { value: 'pdf', text: 'PDF, to print or send' },
        { value: 'csv', text: 'CSV, for any spreadsheet' },
        { value: 'xlsx', text: 'XLSX, a workbook' },
      ]"
    />
    <template v-if="form.format === 'pdf'">
      <template v-if="ofDates">
        <ChoiceField
          v-model="form.layout"
          label="Laid out"
          :options="[
            { value: 'list', text: 'As a list' },
            { value: 'line', text: 'As a line of time for each matter' },
          ]"
        />
        <ChoiceField
          v-if="form.layout === 'list'"
          v-model="form.texts"
          label="With"
          :options="[
            { value: 'true', text: 'Full texts and each step of the count' },
            { value: 'false', text: 'Titles and authorities' },
          ]"
        />
      </template>
      <ChoiceField
        v-model="form.paper"
        label="Paper"
        :options="[
          { value: 'LETTER', text: 'Letter' },
          { value: 'A4', text: 'A4' },
        ]"
      />
    </template>
    <Btn :href="href" target="_blank" rel="noopener">Open the report</Btn>
    <section aria-label="Send it" class="space-y-2 border-t border-line-2 pt-3">
      <h3>Send it</h3>
      <ManyField v-model="form.userIds" label="To" :options="staff" :fault="fault('userIds')" />
      <ChoiceField
        v-model="form.weekday"
        label="When"
        :options="[{ value: 0, text: 'Now, once' }, ...days.map((d, i) => ({ value: i + 1, text: `Every ${d}` }))]"
      />
      <p class="text-ink-2">Each gets it as they may see it. A weekly report moves along: its span begins on the day it goes out.</p>
    </section>
  </SideSheet>
</template>
