<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import { plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** Drafts what a settlement pays to lien holders and the client. */
const props = defineProps<{ id: number; matterId: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: ledgers } = useLoad(() => api.trust.ledgers({ matterId: props.matterId, size: 20 }))
const ledgerId = ref(0)
const day = ref<Day | null>(session.today)
watch(ledgers, (l) => (ledgerId.value ||= l?.rows[0]?.id ?? 0))
const { state, fault, send } = useForm(() =>
  api.billing.draftSettlementPayments({ id: props.id, ledgerId: ledgerId.value, day: day.value ?? '' }),
)

async function save() {
  const done = await send()
  if (!done) return
  notes.say(`${plural(done.drafted, 'payment')} drafted; they wait under Payments out`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Draft the payments"
    save="Draft"
    :busy="state.busy"
    :message="state.said"
    :waiting="!ledgers"
    @save="save"
    @close="emit('close')"
  >
    <ChoiceField
      v-model="ledgerId"
      label="Out of"
      :options="[
        { value: 0, text: 'Choose a ledger' },
        ...(ledgers?.rows ?? []).map((l) => ({ value: l.id, text: `${l.bank}, ${showMoney(l.available)} available` })),
      ]"
      :fault="fault('ledgerId')"
      autofocus
    />
    <DayField v-model="day" label="Date" :fault="fault('day')" />
    <p class="text-ink-2">A check to each lien holder and to the client. They are drafts: whoever pays posts and prints them.</p>
  </SideSheet>
</template>
