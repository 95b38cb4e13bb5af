<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { data } = useLoad(() => api.calendar.hours())
const form = reactive({ from: '', to: '', zone: '' })
watch(data, (d) => d && Object.assign(form, { from: d.from, to: d.to, zone: d.zone }))
const changed = computed(() => data.value && (['from', 'to', 'zone'] as const).some((k) => form[k] !== data.value![k]))
const zones = Intl.supportedValuesOf('timeZone')
const { state, fault, send } = useForm(() => api.calendar.setHours({ from: form.from, to: form.to, zone: form.zone.trim() }))

async function save() {
  if (!(await send())) return
  notes.say('Your working hours are set')
  emit('close')
}
</script>

<template>
  <SideSheet
    title="My working hours"
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="Boolean(changed)"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-2 gap-3">
      <TimeField v-model="form.from" label="From" :fault="fault('from')" />
      <TimeField v-model="form.to" label="To" :fault="fault('to')" />
    </div>
    <TextField
      v-model="form.zone"
      label="Time zone"
      optional
      :list="zones"
      :fault="fault('zone')"
      :hint="data ? `Without one, the firm’s: ${data.firmZone.replace(/_/g, ' ')}` : ''"
    />
    <p class="text-ink-2">Free hours are looked for within these; the firm’s working days and your leave count, too.</p>
  </SideSheet>
</template>
