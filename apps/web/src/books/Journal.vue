<script setup lang="ts">
import { useRoute } from 'vue-router'
import { api } from '../api'
import PageHead from '../ui/PageHead.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import { computed } from 'vue'
import DataTable from '../ui/DataTable.vue'
import { someMoney, type Column } from '../ui/table/columns'

const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useLoad(() => api.books.journal({ id }))
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
      </template>
    </State>
  </div>
</template>
