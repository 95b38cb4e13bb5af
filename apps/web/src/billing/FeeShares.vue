<script setup lang="ts">
import { X } from '@lucide/vue'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { typedSum } from '../ui/typed'
import { useForm } from '../ui/form'

/** Who shares the fixed fees of a matter, in percent; nobody leaves them to those who did the work. */
const props = defineProps<{ matter: { id: number }; kept: Answer<typeof api.billing.feeShares> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const rows = ref(props.kept.shares.map((s) => ({ userId: s.userId, percent: String(s.basisPoints / 100) })))
const before = JSON.stringify(rows.value)
const options = computed(() => [
  { value: 0, text: 'Choose' },
  ...props.kept.staff.map((p) => ({ value: p.id, text: p.name })),
  // Someone who left still has a part until it is taken out.
  ...props.kept.shares.filter((s) => !props.kept.staff.some((p) => p.id === s.userId)).map((s) => ({ value: s.userId, text: s.name })),
])
const points = (text: string) => Math.round(Number(text.trim().replace(',', '.').replace('%', '') || NaN) * 100) || 0
const left = computed(() => 100_00 - typedSum(rows.value.map((r) => points(r.percent))))
function add() {
  rows.value.push({ userId: 0, percent: left.value > 0 ? String(left.value / 100) : '' })
}
const { state, fault, send } = useForm(() =>
  api.billing.setFeeShares({
    id: props.matter.id,
    shares: rows.value.map((r) => ({ userId: r.userId, basisPoints: points(r.percent) })),
  }),
)

async function save() {
  if (!(await send())) return
  notes.say(rows.value.length ? 'Fees are shared so on bills from now on' : 'Fees belong to those who did the work')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Who shares the fees"
    save="Save"
    :busy="state.busy"
    :message="state.message"
    :changed="JSON.stringify(rows) !== before"
    @save="save"
    @close="emit('close')"
  >
    <div v-for="(r, i) in rows" :key="i" class="grid grid-cols-[1fr_110px_30px] items-end gap-2">
      <ChoiceField v-model="r.userId" :label="`Timekeeper ${i + 1}`" :options="options" :fault="fault(`shares.${i}.userId`)" />
      <TextField v-model="r.percent" :label="`Percent ${i + 1}`" :fault="fault(`shares.${i}.basisPoints`)" />
      <Btn :aria-label="`Take out timekeeper ${i + 1}`" class="!px-1.5" @click="rows.splice(i, 1)"
        ><X class="size-4" aria-hidden="true"
      /></Btn>
    </div>
    <div class="flex items-center gap-3">
      <Btn @click="add">Add someone</Btn>
      <span v-if="rows.length && left !== 0" class="text-rust" role="status">{{
        left > 0 ? `${left / 100} % is left` : `${-left / 100} % too much`
      }}</span>
    </div>
    <p class="text-ink-2">
      It holds for bills issued from now on. With nobody named, a fee belongs to those who did the work, by its recorded value.
    </p>
  </SideSheet>
</template>
