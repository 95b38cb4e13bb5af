<script setup lang="ts">
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import PayOut from './PayOut.vue'

const session = useSession()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.trust.ledger({ id }), [() => session.tick])
const paying = ref(false)
</script>

<template>
  <div class="px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="data.client" :hint="[data.matter, data.bank].filter(Boolean).join(' · ')">
          <RouterLink v-if="data.matterId" :to="`/matters/${data.matterId}/trust`" class="text-lagoon underline">The matter</RouterLink>
          <Btn v-if="session.may('trust.post')" main @click="paying = true">Pay out</Btn>
        </PageHead>
        <p
          class="sheet mb-3.5 flex items-center gap-3 px-4 py-2.5 font-serif text-xl font-semibold [&_small]:block [&_small]:font-sans [&_small]:text-xs [&_small]:font-normal [&_small]:text-ink-2"
          aria-label="What is available"
        >
          <span>{{ showMoney(data.book) }}<small>in the book</small></span
          >−<span>{{ showMoney(data.uncleared) }}<small>not cleared</small></span
          >−<span>{{ showMoney(data.reserved) }}<small>reserved</small></span
          >=<span class="text-lagoon" data-figure="available">{{ showMoney(data.available) }}<small>available</small></span>
        </p>
        <section class="sheet overflow-x-auto" aria-label="Entries">
          <table class="list-table">
            <thead>
              <tr>
                <th>Date</th>
                <th>What</th>
                <th>Clears</th>
                <th class="num">In</th>
                <th class="num">Out</th>
                <th class="num">Balance</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="e in data.entries" :key="e.id">
                <td class="whitespace-nowrap text-ink-2">{{ dayText(e.day) }}</td>
                <td>
                  <RouterLink v-if="session.may('books.see')" :to="`/books/journals/${e.journalId}`" class="hover:underline">{{
                    e.text
                  }}</RouterLink><template v-else>{{ e.text }}</template>
                </td>
                <td class="whitespace-nowrap" :class="e.clearsOn && e.clearsOn > session.today ? 'text-bill-ink' : 'text-ink-3'">
                  {{ e.clearsOn ? dayText(e.clearsOn) : '' }}
                </td>
                <td class="num">{{ e.amount > 0 ? showMoney(e.amount) : '' }}</td>
                <td class="num">{{ e.amount < 0 ? showMoney(-e.amount) : '' }}</td>
                <td class="num font-semibold">{{ showMoney(e.balance) }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <PayOut v-if="paying" :from="data" @close="paying = false" />
      </template>
    </State>
  </div>
</template>
