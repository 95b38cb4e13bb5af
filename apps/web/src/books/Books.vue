<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import EnterJournal from './EnterJournal.vue'

type Show = 'trial' | 'income'
const session = useSession()
const route = useRoute()
const router = useRouter()
const show = ref<Show>((route.query['show'] as Show | undefined) ?? 'trial')
watch(show, (s) => void router.replace({ query: s === 'trial' ? {} : { show: s } }))
const asOf = ref<string | null>(session.today)
const from = ref<string | null>(`${session.today.slice(0, 4)}-01-01`)
const to = ref<string | null>(session.today)
const trial = useLoad(() => api.books.trialBalance({ asOf: asOf.value ?? session.today }), [asOf, () => session.tick])
const income = useLoad(
  () => api.books.income({ from: from.value ?? session.today, to: to.value ?? session.today }),
  [from, to, () => session.tick],
)
const shown = computed(() => (trial.data.value?.rows ?? []).filter((a) => a.debit || a.credit))
const entering = ref(false)
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Books">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'trial', text: 'Trial balance' },
          { value: 'income', text: 'Income by timekeeper' },
        ]"
      />
      <Btn href="/api/books/export" download>Export journals</Btn>
      <Btn v-if="session.may('books.post')" main @click="entering = true">Enter a journal</Btn>
    </PageHead>
    <section v-if="show === 'trial'" class="sheet max-w-[860px]" aria-label="Trial balance">
      <div class="flex items-end gap-4 px-4 py-3">
        <div class="w-48"><DayField v-model="asOf" label="As of" /></div>
        <p
          v-if="trial.data.value"
          class="pb-1.5 font-semibold"
          :class="trial.data.value.debit === trial.data.value.credit ? 'text-lagoon' : 'text-rust'"
        >
          {{ trial.data.value.debit === trial.data.value.credit ? 'In balance' : 'Out of balance' }}
        </p>
      </div>
      <State :loading="trial.loading.value && !trial.data.value" :problem="trial.problem.value" @again="trial.reload()">
        <table class="list-table">
          <thead>
            <tr>
              <th>Account</th>
              <th>Kind</th>
              <th class="num">Debit</th>
              <th class="num">Credit</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in shown" :key="a.id" class="open-on">
              <td>
                <RouterLink :to="`/books/accounts/${a.id}`" class="hover:underline"
                  ><span class="text-ink-2">{{ a.code }}</span> {{ a.name }}</RouterLink
                >
              </td>
              <td class="text-ink-2">{{ a.kind }}</td>
              <td class="num">{{ a.debit ? showMoney(a.debit) : '' }}</td>
              <td class="num">{{ a.credit ? showMoney(a.credit) : '' }}</td>
            </tr>
            <tr class="font-semibold">
              <td colspan="2">Together</td>
              <td class="num" data-figure="debit">{{ showMoney(trial.data.value?.debit ?? 0) }}</td>
              <td class="num" data-figure="credit">{{ showMoney(trial.data.value?.credit ?? 0) }}</td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <section v-else class="sheet max-w-[860px]" aria-label="Income by timekeeper">
      <div class="flex items-end gap-4 px-4 py-3">
        <div class="w-44"><DayField v-model="from" label="From" /></div>
        <div class="w-44"><DayField v-model="to" label="To" /></div>
        <p class="pb-1.5 text-ink-2">Money collected, in the period in which it was applied</p>
      </div>
      <State :loading="income.loading.value && !income.data.value" :problem="income.problem.value" @again="income.reload()">
        <table v-if="income.data.value" class="list-table">
          <caption class="sr-only">
            Income statement,
            {{
              from ? dayText(from) : ''
            }}
            to
            {{
              to ? dayText(to) : ''
            }}
          </caption>
          <tbody>
            <tr>
              <th colspan="2" class="font-serif text-base text-ink">Fees collected by timekeeper</th>
            </tr>
            <tr v-for="f in income.data.value.fees" :key="f.who">
              <td>{{ f.who }}</td>
              <td class="num">{{ showMoney(f.amount) }}</td>
            </tr>
            <tr v-for="f in income.data.value.otherIncome" :key="f.name">
              <td>{{ f.name }}</td>
              <td class="num">{{ showMoney(f.amount) }}</td>
            </tr>
            <tr class="font-semibold">
              <td>Income</td>
              <td class="num">{{ showMoney(income.data.value.income) }}</td>
            </tr>
            <tr>
              <th colspan="2" class="font-serif text-base text-ink">Expenses</th>
            </tr>
            <tr v-for="e in income.data.value.expenses" :key="e.name">
              <td>{{ e.name }}</td>
              <td class="num">{{ showMoney(e.amount) }}</td>
            </tr>
            <tr class="font-semibold">
              <td>Expenses</td>
              <td class="num">{{ showMoney(income.data.value.expense) }}</td>
            </tr>
            <tr class="font-serif text-xl font-semibold">
              <td>Net</td>
              <td class="num">{{ showMoney(income.data.value.net) }}</td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <EnterJournal v-if="entering" :accounts="trial.data.value?.rows ?? []" @close="entering = false" />
  </div>
</template>
