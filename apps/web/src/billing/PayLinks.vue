<script setup lang="ts">
import { ref } from 'vue'
import { useClipboard } from '@vueuse/core'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import { momentDay, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { sure } from '../ui/question'
import { useAct } from '../use'

/** Links by which a bill is paid by card, and what came by them. */
const props = defineProps<{ id: number; number: string; open: number }>()
const emit = defineEmits<{ close: [] }>()
const notes = useNotes()
const session = useSession()
const { state, act } = useAct()
const { data, reload } = useShown(() => asks.billing.payLinks.queryOptions({ input: { id: props.id } }))
const url = ref('')
async function make() {
  const made = await act(() => api.billing.makePayLink({ id: props.id }))
  if (!made) return
  url.value = made.url
  await reload()
}
const { copy: copyText } = useClipboard({ legacy: true })
async function copy() {
  await copyText(url.value)
  notes.say('Copied')
}
async function end(id: number) {
  if (!(await sure('End the link', 'Whoever has it cannot pay by it any more; another one must be sent.', 'End it'))) return
  if (!(await act(() => api.billing.endPayLink({ id })))) return
  url.value = ''
  notes.say('The link is ended')
  await reload()
}
type Charge = NonNullable<typeof data.value>['charges'][number]
const standsAs = (c: Charge) =>
  c.state === 'disputed' && c.method === 'bank'
    ? 'returned by the bank'
    : c.state === 'paid'
      ? c.method === 'bank'
        ? 'paid from a bank account'
        : 'paid by card'
      : c.state
</script>

<template>
  <SideSheet :title="`Pay bill ${number} by link`" :message="state.message" :waiting="!data" @close="emit('close')">
    <template v-if="data">
      <p v-if="!data.offered" class="text-ink-2">No card processor is set up for this server.</p>
      <template v-else>
        <p>
          Whoever has the link sees this bill, and pays what is open of it by card or from a bank account. Letters make one by themselves
          where <code v-pre>{link}</code> stands in their words.
        </p>
        <div v-if="url" class="space-y-2">
          <TextField :model-value="url" label="Address of the link" hint="It is shown only now; copy it into a letter" />
          <Btn @click="copy()">Copy</Btn>
        </div>
        <Btn v-else-if="session.may('bills.issue') && open > 0" main :busy="state.busy" @click="make()">Make a link</Btn>
      </template>
      <section v-if="data.links.length" aria-label="Links">
        <h3 class="font-semibold">Links</h3>
        <p v-for="l in data.links" :key="l.id" class="flex items-center gap-2 border-t border-line-2 py-1">
          <span
            >{{ momentDay(l.madeAt) }} by {{ l.by }}
            <span class="text-ink-2">{{ l.endedAt ? `ended ${momentDay(l.endedAt)}` : 'open' }}</span></span
          >
          <Btn
            v-if="!l.endedAt && session.may('bills.issue')"
            small
            class="ml-auto"
            :aria-label="`End the link of ${momentDay(l.madeAt)}`"
            @click="end(l.id)"
            >End it</Btn
          >
        </p>
      </section>
      <section v-if="data.charges.length" aria-label="Payments by link">
        <h3 class="font-semibold">Payments by link</h3>
        <div v-for="c in data.charges" :key="c.id" class="border-t border-line-2 py-1">
          <p class="flex gap-2">
            <span
              >{{ momentDay(c.at) }} <span :class="c.state === 'disputed' ? 'text-rust' : 'text-ink-2'">{{ standsAs(c) }}</span></span
            >
            <span class="ml-auto"
              >{{ showMoney(c.amount) }}<span v-if="c.fee" class="text-ink-2">, fee {{ showMoney(c.fee) }}</span></span
            >
          </p>
          <p v-if="c.fault" class="text-rust">{{ c.fault }}</p>
        </div>
      </section>
    </template>
  </SideSheet>
</template>
