<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { watch } from 'vue'
import { useRouter } from 'vue-router'
import { useCalled, useFiltered } from '../address'
import { type Answer, api, asks } from '../api'
import { recent, useShown } from '../shown'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'
import NewContact from './NewContact.vue'
import PeopleTabs from './PeopleTabs.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const session = useSession()
const router = useRouter()
const { data: kinds } = useLoad(() => recent(asks.people.kinds.queryOptions()))
const { q, kind, page } = useFiltered({ q: '', kind: '', page: 1 })
const named = refDebounced(q, 150)
const making = useCalled('new')
watch([named, kind], () => (page.value = 1))
const { data, problem, loading, reload } = useShown(() =>
  asks.people.list.queryOptions({ input: { q: named.value, kind: kind.value, page: page.value, size: 50 } }),
)
const { data: near } = useLoad(async () => (data.value?.total === 0 && q.value ? api.people.near({ q: q.value }) : []), [data])
const exported = (format: string) => `/api/contacts/export?${new URLSearchParams({ format, q: q.value, kind: kind.value }).toString()}`
const columns: Column<Answer<typeof api.people.list>['rows'][number]>[] = [
  { key: 'name', text: 'Name', grow: 2, fixed: true, narrow: 'title' },
  { key: 'kind', text: 'Kind', quiet: true, value: (c) => c.kinds.join(', ') || c.kind },
  { key: 'email', text: 'E-mail', grow: 1.4, quiet: true },
  { key: 'phone', text: 'Phone', size: 150, quiet: true },
  { key: 'matters', text: 'Matters', kind: 'number', show: (c) => (c.matters ? String(c.matters) : '') },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="People">
      <Btn v-if="session.may('people.change')" main @click="making = true">New contact</Btn>
    </PageHead>
    <PeopleTabs />
    <div class="mb-3 grid grid-cols-[1fr_220px] gap-3">
      <TextField v-model="q" label="Find by name, e-mail or phone" />
      <ChoiceField
        v-model="kind"
        label="Kind"
        :options="[
          { value: '', text: 'All' },
          { value: 'person', text: 'Persons' },
          { value: 'organization', text: 'Organizations' },
          ...(kinds ?? []).map((k) => ({ value: k, text: k })),
        ]"
      />
    </div>
    <section class="sheet" aria-label="Contacts">
      <DataTable
        label="Contacts"
        name="people"
        :rows="data?.rows ?? []"
        :columns="columns"
        :row-id="(c) => c.id"
        :loading="loading"
        :problem="problem"
        :open="(c) => router.push(`/people/${c.id}`)"
        :export-to="[
          { text: 'CSV of all that fit', to: exported('csv') },
          { text: 'vCards of all that fit', to: exported('vcard') },
        ]"
        @again="reload()"
      >
        <template #empty
          >Nobody by that name.
          <template v-if="near?.length"
            >Near it:
            <template v-for="(c, i) in near" :key="c.id"
              >{{ i ? ', ' : '' }}<RouterLink :to="`/people/${c.id}`" class="text-lagoon underline">{{ c.name }}</RouterLink></template
            >.</template
          ><template v-else>Make a new contact, or try fewer letters.</template></template
        >
        <template #cell-name="{ row: c }"
          ><RouterLink :to="`/people/${c.id}`" class="font-semibold hover:underline">{{ c.name }}</RouterLink></template
        >
        <template #foot><Pager v-model="page" :total="data?.total ?? 0" :size="50" what="contacts" /></template>
      </DataTable>
    </section>
    <NewContact v-if="making" @made="router.push(`/people/${$event.id}`)" @close="making = false" />
  </div>
</template>
