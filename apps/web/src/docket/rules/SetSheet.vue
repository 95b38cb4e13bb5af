<script setup lang="ts">
import { keyFromTitle, type RuleSet } from '@heron/core/docket'
import { computed, reactive } from 'vue'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { typedNumber } from '../../use'

/** What a set says of its court and how it counts; or a new event. */
const props = defineProps<{
  set: RuleSet
  part: 'set' | 'event'
  known: { key: string; title: string }[]
  busy: boolean
  message: string
}>()
const emit = defineEmits<{ close: []; save: [set: RuleSet, note: string] }>()
const s = props.set
const form = reactive({
  title: s.title,
  court: s.court,
  jurisdiction: s.jurisdiction,
  kind: s.kind,
  edition: s.edition,
  timeZone: s.timeZone,
  closes: s.dayEnds.otherwise,
  short: s.counting.shortPeriodUnder === null ? '' : String(s.counting.shortPeriodUnder),
  added: s.counting.service.added,
  backward: s.counting.service.backward,
  holidays: [...s.holidays],
  services: s.services.map((x) => ({ ...x, count: String(x.count) })),
  facts: s.facts.map((x) => ({ ...x })),
})
const event = reactive({
  title: '',
  after: [...s.triggers].sort((a, b) => a.order - b.order).at(-1)?.key ?? '',
  asksService: false,
  asksParty: false,
})
const before = JSON.stringify([form, event])
const zones = computed(() => Intl.supportedValuesOf('timeZone'))
const inOrder = computed(() => [...s.triggers].sort((a, b) => a.order - b.order))

function save() {
  if (props.part === 'event') {
    const at = inOrder.value.findIndex((t) => t.key === event.after)
    const key = keyFromTitle(
      event.title,
      s.triggers.map((t) => t.key),
    )
    const list = [...inOrder.value]
    list.splice(at + 1, 0, { key, title: event.title.trim(), order: 0, asksService: event.asksService, asksParty: event.asksParty })
    return emit('save', { ...s, triggers: list.map((t, i) => ({ ...t, order: (i + 1) * 2 })) }, `Event ${event.title.trim()} added`)
  }
  const keyed = <T extends { key: string }>(list: T[], words: (x: T) => string) => {
    const taken: string[] = []
    return list.map((x) => {
      const key = x.key || keyFromTitle(words(x), [...taken, ...list.map((y) => y.key)])
      taken.push(key)
      return { ...x, key }
    })
  }
  emit(
    'save',
    {
      ...s,
      title: form.title.trim(),
      court: form.court.trim(),
      jurisdiction: form.jurisdiction.trim(),
      kind: form.kind.trim(),
      edition: form.edition.trim(),
      timeZone: form.timeZone.trim(),
      dayEnds: { electronic: 'midnight', otherwise: form.closes.trim() },
      counting: {
        ...s.counting,
        shortPeriodUnder: typedNumber(form.short),
        service: { added: form.added, backward: form.backward },
      },
      holidays: form.holidays,
      services: keyed(form.services, (x) => x.title).map((x) => ({ ...x, count: typedNumber(x.count) ?? 0 })),
      facts: keyed(form.facts, (x) => x.question),
    },
    'Court and counting changed',
  )
}
</script>

<template>
  <SideSheet
    :title="part === 'event' ? 'New event' : 'Court and counting'"
    :wide="part === 'set'"
    save="Keep it"
    :busy="busy"
    :message="message"
    :changed="JSON.stringify([form, event]) !== before"
    @save="save"
    @close="emit('close')"
  >
    <template v-if="part === 'event'">
      <TextField v-model="event.title" label="What happens" placeholder="Record filed" autofocus />
      <ChoiceField
        v-if="inOrder.length"
        v-model="event.after"
        label="In the order of a case, after"
        :options="inOrder.map((t) => ({ value: t.key, text: t.title }))"
      />
      <label class="flex items-center gap-2"><input v-model="event.asksService" type="checkbox" /> Ask how it was served</label>
      <label class="flex items-center gap-2"><input v-model="event.asksParty" type="checkbox" /> Ask which party it concerns</label>
    </template>
    <template v-else>
      <div class="grid stacks grid-cols-2 gap-3">
        <TextField v-model="form.title" label="Title" autofocus />
        <TextField v-model="form.court" label="Court" />
        <TextField v-model="form.jurisdiction" label="State or jurisdiction" />
        <TextField v-model="form.kind" label="Kind of case" />
        <TextField v-model="form.edition" label="Edition" hint="Stands with every event counted by it" />
        <TextField v-model="form.timeZone" label="Time zone" :list="zones" />
        <TextField v-model="form.closes" label="Closing time of the clerk’s office" placeholder="16:30" />
        <TextField v-model="form.short" label="Periods under so many days count court days" optional />
        <ChoiceField
          v-model="form.added"
          label="Days for service are added"
          :options="[
            { value: 'after-roll', text: 'after the period would otherwise end' },
            { value: 'before-roll', text: 'before the last day is moved' },
          ]"
        />
      </div>
      <label class="flex items-center gap-2"
        ><input v-model="form.backward" type="checkbox" /> They are added when counting back, too</label
      >
      <fieldset>
        <legend class="font-semibold">Holidays</legend>
        <label v-for="h in known" :key="h.key" class="mr-4 inline-flex items-center gap-2"
          ><input v-model="form.holidays" type="checkbox" :value="h.key" /> {{ h.title }}</label
        >
        <p class="text-sm text-ink-2">Holidays of the court’s own are written in the set’s text, under “holidaySets”.</p>
      </fieldset>
      <fieldset class="space-y-1.5">
        <legend class="font-semibold">Ways of service</legend>
        <div v-for="(x, i) in form.services" :key="i" class="grid stacks grid-cols-[1fr_70px_140px_auto] items-center gap-2">
          <TextField v-model="x.title" label="Way of service" bare />
          <TextField v-model="x.count" label="Days added" bare />
          <ChoiceField
            v-model="x.unit"
            label="Of"
            bare
            :options="[
              { value: 'day', text: 'calendar days' },
              { value: 'courtDay', text: 'court days' },
            ]"
          />
          <Btn small :aria-label="`Take ${x.title} out`" @click="form.services.splice(i, 1)">Take out</Btn>
        </div>
        <Btn small @click="form.services.push({ key: '', title: '', count: '0', unit: 'day' })">Another way of service</Btn>
      </fieldset>
      <fieldset class="space-y-1.5">
        <legend class="font-semibold">Facts asked of a matter</legend>
        <div v-for="(x, i) in form.facts" :key="i" class="grid grid-cols-[1fr_auto] items-center gap-2">
          <TextField v-model="x.question" label="Fact" bare />
          <Btn small :aria-label="`Take ${x.question} out`" @click="form.facts.splice(i, 1)">Take out</Btn>
        </div>
        <Btn small @click="form.facts.push({ key: '', question: '' })">Another fact</Btn>
      </fieldset>
    </template>
  </SideSheet>
</template>
