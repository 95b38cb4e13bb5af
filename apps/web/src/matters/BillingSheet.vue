<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Choice } from '../ui/Picker.vue'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { payersToSend, type SharedPayer } from './payers'
import PayersField from './PayersField.vue'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const session = useSession()
const notes = useNotes()
const m = props.matter
const billTo = ref<Choice | null>(m.billToId ? { id: m.billToId, text: m.billTo ?? '' } : null)
const payers = ref<SharedPayer[]>(
  m.payers.map((p) => ({
    who: { id: p.contactId, text: p.name },
    how: p.fixed === null ? 'part' : 'fixed',
    percent: p.basisPoints === null ? '' : String(p.basisPoints / 100),
    fixed: p.fixed,
  })),
)
const before = JSON.stringify([billTo.value, payers.value])
const { state, fault, send } = useForm(() =>
  api.matters.setBilling({ id: m.id, billToId: billTo.value?.id ?? 0, payers: payersToSend(payers.value) }),
)

async function save() {
  const done = await send()
  if (!done) return
  notes.say(payers.value.length ? `Bills are split among ${payers.value.length}` : `Bills go to ${billTo.value?.text}`)
  session.changed()
  emit('changed')
}
</script>

<template>
  <SideSheet
    title="Whom to bill"
    wide
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="JSON.stringify([billTo, payers]) !== before"
    @save="save"
    @close="emit('close')"
  >
    <PayersField v-model="billTo" v-model:payers="payers" :fault="fault" autofocus />
    <p class="text-sm text-ink-2">It holds for pre-bills made from now on; those that wait keep the payers they were made with.</p>
  </SideSheet>
</template>
