<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { paperKinds } from '@heron/contract'
import { computed, ref, watch } from 'vue'
import { asks } from '../api'
import { useShown } from '../shown'
import { dayOr, useAddress } from '../address'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import TextField from '../ui/TextField.vue'
import { useStaff } from './file/useStaff'
import PaperSheet from './file/PaperSheet.vue'
import PapersTabs from './PapersTabs.vue'
import PaperTable from './PaperTable.vue'
import SearchHits from './SearchHits.vue'
import { options } from './show'
import PaperViewer from './view/PaperViewer.vue'

/** Papers of all matters that are open to the reader: by the words in them, and the newest. */
const address = useAddress({ q: '', kind: '', by: '', from: '', to: '', open: '' })
const q = ref(address.q)
watch(
  () => address.q,
  (words) => (q.value = words),
)
const page = ref(1)
const filter = computed(() => ({
  ...(address.kind ? { kind: address.kind } : {}),
  ...(address.by ? { by: Number(address.by) } : {}),
  ...(address.from ? { from: address.from } : {}),
  ...(address.to ? { to: address.to } : {}),
}))
const { data, problem, loading, reload } = useShown(() =>
  asks.papers.list.queryOptions({ input: { ...filter.value, page: page.value, size: 50 } }),
)
watch(
  () => JSON.stringify(filter.value),
  () => (page.value = 1),
)
const { all } = useStaff()
const by = computed({ get: () => Number(address.by) || null, set: (id: number | null) => (address.by = id ? String(id) : '') })
const from = computed({ get: () => dayOr(address.from, null), set: (d: Day | null) => (address.from = d ?? '') })
const to = computed({ get: () => dayOr(address.to, null), set: (d: Day | null) => (address.to = d ?? '') })
const open = computed(() => Number(address.open) || 0)
const details = ref(0)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Papers" hint="Of all matters open to you. Papers are filed and made on their matter." />
    <PapersTabs />
    <form
      class="mb-3 grid stacks items-end gap-2 min-[900px]:grid-cols-[minmax(0,2fr)_auto_150px_170px_150px_150px]"
      role="search"
      @submit.prevent="address.q = q.trim()"
    >
      <TextField v-model="q" label="Words in the papers" placeholder="hull survey “below the waterline”" autofocus />
      <Btn main type="submit">Find</Btn>
      <ChoiceField
        v-model="address.kind"
        label="Kind"
        :options="[{ value: '', text: 'Any' }, ...paperKinds.map((k) => ({ value: k as string, text: k }))]"
      />
      <ChoiceField v-model="by" label="Filed by" :options="[{ value: null as number | null, text: 'Anyone' }, ...options(all)]" />
      <DayField v-model="from" label="From" optional />
      <DayField v-model="to" label="To" optional />
    </form>
    <section class="sheet" aria-label="Papers found">
      <SearchHits
        v-if="address.q"
        :q="address.q"
        :kind="address.kind"
        :by="by"
        :from="from"
        :to="to"
        @open="(id) => (address.open = String(id))"
      />
      <template v-else>
        <PaperTable
          :rows="data?.rows ?? []"
          show-matter
          :loading="loading && !data"
          :problem="problem"
          @again="reload()"
          @open="(id) => (address.open = String(id))"
          ><template #empty>No papers are like this.</template></PaperTable
        >
        <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="papers" />
      </template>
    </section>
    <PaperViewer
      v-if="open"
      :id="open"
      :among="address.q ? [] : (data?.rows ?? []).map((r) => r.id)"
      @close="address.open = ''"
      @go="(id) => (address.open = String(id))"
      @details="(id) => (details = id)"
    />
    <PaperSheet v-if="details" :id="details" @close="details = 0" />
  </div>
</template>
