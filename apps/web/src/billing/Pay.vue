<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Answer } from '../api'
import Btn from '../ui/Btn.vue'
import { dayText, showMoney } from '../ui/show'
import { useAct } from '../use'

/** What a payer sees by a link: the bill as it stands, and the way to pay it. */
const token = String(useRoute().params['token'])
const { state, act } = useAct()
const bill = ref<Answer<typeof api.paying.open> | null>(null)
const problem = ref('')
const call = computed(() => bill.value?.what === 'call')
async function load() {
  try {
    bill.value = await api.paying.open({ token })
  } catch (error) {
    problem.value = error instanceof Error ? error.message : 'This link cannot be opened.'
  }
}
void load()
async function pay() {
  const begun = await act(() => api.paying.begin({ token }))
  if (begun) window.location.assign(begun.url)
}
</script>

<template>
  <main class="mx-auto max-w-[560px] px-4 py-8">
    <p v-if="problem" role="alert" class="sheet px-4 py-4">{{ problem }}</p>
    <p v-else-if="!bill" role="status">One moment …</p>
    <template v-else>
      <p class="text-ink-2">{{ bill.firm }}</p>
      <h1 class="mb-3">{{ call ? 'Money on account' : `Bill ${bill.number}` }}</h1>
      <p v-if="bill.message" class="mb-3 whitespace-pre-line">{{ bill.message }}</p>
      <section
        class="sheet px-4 py-3.5 [&_div]:flex [&_div]:py-1 [&_dd]:ml-auto [&_dt]:text-ink-2"
        :aria-label="call ? 'What is asked for' : 'The bill'"
      >
        <dl>
          <div>
            <dt>To</dt>
            <dd>{{ bill.payer }}</dd>
          </div>
          <div v-if="call && bill.number">
            <dt>Matter</dt>
            <dd>{{ bill.number }}</dd>
          </div>
          <div v-if="bill.issuedOn">
            <dt>Issued</dt>
            <dd>{{ dayText(bill.issuedOn) }}</dd>
          </div>
          <div v-if="bill.dueOn">
            <dt>Due</dt>
            <dd>{{ dayText(bill.dueOn) }}</dd>
          </div>
          <div>
            <dt>{{ call ? 'Asked for' : 'This bill' }}</dt>
            <dd>{{ showMoney(bill.total) }}</dd>
          </div>
          <div class="font-semibold">
            <dt>Open</dt>
            <dd>{{ showMoney(bill.open) }}</dd>
          </div>
        </dl>
        <p v-if="state.message" role="alert" class="mt-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ state.message }}</p>
        <p v-if="bill.open <= 0" role="status" class="mt-2">
          {{ call ? 'Nothing more is asked for. Thank you.' : 'This bill is paid. Thank you.' }}
        </p>
        <template v-else>
          <p v-if="call" class="mt-2 text-ink-2">It is held in trust for you, and stays yours until it is earned or paid out for you.</p>
          <p v-if="bill.underWay" class="mt-2 text-ink-2">
            A payment was begun. If you have just paid, it shows here within a minute;
            <button type="button" class="underline" @click="load()">look again</button>.
          </p>
          <Btn main class="mt-3" :busy="state.busy" @click="pay()">Pay {{ showMoney(bill.open) }}</Btn>
        </template>
      </section>
    </template>
  </main>
</template>
