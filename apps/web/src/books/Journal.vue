<script setup lang="ts">
import { useRoute } from 'vue-router'
import { api } from '../api'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'

const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.books.journal({ id }))
</script>

<template>
  <div class="px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`Journal ${data.id}`" :hint="`${dayText(data.day)} · ${data.memo} · ${data.who}`" />
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
        <div class="grid gap-3.5 lg:grid-cols-2">
          <section class="sheet lg:col-span-2" aria-label="Legs">
            <table class="list-table">
              <thead>
                <tr>
                  <th>Account</th>
                  <th>Matter</th>
                  <th class="num">Debit</th>
                  <th class="num">Credit</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="(l, i) in data.lines" :key="i">
                  <td>{{ l.account }}</td>
                  <td class="text-ink-2">{{ l.matter }}</td>
                  <td class="num">{{ l.debit ? showMoney(l.debit) : '' }}</td>
                  <td class="num">{{ l.credit ? showMoney(l.credit) : '' }}</td>
                </tr>
              </tbody>
            </table>
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
      </template>
    </State>
  </div>
</template>
