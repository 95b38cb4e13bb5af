<script setup lang="ts">
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'

const id = Number(useRoute().params['id'])
const page = ref(1)
const { data, problem, loading, reload } = useLoad(() => api.books.account({ id, page: page.value, size: 100 }), [page])
</script>

<template>
  <div class="px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`${data.code} ${data.name}`"
          ><RouterLink to="/books" class="text-lagoon underline">Trial balance</RouterLink></PageHead
        >
        <section class="sheet overflow-x-auto" aria-label="Lines">
          <table class="list-table">
            <thead>
              <tr>
                <th>Date</th>
                <th>What</th>
                <th>Matter</th>
                <th class="num">Debit</th>
                <th class="num">Credit</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(l, i) in data.rows" :key="i" class="open-on">
                <td class="whitespace-nowrap text-ink-2">{{ dayText(l.day) }}</td>
                <td>
                  <RouterLink :to="`/books/journals/${l.journalId}`" class="hover:underline">{{ l.memo }}</RouterLink>
                </td>
                <td class="text-ink-2">{{ l.matter }}</td>
                <td class="num">{{ l.amount > 0 ? showMoney(l.amount) : '' }}</td>
                <td class="num">{{ l.amount < 0 ? showMoney(-l.amount) : '' }}</td>
              </tr>
            </tbody>
          </table>
          <Pager v-model="page" :total="data.total" :size="100" what="lines" />
        </section>
      </template>
    </State>
  </div>
</template>
