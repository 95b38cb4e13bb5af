<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import TimeField from '../ui/TimeField.vue'
import { useAct, useLoad } from '../use'

const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data } = useLoad(() => api.calendar.hours())
const form = reactive({ from: '', to: '', zone: '' })
watch(data, (d) => d && Object.assign(form, { from: d.from, to: d.to, zone: d.zone }))
const changed = computed(() => data.value && (['from', 'to', 'zone'] as const).some((k) => form[k] !== data.value![k]))
const zones = Intl.supportedValuesOf('timeZone')
async function save() {
  if (!(await act(() => api.calendar.setHours({ from: form.from, to: form.to, zone: form.zone.trim() })))) return
  notes.say('Your working hours are set')
  emit('close')
}
</script>

<template>
  <SideSheet
    title="My working hours"
    save="Save"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
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
