<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'

const session = useSession()
const page = ref(1)
const { data, problem, loading, reload } = useLoad(() => api.trust.sheets({ page: page.value, size: 50 }), [page, () => session.tick])
</script>

<template>
  <section class="sheet overflow-x-auto" aria-label="Deposit sheets">
    <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
      <template #empty>No deposit sheet yet. Press D to enter receipts that go to the bank together.</template>
      <table class="list-table">
        <thead>
          <tr>
            <th>Sheet</th>
            <th>Account</th>
            <th>Date</th>
            <th>State</th>
            <th class="num">Receipts</th>
            <th class="num">Entered</th>
            <th class="num">Control total</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in data?.rows" :key="s.id" class="open-on">
            <td>
              <RouterLink :to="`/trust/sheets/${s.id}`" class="font-semibold hover:underline">Sheet {{ s.number }}</RouterLink>
            </td>
            <td class="text-ink-2">{{ s.bank }}</td>
            <td class="text-ink-2">{{ dayText(s.day) }}</td>
            <td>
              <span class="tag" :class="s.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{ s.state }}</span>
            </td>
            <td class="num">{{ s.receipts }}</td>
            <td class="num" :class="s.entered !== s.controlTotal && 'text-rust'">{{ showMoney(s.entered) }}</td>
            <td class="num">{{ showMoney(s.controlTotal) }}</td>
          </tr>
        </tbody>
      </table>
      <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="sheets" />
    </State>
  </section>
</template>
