<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import { readLeads, showLeads } from './leads'

const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { data } = useLoad(() => api.docket.reminders())
const leads = ref('')
const digestOn = ref(0)
watch(data, (d) => {
  if (!d) return
  leads.value = showLeads(d.leads)
  digestOn.value = d.digestOn ?? 0
})
const changed = computed(() => data.value && (leads.value !== showLeads(data.value.leads) || digestOn.value !== (data.value.digestOn ?? 0)))
const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const { state, fault, send } = useForm(() =>
  api.docket.chooseReminders({ leads: readLeads(leads.value), digestOn: digestOn.value || null }),
)

async function save() {
  if (!(await send())) return
  notes.say('Your reminders are set')
  emit('close')
}
</script>

<template>
  <SideSheet
    title="My reminders"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="Boolean(changed)"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <TextField
      v-model="leads"
      label="Court days before a date"
      hint="Such as 10, 5, 1, 0; 0 is the day itself. Empty: none, but for strict dates, which are always reminded of."
      :fault="fault('leads') || fault('leads.0')"
      autofocus
    />
    <ChoiceField
      v-model="digestOn"
      label="The weeks ahead by letter"
      :options="[{ value: 0, text: 'Never' }, ...days.map((d, i) => ({ value: i + 1, text: `Every ${d}` }))]"
    />
    <p class="text-ink-2">
      Reminders come by letter and on Today, for matters on whose team you are and dates that you answer for. Any date can have reminders of
      its own: open it.
    </p>
  </SideSheet>
</template>
