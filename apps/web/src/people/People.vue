<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'
import NewContact from './NewContact.vue'
import PeopleTabs from './PeopleTabs.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const { data: kinds } = useLoad(() => api.people.kinds())
const q = ref(String(route.query['q'] ?? ''))
const kind = ref(String(route.query['kind'] ?? ''))
const page = ref(1)
const making = ref(route.query['new'] === '1')
const filter = computed(() => ({ q: q.value, kind: kind.value, page: page.value, size: 50 }))
const { data, problem, loading, reload } = useLoad(() => api.people.list(filter.value), [() => session.tick])
const look = useDebounceFn(() => {
  void router.replace({ query: { q: q.value || undefined, kind: kind.value || undefined } })
  void reload()
}, 150)
watch([q, kind], () => (page.value = 1))
const { data: near } = useLoad(async () => (data.value?.total === 0 && q.value ? api.people.near({ q: q.value }) : []), [data])
watch(filter, look)
const exported = (format: string) => `/api/contacts/export?${new URLSearchParams({ format, q: q.value, kind: kind.value }).toString()}`
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="People">
      <Btn :href="exported('csv')">CSV</Btn>
      <Btn :href="exported('vcard')">vCard</Btn>
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
    <section class="sheet overflow-x-auto" aria-label="Contacts">
      <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
        <template #empty
          >Nobody by that name.
          <template v-if="near?.length"
            >Near it:
            <template v-for="(c, i) in near" :key="c.id"
              >{{ i ? ', ' : '' }}<RouterLink :to="`/people/${c.id}`" class="text-lagoon underline">{{ c.name }}</RouterLink></template
            >.</template
          ><template v-else>Make a new contact, or try fewer letters.</template></template
        >
        <table class="list-table">
          <thead>
            <tr>
              <th>Name</th>
              <th>Kind</th>
              <th>E-mail</th>
              <th>Phone</th>
              <th class="num">Matters</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in data?.rows" :key="c.id" class="open-on">
              <td>
                <RouterLink :to="`/people/${c.id}`" class="font-semibold hover:underline">{{ c.name }}</RouterLink>
              </td>
              <td class="text-ink-2">{{ c.kinds.join(', ') || c.kind }}</td>
              <td class="text-ink-2">{{ c.email }}</td>
              <td class="whitespace-nowrap text-ink-2">{{ c.phone }}</td>
              <td class="num">{{ c.matters || '' }}</td>
            </tr>
          </tbody>
        </table>
        <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="contacts" />
      </State>
    </section>
    <NewContact v-if="making" @made="router.push(`/people/${$event.id}`)" @close="making = false" />
  </div>
</template>
