<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { useOpening } from '../use'
import Arrangement from './Arrangement.vue'
import BillTable from './BillTable.vue'
import BillTerms from './BillTerms.vue'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const notes = useNotes()
const router = useRouter()
const { data, problem, loading, reload } = useShown(() =>
  asks.billing.list.queryOptions({ input: { matterId: props.matter.id, size: 200 } }),
)
const { data: pre } = useShown(() => asks.billing.preBills.queryOptions({ input: { matterId: props.matter.id, page: 1, size: 20 } }))
const making = ref(false)
const terms = ref(false)
const to = ref<Day | null>(session.today)
useOpening(making, () => (to.value = session.today))

const { state, fault, send } = useForm(() => api.billing.makePreBill({ matterId: props.matter.id, workTo: to.value ?? '' }))

async function make() {
  const made = await send()
  if (!made) return
  notes.say('Pre-bill made')
  session.changed()
  await router.push(`/bills/pre/${made.id}`)
}
</script>

<template>
  <Arrangement :matter="matter" />
  <div class="flex items-center gap-2 px-4 py-3">
    <h2>Bills</h2>
    <RouterLink v-for="p in pre?.rows ?? []" :key="p.id" :to="`/bills/pre/${p.id}`" class="tag bg-bill-wash text-bill-ink underline"
      >pre-bill waits</RouterLink
    >
    <span v-if="session.may('bills.review')" class="ml-auto flex gap-2">
      <Btn v-if="matter.billToId" @click="router.push(`/people/${matter.billToId}/statement?matter=${matter.id}`)">Statement</Btn>
      <Btn @click="terms = true">Terms</Btn>
      <Btn @click="making = true">New pre-bill</Btn>
    </span>
  </div>
  <BillTable :rows="data?.rows ?? []" :loading="loading" :problem="problem" @again="reload()">
    <template #empty>No bill yet. A pre-bill gathers posted time and costs up to a day.</template>
  </BillTable>
  <BillTerms v-if="terms" :id="matter.id" of="matter" :name="matter.number" @close="terms = false" />
  <SideSheet
    v-if="making"
    title="New pre-bill"
    save="Make pre-bill"
    :busy="state.busy"
    :message="state.message"
    @save="make"
    @close="making = false"
  >
    <DayField v-model="to" label="Work up to" :fault="fault('workTo')" autofocus />
    <p class="text-ink-2">All posted time and costs of this matter up to that day; nothing is final until the bill is issued.</p>
  </SideSheet>
</template>
