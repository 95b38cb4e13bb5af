<script setup lang="ts">
import { taxWords } from '@heron/core/billing'
import type { api, Answer } from '../api'
import { showHours, showMoney } from '../ui/show'

defineProps<{ totals: Answer<typeof api.billing.preBill>['totals']; title: string }>()
</script>

<template>
  <section class="sheet px-4 py-3.5 [&_div]:flex [&_div]:py-1 [&_dt]:text-ink-2 [&_dd]:ml-auto" aria-label="How it adds up">
    <h2 class="mb-1">How it adds up</h2>
    <dl>
      <div>
        <dt>Worked, {{ showHours(totals.workedMinutes) }} h</dt>
        <dd>{{ showMoney(totals.worked) }}</dd>
      </div>
      <div v-if="totals.writtenDown">
        <dt>Written down</dt>
        <dd>{{ showMoney(-totals.writtenDown) }}</dd>
      </div>
      <div v-if="totals.noCharge">
        <dt>No charge</dt>
        <dd>{{ showMoney(-totals.noCharge) }}</dd>
      </div>
      <div class="border-t border-line">
        <dt>Fees</dt>
        <dd class="font-semibold">{{ showMoney(totals.fees) }}</dd>
      </div>
      <div v-if="totals.costs">
        <dt>Costs</dt>
        <dd>{{ showMoney(totals.costs) }}</dd>
      </div>
      <div v-if="totals.discount">
        <dt>Discount on fees</dt>
        <dd>{{ showMoney(-totals.discount) }}</dd>
      </div>
      <div v-for="t in totals.taxes" :key="t.rate ?? 0">
        <dt>{{ t.rate ? taxWords(t.rate) : 'Tax' }}</dt>
        <dd>{{ showMoney(t.amount) }}</dd>
      </div>
      <div class="mt-1 border-t border-line pt-2! font-serif text-2xl font-semibold">
        <dt class="text-ink!">{{ title }}</dt>
        <dd data-figure="total">{{ showMoney(totals.total) }}</dd>
      </div>
    </dl>
  </section>
</template>
