<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { useRoute } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { showMoney } from '../ui/show'
import State from '../ui/State.vue'
import ActMenu from '../ui/ActMenu.vue'
import PayOut from './PayOut.vue'
import DataTable from '../ui/DataTable.vue'
import { tableDay, type Column } from '../ui/table/columns'

const MoveSheet = defineAsyncComponent(() => import('./MoveSheet.vue'))
const HoldSheet = defineAsyncComponent(() => import('./HoldSheet.vue'))
const OwnerSheet = defineAsyncComponent(() => import('./OwnerSheet.vue'))
const session = useSession()
const id = Number(useRoute().params['id'])
const page = ref(1)
const { data, problem, loading, reload } = useShown(() => asks.trust.ledger.queryOptions({ input: { id, page: page.value, size: 100 } }))
const paying = ref(false)
const moving = ref(false)
const holding = ref<{ release: Answer<typeof api.trust.ledger>['holds'][number] | null } | null>(null)
const correcting = ref<Answer<typeof api.trust.ledger>['entries'][number] | null>(null)
const columns: Column<Answer<typeof api.trust.ledger>['entries'][number]>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'text', text: 'What', grow: 2, narrow: 'title' },
  { key: 'clearsOn', text: 'Clears', kind: 'day' },
  { key: 'in', text: 'In', kind: 'money', value: (e) => (e.amount > 0 ? e.amount : null) },
  { key: 'out', text: 'Out', kind: 'money', value: (e) => (e.amount < 0 ? -e.amount : null) },
  { key: 'balance', text: 'Balance', kind: 'money', strong: true },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="data.client" :hint="[data.matter, data.bank].filter(Boolean).join(' · ')">
          <RouterLink v-if="data.matterId" :to="`/matters/${data.matterId}/trust`" class="text-lagoon underline">The matter</RouterLink>
          <template v-if="session.may('trust.post')">
            <ActMenu
              v-if="data.kind === 'client'"
              text="More"
              label="More acts on this ledger"
              :acts="[
                { text: 'Move within the client', act: () => (moving = true) },
                { text: 'Hold part of it', act: () => (holding = { release: null }) },
              ]"
            />
            <Btn main @click="paying = true">Pay out</Btn>
          </template>
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
        <ul v-if="data.holds.length" class="sheet mb-3.5 px-4 py-1.5" aria-label="Held">
          <li v-for="h in data.holds" :key="h.id" class="flex items-center gap-3 border-t border-line-2 py-1.5 first:border-t-0">
            <b class="font-semibold">{{ showMoney(h.amount) }}</b> <span class="tag bg-bill-wash text-bill-ink">{{ h.kind }}</span>
            {{ h.reason }} <span v-if="h.laidBy" class="text-ink-3">{{ h.laidBy }}</span>
            <Btn
              v-if="session.may('trust.post')"
              small
              class="ml-auto"
              :aria-label="`Release ${showMoney(h.amount)}`"
              @click="holding = { release: h }"
              >Release</Btn
            >
          </li>
        </ul>
        <section class="sheet" aria-label="Entries">
          <DataTable
            label="Entries"
            name="ledger-entries"
            :rows="data.entries"
            :columns="columns"
            :row-id="(e) => e.id"
            :acts="
              (e) =>
                session.may('trust.post') && data?.kind === 'client'
                  ? [{ text: 'Correct: another ledger’s', act: () => (correcting = e) }]
                  : []
            "
          >
            <template #cell-text="{ row: e }"
              ><RouterLink v-if="session.may('books.see')" :to="`/books/journals/${e.journalId}`" class="hover:underline">{{
                e.text
              }}</RouterLink
              ><template v-else>{{ e.text }}</template></template
            >
            <template #cell-clearsOn="{ row: e }"
              ><span :class="e.clearsOn && e.clearsOn > session.today ? 'text-bill-ink' : 'text-ink-3'">{{
                e.clearsOn ? tableDay(e.clearsOn) : ''
              }}</span></template
            >
          </DataTable>
          <Pager v-model="page" :total="data.total" :size="100" what="entries" />
        </section>
        <PayOut v-if="paying" :from="data" @close="paying = false" />
        <MoveSheet v-if="moving" :from="data" @close="moving = false" />
        <HoldSheet v-if="holding" :ledger="data" :release="holding.release" @close="holding = null" />
        <OwnerSheet v-if="correcting" :entry="correcting" @close="correcting = null" />
      </template>
    </State>
  </div>
</template>
