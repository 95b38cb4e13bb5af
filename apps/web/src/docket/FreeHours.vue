<script setup lang="ts">
import { addDays, type Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import ManyField from '../ui/ManyField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, plural, timeText } from '../ui/show'
import { useForm } from '../ui/form'
import { useFirstField, useLoad } from '../use'
import DocketTabs from './DocketTabs.vue'
import MyHours from './MyHours.vue'
import TakeHour from './TakeHour.vue'

/** When everyone chosen is free, each within their own working hours; an hour is taken for an appointment. */
const session = useSession()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const form = reactive({
  userIds: [session.me!.id] as number[],
  minutes: 60,
  from: session.today as Day | null,
  to: addDays(session.today, 14) as Day | null,
})
type Found = Answer<typeof api.calendar.freeHours>
const found = ref<Found | null>(null)
const taking = ref<Found['hours'][number] | null>(null)
const hoursOpen = ref(false)
const staff = computed(() => (setting.value?.staff ?? []).map((s) => ({ id: s.id, text: s.name, hint: s.title })))
const days = computed(() => {
  const by = new Map<Day, Found['hours']>()
  for (const h of found.value?.hours ?? []) by.set(h.day, [...(by.get(h.day) ?? []), h])
  return [...by].map(([day, hours]) => ({ day, hours }))
})
const city = (zone: string) => (zone.split('/').at(-1) ?? zone).replace(/_/g, ' ')
// What was found for others, or for less time, is no answer to what now stands in the form.
watch(form, () => (found.value = null), { deep: true })
const { state, fault, send } = useForm(() =>
  api.calendar.freeHours({ userIds: form.userIds, minutes: form.minutes, from: form.from ?? '', to: form.to ?? '' }),
)

async function look() {
  const asked = JSON.stringify(form)
  const got = await send()
  if (asked === JSON.stringify(form)) found.value = got
}
useFirstField()
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Free hours" hint="When everyone chosen is free; all-day dates make nobody busy">
      <Btn @click="hoursOpen = true">My working hours</Btn>
    </PageHead>
    <DocketTabs />
    <form
      class="sheet mb-4 grid stacks grid-cols-[1fr_150px_160px_160px_auto] items-start gap-3 px-4 py-3"
      novalidate
      @submit.prevent="look"
    >
      <ManyField v-model="form.userIds" label="Who" :options="staff" :fault="fault('userIds')" autofocus />
      <ChoiceField
        v-model="form.minutes"
        label="For"
        :fault="fault('minutes')"
        :options="[15, 30, 45, 60, 90, 120, 180, 240].map((n) => ({ value: n, text: n < 60 ? `${n} minutes` : `${n / 60} h` }))"
      />
      <DayField v-model="form.from" label="From" :fault="fault('from')" />
      <DayField v-model="form.to" label="To" :fault="fault('to')" />
      <Btn main type="submit" :busy="state.busy" class="mt-[22px]">Find free hours</Btn>
    </form>
    <p v-if="state.said" role="alert" class="mb-3 text-rust">{{ state.said }}</p>
    <section v-if="found" class="sheet" aria-label="Free hours">
      <div class="px-4 pt-3 pb-2" role="status">
        <h2>
          {{
            found.hours.length ? `${plural(found.hours.length, 'starting time')} at which everyone is free` : 'No hour is free for everyone'
          }}
        </h2>
        <p class="text-ink-2">
          {{ found.people.map((p) => `${p.name} ${timeText(p.from)} to ${timeText(p.to)}, ${city(p.zone)}`).join(' · ') }}. Hours stand in
          {{ city(found.zone) }} time.<template v-if="found.more"> There are more than these; begin on a later day to see them.</template>
        </p>
      </div>
      <p v-if="!found.hours.length" class="px-4 pb-4 text-ink-2">Look further ahead, for less time, or with fewer people.</p>
      <div v-for="d in days" :key="d.day" class="flex items-baseline gap-3 border-t border-line-2 px-4 py-2">
        <b class="w-28 flex-none font-serif font-semibold whitespace-nowrap">{{ dayText(d.day) }}</b>
        <span class="flex flex-wrap gap-1.5">
          <Btn v-for="h in d.hours" :key="h.time" small :aria-label="`Take ${dayText(h.day)}, ${timeText(h.time)}`" @click="taking = h"
            >{{ timeText(h.time)
            }}<span v-for="e in h.elsewhere" :key="e.zone" class="font-normal text-ink-2"
              >{{ timeText(e.time) }} {{ city(e.zone) }}</span
            ></Btn
          >
        </span>
      </div>
    </section>
    <p v-else class="text-ink-2">Choose who is to take part. Of what others have on, only that they are busy is used.</p>
    <TakeHour
      v-if="taking && found"
      :hour="taking"
      :minutes="form.minutes"
      :zone="found.zone"
      :user-ids="form.userIds"
      :names="found.people.map((p) => p.name)"
      @close="taking = null"
      @taken="((taking = null), look())"
    />
    <MyHours v-if="hoursOpen" @close="hoursOpen = false" />
  </div>
</template>
