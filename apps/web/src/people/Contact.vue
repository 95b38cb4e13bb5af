<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { recent, useShown } from '../shown'
import Notes from '../notes/Notes.vue'
import { useSession } from '../shell/session'
import { filledFields } from '../fields/filled'
import ActMenu from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, momentText, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import ContactSheet from './ContactSheet.vue'
import Merge from './Merge.vue'
import Relations from './Relations.vue'
import BillTerms from '../billing/BillTerms.vue'
import TermsSheet from '../time/TermsSheet.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const Calls = defineAsyncComponent(() => import('../trust/Calls.vue'))
const router = useRouter()
const session = useSession()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useShown(() => asks.people.get.queryOptions({ input: { id } }))
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'contact' } })))
const editing = ref(false)
const terms = ref(false)
const billTerms = ref(false)
const merging = ref(false)
/** Filled-in fields of the firm's own, in their order. */
const filled = computed(() => (data.value ? filledFields(groups.value ?? [], data.value.fields, data.value.fieldNames) : []))
const partColumns: Column<Answer<typeof api.people.get>['parts'][number]>[] = [
  { key: 'number', text: 'Number', size: 98, quiet: true },
  { key: 'name', text: 'Matter', grow: 2, narrow: 'title', sort: true },
  { key: 'part', text: 'Part', size: 130, sort: true },
  { key: 'openedOn', text: 'Opened', kind: 'day', quiet: true, sort: true },
  { key: 'state', text: 'State', size: 80, quiet: true, value: (p) => (p.open ? 'open' : 'closed'), sort: true },
]
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead
          :title="data.name"
          :hint="[data.kinds.join(', ') || data.kind, data.isPrivate ? 'private to you' : ''].filter(Boolean).join(' · ')"
        >
          <a :href="`/api/contacts/export?format=vcard&id=${id}`" class="text-lagoon underline">vCard</a>
          <Btn v-if="session.may('bills.see')" @click="router.push(`/people/${id}/statement`)">Account</Btn>
          <ActMenu
            v-if="session.may('bills.review') && data.kinds.includes('client')"
            text="Terms"
            label="Terms of this client"
            :acts="[
              { text: 'Rounding and rates', act: () => (terms = true) },
              { text: 'Bills and interest', act: () => (billTerms = true) },
            ]"
          />
          <Btn v-if="session.may('people.change')" @click="merging = true">Merge</Btn>
          <Btn v-if="session.may('people.change')" main @click="editing = true">Change</Btn>
        </PageHead>
        <div class="grid stacks gap-[18px] lg:grid-cols-[360px_minmax(0,1fr)]">
          <div class="space-y-3.5">
            <section
              class="sheet px-4 py-3.5 [&_dt]:text-ink-2 [&_dl>div]:grid [&_dl>div]:grid-cols-[110px_1fr] [&_dl>div]:border-t [&_dl>div]:border-line-2 [&_dl>div]:py-[5px]"
              aria-label="How to reach"
            >
              <h2 class="mb-1">How to reach</h2>
              <p v-if="!data.reaches.length" class="text-ink-2">No e-mail, phone or address yet.</p>
              <dl>
                <div v-for="(r, i) in data.reaches" :key="i">
                  <dt>
                    {{ r.what }}<template v-if="r.label">, {{ r.label }}</template>
                  </dt>
                  <dd class="wrap-anywhere whitespace-pre-line">{{ r.value }}</dd>
                </div>
                <div v-if="data.greeting">
                  <dt>Greeting</dt>
                  <dd>{{ data.greeting }}</dd>
                </div>
                <div v-if="data.language">
                  <dt>Language</dt>
                  <dd>{{ data.language }}</dd>
                </div>
                <div v-if="data.pronouns">
                  <dt>Pronouns</dt>
                  <dd>{{ data.pronouns }}</dd>
                </div>
                <div v-if="data.birthDate">
                  <dt>Born</dt>
                  <dd>{{ dayText(data.birthDate) }}</dd>
                </div>
                <div v-if="data.taxNumber">
                  <dt>Tax number</dt>
                  <dd>{{ data.taxNumber }}</dd>
                </div>
                <div v-for="a in data.aliases" :key="a.kind + a.name">
                  <dt>{{ a.kind }}</dt>
                  <dd>{{ a.name }}</dd>
                </div>
                <div v-for="f in filled" :key="f.key">
                  <dt>{{ f.name }}</dt>
                  <dd>{{ f.text }}</dd>
                </div>
                <div v-if="data.notes">
                  <dt>About</dt>
                  <dd class="whitespace-pre-line">{{ data.notes }}</dd>
                </div>
                <div v-for="m in data.mergedFrom" :key="m.at">
                  <dt>Merged</dt>
                  <dd>{{ m.name }}, {{ momentText(m.at) }}, {{ m.by }}</dd>
                </div>
              </dl>
            </section>
            <section class="sheet px-4 py-3.5" aria-label="Relations"><Relations :contact="data" /></section>
          </div>
          <div class="space-y-3.5">
            <section v-if="data.money" class="sheet flex gap-8 px-4 py-3" aria-label="Money">
              <p>
                <span class="text-ink-2">Owed</span> <b class="font-serif text-lg">{{ showMoney(data.money.owed) }}</b>
              </p>
              <p v-if="data.money.held !== null">
                <span class="text-ink-2">Held in trust</span> <b class="font-serif text-lg">{{ showMoney(data.money.held) }}</b>
              </p>
            </section>
            <section class="sheet" aria-label="Matters">
              <h2 class="px-4 pt-3.5 pb-1">Matters and parts played</h2>
              <DataTable
                label="Matters"
                name="parts-of-contact"
                plain
                :rows="data.parts"
                :columns="partColumns"
                :row-id="(p) => `${p.matterId} ${p.part}`"
              >
                <template #empty>In no matter yet.</template>
                <template #cell-name="{ row: p }"
                  ><RouterLink :to="`/matters/${p.matterId}`" class="font-semibold hover:underline">{{ p.name }}</RouterLink></template
                >
              </DataTable>
            </section>
            <section v-if="data.enquiries.length" class="sheet px-4 py-3" aria-label="Enquiries">
              <h2 class="mb-1">Enquiries</h2>
              <RouterLink
                v-for="e in data.enquiries"
                :key="e.id"
                :to="`/people/enquiries/${e.id}`"
                class="flex gap-3 border-t border-line-2 py-[5px] hover:bg-page"
              >
                <span class="text-ink-2">{{ momentText(e.at) }}</span><span class="min-w-0 flex-1 truncate">{{
                  e.about || 'Nothing written yet'
                }}</span
                ><span class="text-ink-2">{{ e.state }}</span>
              </RouterLink>
            </section>
            <section class="sheet px-4 py-3" aria-label="Notes"><Notes :contact-id="id" /></section>
          </div>
        </div>
        <Calls v-if="session.may('trust.see') && data.kinds.includes('client')" :client-id="id" class="mt-[18px]" />
      </template>
    </State>
    <ContactSheet v-if="editing && data" :contact="data" @close="editing = false" />
    <Merge v-if="merging && data" :id="id" :name="data.name" @close="merging = false" />
    <BillTerms v-if="billTerms && data" :id="id" of="client" :name="data.name" @close="billTerms = false" />
    <TermsSheet v-if="terms && data" of="client" :id="id" :name="data.name" @close="terms = false" />
  </div>
</template>
