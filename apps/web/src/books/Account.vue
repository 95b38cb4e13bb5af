<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const id = Number(useRoute().params['id'])
const page = ref(1)
const { data, problem, loading, reload } = useLoad(() => api.books.account({ id, page: page.value, size: 100 }), [page])
const router = useRouter()
const lines = computed(() => (data.value?.rows ?? []).map((l, at) => ({ ...l, at })))
const columns: Column<(typeof lines.value)[number]>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'memo', text: 'What', grow: 3, narrow: 'title' },
  { key: 'matter', text: 'Matter', grow: 1, quiet: true },
  { key: 'debit', text: 'Debit', kind: 'money', value: (l) => (l.amount > 0 ? l.amount : null) },
  { key: 'credit', text: 'Credit', kind: 'money', value: (l) => (l.amount < 0 ? -l.amount : null) },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`${data.code} ${data.name}`"
          ><RouterLink to="/books" class="text-lagoon underline">Trial balance</RouterLink></PageHead
        >
        <section class="sheet" aria-label="Lines">
          <DataTable
            label="Lines"
            name="account-lines"
            :rows="lines"
            :columns="columns"
            :row-id="(l) => l.at"
            :open="(l) => router.push(`/books/journals/${l.journalId}`)"
          >
            <template #cell-memo="{ row: l }"
              ><RouterLink :to="`/books/journals/${l.journalId}`" class="hover:underline">{{ l.memo }}</RouterLink></template
            >
          </DataTable>
          <Pager v-model="page" :total="data.total" :size="100" what="lines" />
        </section>
      </template>
    </State>
  </div>
</template>
