<script setup lang="ts">
import type { api, Answer } from '../api'
import { useSession } from '../shell/session'
import { dayText, showMoney } from '../ui/show'

defineProps<{ rows: Answer<typeof api.billing.list>['rows']; showMatter?: boolean }>()
const session = useSession()
</script>

<template>
  <table class="list-table">
    <thead>
      <tr>
        <th>Bill</th>
        <th v-if="showMatter">Matter</th>
        <th>Goes to</th>
        <th>Issued</th>
        <th>Due</th>
        <th class="num">Total</th>
        <th class="num">Open</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="b in rows" :key="b.id" class="open-on">
        <td>
          <RouterLink :to="`/bills/${b.id}`" class="font-semibold hover:underline">{{ b.number }}</RouterLink>
        </td>
        <td v-if="showMatter">
          <RouterLink :to="`/matters/${b.matterId}/bills`" class="hover:underline">{{ b.matter }}</RouterLink>
        </td>
        <td class="text-ink-2">{{ b.payer }}</td>
        <td class="whitespace-nowrap text-ink-2">{{ dayText(b.issuedOn) }}</td>
        <td class="whitespace-nowrap" :class="b.open && b.dueOn < session.today ? 'text-rust' : 'text-ink-2'">{{ dayText(b.dueOn) }}</td>
        <td class="num">{{ showMoney(b.total) }}</td>
        <td class="num font-semibold">{{ b.open ? showMoney(b.open) : 'paid' }}</td>
      </tr>
    </tbody>
  </table>
</template>
