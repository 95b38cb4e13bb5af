<script setup lang="ts">
import { agingBuckets } from '@heron/core/billing'
import { ref } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import { showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'

const session = useSession()
const asOf = ref<string | null>(session.today)
const { data, problem, loading, reload } = useLoad(() => api.books.aging({ asOf: asOf.value ?? session.today }), [asOf])
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Receivables by age" hint="What each payer owes, by days past due"
      ><div class="w-44"><DayField v-model="asOf" label="As of" /></div
    ></PageHead>
    <section class="sheet overflow-x-auto" aria-label="Receivables by age">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty>Nobody owed anything on that day.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th>Payer</th>
              <th v-for="b in agingBuckets" :key="b" class="num">{{ b }}</th>
              <th class="num">Together</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in data?.rows" :key="r.payerId" class="open-on">
              <td>
                <RouterLink :to="`/people/${r.payerId}`" class="hover:underline">{{ r.payer }}</RouterLink>
              </td>
              <td v-for="(b, i) in r.buckets" :key="i" class="num" :class="i > 0 && b ? 'text-rust' : ''">{{ b ? showMoney(b) : '' }}</td>
              <td class="num font-semibold">{{ showMoney(r.total) }}</td>
            </tr>
            <tr class="font-semibold">
              <td>Together</td>
              <td v-for="(t, i) in data?.together.buckets" :key="i" class="num">{{ showMoney(t) }}</td>
              <td class="num">{{ showMoney(data?.together.total ?? 0) }}</td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
  </div>
</template>
