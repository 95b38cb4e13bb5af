<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad, useOpening } from '../use'
import { computed, ref } from 'vue'
import DataTable from '../ui/DataTable.vue'
import { someMoney, type Column } from '../ui/table/columns'

const router = useRouter()
const session = useSession()
const notes = useNotes()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.books.journal({ id }))
/** What the journal belongs to, where that has a page. */
const pages: Record<string, [string, string]> = {
  bill: ['The bill', '/bills/'],
  'deposit sheet': ['The deposit sheet', '/trust/sheets/'],
  ledger: ['The client ledger', '/trust/ledgers/'],
  'pre-bill': ['The pre-bill', '/bills/pre/'],
  journal: ['The journal', '/books/journals/'],
}
const document = computed(() => {
  const d = data.value
  const page = d && pages[d.subject]
  return page && d.subjectId && d.subjectId !== d.id ? { text: page[0], to: `${page[1]}${d.subjectId}` } : null
})
const reversing = ref(false)
const day = ref<Day | null>(null)
const reason = ref('')
useOpening(reversing, () => {
  day.value = data.value?.day ?? null
  reason.value = ''
})
const { state, fault, send } = useForm(() => api.trustActs.reverse({ id, day: day.value ?? '', reason: reason.value }))

async function reverse() {
  const done = await send()
  if (!done) return
  notes.say('Reversed by a mirrored entry')
  session.changed()
  reversing.value = false
  await router.push(`/books/journals/${done.journalId}`)
}
const lines = computed(() => (data.value?.lines ?? []).map((l, at) => ({ ...l, at })))
const columns: Column<(typeof lines.value)[number]>[] = [
  { key: 'account', text: 'Account', grow: 2, narrow: 'title' },
  { key: 'matter', text: 'Matter', grow: 1, quiet: true },
  { key: 'debit', text: 'Debit', kind: 'money', show: (l) => someMoney(l.debit) },
  { key: 'credit', text: 'Credit', kind: 'money', show: (l) => someMoney(l.credit) },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`Journal ${data.id}`" :hint="`${dayText(data.day)} · ${data.memo} · ${data.who}`">
          <RouterLink v-if="document" :to="document.to" class="text-lagoon underline">{{ document.text }}</RouterLink>
          <Btn v-if="data.reversible && session.may('books.post')" @click="reversing = true">Reverse …</Btn>
        </PageHead>
        <p v-if="data.reverses" class="mb-3">
          It reverses
          <RouterLink :to="`/books/journals/${data.reverses}`" class="text-lagoon underline">journal {{ data.reverses }}</RouterLink
          >.
        </p>
        <p v-if="data.reversedBy" class="mb-3 text-rust">
          It was reversed by
          <RouterLink :to="`/books/journals/${data.reversedBy}`" class="underline">journal {{ data.reversedBy }}</RouterLink
          >.
        </p>
        <div class="grid stacks gap-3.5 lg:grid-cols-2">
          <section class="sheet lg:col-span-2" aria-label="Legs">
            <DataTable label="Legs" name="journal-legs" :rows="lines" :columns="columns" :row-id="(l) => l.at" />
          </section>
          <section v-if="data.bank.length" class="sheet px-4 py-3" aria-label="Bank book">
            <h2>Bank book</h2>
            <p v-for="(b, i) in data.bank" :key="i" class="flex border-t border-line-2 py-1.5">
              {{ b.account }} <span class="ml-2 text-ink-2">{{ b.text }}</span><b class="ml-auto font-normal">{{ showMoney(b.amount) }}</b>
            </p>
          </section>
          <section v-if="data.ledgers.length" class="sheet px-4 py-3" aria-label="Client ledgers">
            <h2>Client ledgers</h2>
            <p v-for="(l, i) in data.ledgers" :key="i" class="flex border-t border-line-2 py-1.5">
              <RouterLink :to="`/trust/ledgers/${l.ledgerId}`" class="hover:underline">{{ l.name }}</RouterLink><b
                class="ml-auto font-normal"
                >{{ showMoney(l.amount) }}</b
              >
            </p>
          </section>
        </div>
        <SideSheet
          v-if="reversing"
          title="Reverse a journal"
          save="Reverse it"
          :busy="state.busy"
          :message="state.said"
          :changed="reason !== ''"
          @save="reverse"
          @close="reversing = false"
        >
          <p>A mirrored entry, linked both ways, undoes all its legs. What a line of the bank shows already is not reversed.</p>
          <DayField v-model="day" label="On" :fault="fault('day')" />
          <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
        </SideSheet>
      </template>
    </State>
  </div>
</template>
