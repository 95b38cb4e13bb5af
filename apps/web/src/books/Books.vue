<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useTab } from '../address'
import { api } from '../api'
import { useSession } from '../shell/session'
import ActMenu from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'
import BankAccounts from './BankAccounts.vue'
import TrialBalance from './TrialBalance.vue'

const Income = defineAsyncComponent(() => import('./Income.vue'))
const Sides = defineAsyncComponent(() => import('./Sides.vue'))
const Cash = defineAsyncComponent(() => import('./Cash.vue'))
const Payables = defineAsyncComponent(() => import('./Payables.vue'))
const Years = defineAsyncComponent(() => import('./Years.vue'))
const ArchiveSheet = defineAsyncComponent(() => import('./ArchiveSheet.vue'))
const EnterJournal = defineAsyncComponent(() => import('./EnterJournal.vue'))

type Show = 'trial' | 'income' | 'balance' | 'cash' | 'payables' | 'years' | 'bank'
const session = useSession()
const show = useTab<Show>('trial')
// Led here from Today, to what keeps a recurring journal from being posted.
const entering = ref(useRoute().query['enter'] === 'journal' && session.may('books.post'))
const archiving = ref<'trust' | 'books' | null>(null)
const chart = useLoad(() => (entering.value ? api.books.trialBalance({ asOf: session.today }) : Promise.resolve(null)), [entering])
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Books">
      <ActMenu
        text="Export"
        label="Export"
        :acts="[
          { text: 'Journals as plain text', to: '/api/books/export', out: true },
          ...(session.may('books.post') ? [{ text: 'The whole set of books …', act: () => (archiving = 'books') }] : []),
          ...(session.may('books.post') && session.may('trust.post')
            ? [{ text: 'Move books in …', to: '/people/import?what=opening' }]
            : []),
          ...(session.may('books.post') ? [{ text: 'Read a chart of accounts …', to: '/people/import?what=chart' }] : []),
          ...(session.may('trust.post') ? [{ text: 'Trust records for an auditor …', act: () => (archiving = 'trust') }] : []),
        ]"
      />
      <Btn v-if="session.may('books.post')" main @click="entering = true">Enter a journal</Btn>
    </PageHead>
    <div class="mb-3">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'trial', text: 'Trial balance' },
          { value: 'income', text: 'Income' },
          { value: 'balance', text: 'Balance sheet' },
          { value: 'cash', text: 'Cash and tax' },
          { value: 'payables', text: 'Payables' },
          { value: 'years', text: 'Years' },
          { value: 'bank', text: 'Bank accounts' },
        ]"
      />
    </div>
    <TrialBalance v-if="show === 'trial'" />
    <Income v-else-if="show === 'income'" />
    <Sides v-else-if="show === 'balance'" />
    <Cash v-else-if="show === 'cash'" />
    <Payables v-else-if="show === 'payables'" />
    <Years v-else-if="show === 'years'" />
    <BankAccounts v-else />
    <ArchiveSheet v-if="archiving" :what="archiving" @close="archiving = null" />
    <EnterJournal v-if="entering && chart.data.value" :accounts="chart.data.value.rows" @close="entering = false" />
  </div>
</template>
