<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

/** On which days after the due day bills are reminded of, and whether that goes by itself. */
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { data } = useLoad(() => api.billing.reminderRule())
const days = ref('')
const automatic = ref(false)
watch(data, (d) => {
  if (!d) return
  days.value = d.days
  automatic.value = d.by !== null && !d.stopped
})
const { state, fault, send } = useForm(() => api.billing.setReminderRule({ days: days.value, automatic: automatic.value }))

async function save() {
  if (!(await send())) return
  notes.say(automatic.value ? 'Reminders go out by themselves, each working morning, in your name' : 'Kept')
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Reminders"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="data !== null && (days !== data.days || automatic !== (data.by !== null && !data.stopped))"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <TextField
      v-model="days"
      label="Days after the due day"
      hint="One to three, like 7, 21, 45; each has a letter of its own"
      :fault="fault('days')"
      autofocus
    />
    <label class="flex items-center gap-2"
      ><input v-model="automatic" type="checkbox" class="accent-ink" /> Send them by themselves each working morning</label
    >
    <p v-if="data?.stopped" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
      They went out in the name of {{ data.by }}, who left or issues no bills any more. None goes out by itself until you say so here.
    </p>
    <p v-else-if="data?.by" class="text-ink-2">They go out by themselves in the name of {{ data.by }}.</p>
    <p class="text-ink-2">
      Disputed bills, and payers without an e-mail address, are left out. The words stand under Set-up, Letters about bills.
    </p>
  </SideSheet>
</template>
