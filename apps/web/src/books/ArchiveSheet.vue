<script setup lang="ts">
import { yearStart, type Day } from '@heron/core/calendar'
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import SideSheet from '../ui/SideSheet.vue'
import { saveAs } from '../ui/table/export'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** One ZIP: what an auditor asks for of a trust account, or the whole set of books. */
const props = defineProps<{ what: 'trust' | 'books' }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: accounts } = useLoad(() => api.trust.accounts())
const trustAccounts = computed(() => (accounts.value ?? []).filter((a) => a.kind !== 'operating'))
const bank = ref(0)
watch(trustAccounts, (list) => (bank.value ||= list[0]?.id ?? 0))
const from = ref<Day | null>(yearStart(session.today))
const to = ref<Day | null>(session.today)
const { state, fault, send } = useForm(() => {
  const end = to.value ?? ''
  return props.what === 'trust'
    ? api.books.trustRecords({ bankAccountId: bank.value, from: from.value ?? '', to: end })
    : api.books.archive({ to: end })
})

async function save() {
  const end = to.value ?? ''
  const file = await send()
  if (!file) return
  saveAs(file, props.what === 'trust' ? `trust-records-${from.value}-${end}.zip` : `books-${end}.zip`)
  notes.say('Put together; it is in your downloads')
  emit('close')
}
</script>

<template>
  <SideSheet
    light
    :title="what === 'trust' ? 'Records for an auditor' : 'The whole set of books'"
    save="Put it together"
    :busy="state.busy"
    :message="state.said"
    :waiting="!accounts"
    @save="save"
    @close="emit('close')"
  >
    <ChoiceField
      v-if="what === 'trust'"
      v-model="bank"
      label="Trust account"
      :options="trustAccounts.map((a) => ({ value: a.id, text: a.name }))"
      :fault="fault('bankAccountId')"
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <DayField v-if="what === 'trust'" v-model="from" label="From" :fault="fault('from')" />
      <DayField v-model="to" label="Up to" :fault="fault('to')" />
    </div>
    <p v-if="what === 'trust'" class="text-ink-2">
      One ZIP: receipts and disbursements, client ledgers, the listing of each day, checks, transfers to the firm with their bills,
      corrections, what the bank did, and the reconciliations as they were closed; with an index and a hash of each file.
    </p>
    <p v-else class="text-ink-2">
      One ZIP: chart, journals, lines, bank and client ledgers as CSV with a description, and the journal as plain text for other programs.
    </p>
  </SideSheet>
</template>
