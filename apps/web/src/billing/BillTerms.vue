<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedNumber, useAct, useLoad } from '../use'

/** When bills of a matter, or of a client, are due, and whether interest runs on overdue ones; empty fields leave it as usual. */
const props = defineProps<{ of: 'matter' | 'client'; id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const { state, act, fault } = useAct()
const { data } = useLoad(() =>
  props.of === 'matter' ? api.billing.matterTerms({ id: props.id }) : api.billing.clientTerms({ id: props.id }),
)
const form = ref({ due: '', rate: '', grace: '' })
const read = computed(() => {
  const text = (n: number | null | undefined) => (n === null || n === undefined ? '' : String(n))
  const d = data.value
  const rate = d?.interestBasisPoints
  return { due: text(d?.dueDays), rate: rate === null || rate === undefined ? '' : String(rate / 100), grace: text(d?.graceDays) }
})
watch(data, (d) => d && (form.value = { ...read.value }))
const changed = computed(() => data.value !== null && JSON.stringify(form.value) !== JSON.stringify(read.value))
async function save() {
  const rate = typedNumber(form.value.rate)
  const terms = {
    id: props.id,
    dueDays: typedNumber(form.value.due),
    interestBasisPoints: typeof rate === 'number' ? Math.round(rate * 100) : rate,
    graceDays: typedNumber(form.value.grace),
  }
  if (!(await act(() => (props.of === 'matter' ? api.billing.changeMatterTerms(terms) : api.billing.changeClientTerms(terms))))) return
  notes.say('Kept; it holds for bills issued from now on, and for interest at once')
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Terms of bills, ${name}`"
    save="Save"
    :busy="state.busy"
    :message="state.fields.length ? '' : state.message"
    :changed="changed"
    :waiting="!data"
    @save="save"
    @close="emit('close')"
  >
    <TextField
      v-model="form.due"
      label="Due after days"
      optional
      :fault="fault('dueDays')"
      :hint="`Empty: ${data?.usual.dueDays} days, as usual`"
      autofocus
    />
    <div class="grid stacks grid-cols-2 gap-3">
      <TextField
        v-model="form.rate"
        label="Interest, % a year"
        optional
        :fault="fault('interestBasisPoints')"
        :hint="data?.usual.interestBasisPoints ? `Empty: ${data.usual.interestBasisPoints / 100} %, as usual` : 'Empty: none'"
      />
      <TextField v-model="form.grace" label="Days of grace" optional :fault="fault('graceDays')" hint="After the due day" />
    </div>
    <p class="text-ink-2">Interest is charged only where the engagement allows it: simple, on what is open without earlier interest.</p>
  </SideSheet>
</template>
