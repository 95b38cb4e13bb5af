<script setup lang="ts">
import type { api, Answer } from '../api'
import { showMoney } from '../ui/show'

defineProps<{ rows: Answer<typeof api.trust.ledgers>['rows']; total?: number }>()
</script>

<template>
  <table class="list-table">
    <thead>
      <tr>
        <th>Client</th>
        <th>Matter</th>
        <th>Account</th>
        <th class="num">In the book</th>
        <th class="num">Not cleared</th>
        <th class="num">Reserved</th>
        <th class="num">Available</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="l in rows" :key="l.id" class="open-on">
        <td>
          <RouterLink :to="`/trust/ledgers/${l.id}`" class="font-semibold hover:underline">{{ l.client }}</RouterLink>
        </td>
        <td class="text-ink-2">{{ l.matter ?? (l.kind === 'client' ? 'the client as a whole' : '') }}</td>
        <td class="text-ink-2">{{ l.bank }}</td>
        <td class="num">{{ showMoney(l.book) }}</td>
        <td class="num text-ink-2">{{ l.uncleared ? showMoney(l.uncleared) : '' }}</td>
        <td class="num text-ink-2">{{ l.reserved ? showMoney(l.reserved) : '' }}</td>
        <td class="num font-semibold" data-figure="available">{{ showMoney(l.available) }}</td>
      </tr>
      <tr v-if="total !== undefined">
        <td colspan="3" class="text-ink-2">Together</td>
        <td class="num font-semibold">{{ showMoney(total) }}</td>
        <td colspan="3"></td>
      </tr>
    </tbody>
  </table>
</template>
