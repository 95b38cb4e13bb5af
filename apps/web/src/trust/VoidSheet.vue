<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** Voids a payment; of a check it is said whether it is in hand, and of a stale one where its money is followed. */
const props = defineProps<{ id: number; name: string; stale?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const day = ref<Day | null>(session.today)
const how = ref<'in hand' | 'stopped'>('in hand')
const reason = ref(props.stale ? 'nobody cashed it' : '')
const follow = ref(Boolean(props.stale))
const check = props.name.startsWith('check')
const { state, fault, send } = useForm(() => {
  const own = { id: props.id, day: day.value ?? '', reason: reason.value, unclaimed: follow.value }
  return api.trust.voidPayment({ ...own, ...(check ? { how: how.value } : {}) })
})

async function save() {
  if (!(await send())) return
  notes.say('Voided; the money is back on the same ledger')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Void ${name}`"
    save="Void it"
    :busy="state.busy"
    :message="state.said"
    :changed="!stale && reason !== ''"
    @save="save"
    @close="emit('close')"
  >
    <DayField v-model="day" label="On" :fault="fault('day')" />
    <ChoiceField
      v-if="check"
      v-model="how"
      label="How it is sure that nobody is paid"
      :options="[
        { value: 'in hand', text: 'The check is in hand' },
        { value: 'stopped', text: 'The bank was told to stop it' },
      ]"
    />
    <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
    <label v-if="check" class="flex gap-2"
      ><input v-model="follow" type="checkbox" class="accent-ink" /> Nobody claimed it: follow it on the list of unclaimed money</label
    >
    <p class="text-ink-2">A mirrored entry returns the money to the same ledger. The number is never used again.</p>
  </SideSheet>
</template>
