<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { timeFields } from '@heron/contract'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import FirmWords from '../time/FirmWords.vue'
import PhraseList from '../time/PhraseList.vue'
import { useTimeSetUp } from '../time/set-up'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import { useKeptForm } from '../ui/kept'
import State from '../ui/State.vue'
import { keyOf } from '../ui/rows'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import SetUpPage from './SetUpPage.vue'

/** What an entry of time has in this firm: what is not used is gone from forms, lists and files. */
const words: Record<(typeof timeFields)[number], string> = {
  activity: 'Activity code',
  task: 'Task code, for electronic bills',
  times: 'From when to when',
  amount: 'An amount alone, without hours',
  court: 'In court',
  funding: 'Funding source',
  'private attorney': 'Private attorney involved',
  note: 'A note to the file at the same time',
}
const notes = useNotes()
const setUp = useTimeSetUp()
const {
  form,
  problem,
  reload,
  save: keep,
} = useKeptForm(async () => {
  const { fields, funding } = await api.time.fields()
  return {
    used: Object.fromEntries(timeFields.map((f) => [f, fields.includes(f)])) as Record<string, boolean>,
    funding: funding.map((f): { id?: number; name: string; from: Day | null; to: Day | null; retired: boolean } => ({ ...f })),
  }
})
const { state, fault, send } = useForm(() => {
  const own = form.value!
  return api.time.setFields({ fields: timeFields.filter((f) => own.used[f]), funding: own.funding })
})
async function save() {
  if (!(await keep(send))) return
  notes.say('Kept')
  await setUp.read()
  await reload()
}
</script>

<template>
  <SetUpPage>
    <State :problem="problem" :loading="!form" @again="reload()">
      <div v-if="form" class="grid stacks items-start gap-[18px] lg:grid-cols-2">
        <section class="sheet px-4 py-3.5" aria-label="Fields of time">
          <h2 class="mb-1">What an entry of time has</h2>
          <p class="mb-2 text-ink-2">Matter, day, hours and words it always has. What is not used is gone from forms, lists and files.</p>
          <label v-for="f in timeFields" :key="f" class="flex items-center gap-2 py-1"
            ><input v-model="form.used[f]" type="checkbox" class="accent-ink" /> {{ words[f] }}</label
          >
        </section>
        <section class="sheet px-4 py-3.5" aria-label="Sources of funding">
          <h2 class="mb-1">Sources of funding</h2>
          <p class="text-ink-2">
            Grants and programs that pay for work, each with the days on which it is open. A matter names its own under Rounding and rates.
          </p>
          <div v-for="(f, i) in form.funding" :key="keyOf(f)" class="mt-2 border-t border-line-2 pt-2">
            <TextField v-model="f.name" :label="`Source ${i + 1}`" :fault="fault(`funding.${i}.name`)" />
            <div class="mt-1 grid grid-cols-[1fr_1fr_auto] items-end gap-2">
              <DayField v-model="f.from" label="From" optional :fault="fault(`funding.${i}.from`)" />
              <DayField v-model="f.to" label="To" optional :fault="fault(`funding.${i}.to`)" />
              <label v-if="f.id" class="flex items-center gap-2 pb-1.5"
                ><input v-model="f.retired" type="checkbox" class="accent-ink" /> Retired</label
              >
              <Btn v-else :aria-label="`Take out source ${i + 1}`" @click="form.funding.splice(i, 1)">Take out</Btn>
            </div>
          </div>
          <Btn class="mt-3" @click="form.funding.push({ name: '', from: null, to: null, retired: false })">Add a source</Btn>
        </section>
        <div class="flex items-center gap-3 lg:col-span-2">
          <Btn main :busy="state.busy" @click="save">Save</Btn>
          <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
        </div>
        <section class="sheet px-4 py-3.5 lg:col-span-2" aria-label="Phrases of the firm">
          <h2 class="mb-1">Phrases of the firm</h2>
          <PhraseList firm />
        </section>
        <section class="sheet px-4 py-3.5 lg:col-span-2" aria-label="Words of the firm">
          <h2 class="mb-1">Words that the spelling takes for right</h2>
          <p class="mb-2 text-ink-2">Besides the dictionary, terms of the trade, and the names around each matter.</p>
          <FirmWords />
        </section>
      </div>
    </State>
  </SetUpPage>
</template>
