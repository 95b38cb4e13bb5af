<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import { dayText, plural, showMoney } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'
import BillTable from './BillTable.vue'

type Show = 'pre-bills' | 'unbilled' | 'bills'
const session = useSession()
const notes = useNotes()
const route = useRoute()
const router = useRouter()
const show = ref<Show>((route.query['show'] as Show | undefined) ?? 'pre-bills')
watch(show, (s) => void router.replace({ query: s === 'pre-bills' ? {} : { show: s } }))
const to = ref<string | null>(session.today)
const q = ref('')
const state = ref<'open' | 'paid' | 'all'>('all')
const page = ref(1)
const unbilledPage = ref(1)
watch(to, () => (unbilledPage.value = 1))
const pre = useLoad(() => api.billing.preBills(), [() => session.tick])
const unbilled = useLoad(
  async () => (show.value === 'unbilled' && to.value ? api.billing.unbilled({ to: to.value, page: unbilledPage.value, size: 100 }) : null),
  [show, to, unbilledPage, () => session.tick],
)
const bills = useLoad(() => api.billing.list({ q: q.value, state: state.value, page: page.value, size: 50 }), [page, () => session.tick])
watch(
  [q, state],
  useDebounceFn(() => ((page.value = 1), void bills.reload()), 150),
)
const { state: acting, act } = useAct()

async function make(matterId: number) {
  const made = await act(() => api.billing.makePreBill({ matterId, workTo: to.value ?? '' }))
  if (!made) return
  notes.say('Pre-bill made')
  session.changed()
  await router.push(`/bills/pre/${made.id}`)
}
</script>

<template>
  <div class="px-6 pt-[18px]">
    <PageHead title="Bills" :hint="bills.data.value ? `${showMoney(bills.data.value.totalOpen)} open on the bills listed` : ''">
      <Switch
        v-model="show"
        label="Show"
        :options="[
          { value: 'pre-bills', text: `Pre-bills (${pre.data.value?.length ?? 0})` },
          { value: 'unbilled', text: 'Unbilled' },
          { value: 'bills', text: 'Bills' },
        ]"
      />
    </PageHead>
    <p v-if="acting.message" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ acting.message }}</p>
    <section v-if="show === 'pre-bills'" class="sheet overflow-x-auto" aria-label="Pre-bills">
      <State
        :loading="pre.loading.value && !pre.data.value"
        :problem="pre.problem.value"
        :empty="!pre.data.value?.length"
        @again="pre.reload()"
      >
        <template #empty
          >No pre-bill waits.
          <button type="button" class="text-lagoon underline" @click="show = 'unbilled'">See what is unbilled</button> and make
          one.</template
        >
        <table class="list-table">
          <thead>
            <tr>
              <th>Matter</th>
              <th>Goes to</th>
              <th>Work to</th>
              <th>State</th>
              <th class="num">Lines</th>
              <th class="num">This bill</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in pre.data.value" :key="p.id" class="open-on">
              <td>
                <RouterLink :to="`/bills/pre/${p.id}`" class="font-semibold hover:underline">{{ p.matter }}</RouterLink>
              </td>
              <td>{{ p.payer }}</td>
              <td class="text-ink-2">{{ dayText(p.workTo) }}</td>
              <td>
                <span class="tag" :class="p.state === 'approved' ? 'bg-lagoon-wash text-lagoon' : 'bg-bill-wash text-bill-ink'">{{
                  p.state === 'review' ? 'to review' : p.state
                }}</span>
              </td>
              <td class="num">{{ p.lines }}</td>
              <td class="num font-semibold">{{ showMoney(p.total) }}</td>
            </tr>
          </tbody>
        </table>
      </State>
    </section>
    <section v-else-if="show === 'unbilled'" class="sheet overflow-x-auto" aria-label="Unbilled">
      <div class="flex items-end gap-3 px-3.5 py-3">
        <div class="w-48"><DayField v-model="to" label="Work up to" /></div>
        <p class="pb-1.5 text-ink-2">
          {{ plural(unbilled.data.value?.total ?? 0, 'matter') }}, {{ showMoney(unbilled.data.value?.together ?? 0) }}
        </p>
      </div>
      <State
        :loading="unbilled.loading.value && !unbilled.data.value"
        :problem="unbilled.problem.value"
        :empty="!unbilled.data.value?.rows.length"
        @again="unbilled.reload()"
      >
        <template #empty>Nothing is unbilled up to that day.</template>
        <table class="list-table">
          <thead>
            <tr>
              <th>Number</th>
              <th>Matter</th>
              <th>Goes to</th>
              <th>Oldest</th>
              <th class="num">Time</th>
              <th class="num">Flat fee</th>
              <th class="num">Costs</th>
              <th class="num">Together</th>
              <th><span class="sr-only">Acts</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in unbilled.data.value?.rows" :key="m.matterId">
              <td class="text-ink-2">{{ m.number }}</td>
              <td>
                <RouterLink :to="`/matters/${m.matterId}/time`" class="font-semibold hover:underline">{{ m.matter }}</RouterLink>
              </td>
              <td :class="!m.billTo && 'text-rust'">{{ m.billTo ?? 'nobody yet' }}</td>
              <td class="whitespace-nowrap text-ink-2">{{ m.oldest ? dayText(m.oldest) : '' }}</td>
              <td class="num">{{ showMoney(m.time) }}</td>
              <td class="num">{{ m.flat ? showMoney(m.flat) : '' }}</td>
              <td class="num">{{ m.costs ? showMoney(m.costs) : '' }}</td>
              <td class="num font-semibold">{{ showMoney(m.together) }}</td>
              <td class="num">
                <Btn
                  v-if="session.may('bills.review')"
                  small
                  :busy="acting.busy"
                  :disabled="!m.billTo"
                  :aria-label="`Pre-bill ${m.matter}`"
                  @click="make(m.matterId)"
                  >Pre-bill</Btn
                >
              </td>
            </tr>
          </tbody>
        </table>
        <Pager v-model="unbilledPage" :total="unbilled.data.value?.total ?? 0" :size="100" what="matters" />
      </State>
    </section>
    <section v-else class="sheet overflow-x-auto" aria-label="Issued bills">
      <div class="grid grid-cols-[1fr_auto] items-end gap-3 px-3.5 py-3">
        <TextField v-model="q" label="Find by number, matter or payer" /><Switch
          v-model="state"
          label="State"
          :options="[
            { value: 'all', text: 'All' },
            { value: 'open', text: 'Open' },
            { value: 'paid', text: 'Paid' },
          ]"
        />
      </div>
      <State
        :loading="bills.loading.value && !bills.data.value"
        :problem="bills.problem.value"
        :empty="!bills.data.value?.rows.length"
        @again="bills.reload()"
      >
        <template #empty>No bill fits.</template>
        <BillTable :rows="bills.data.value?.rows ?? []" show-matter />
        <Pager v-model="page" :total="bills.data.value?.total ?? 0" :size="50" what="bills" />
      </State>
    </section>
  </div>
</template>
