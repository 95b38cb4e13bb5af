<script setup lang="ts">
import type { DocketRow } from '@heron/contract'
import { computed, reactive, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'

/** Those outside who have this date on their calendar: sent in their time zone, sent again after it changed, withdrawn. */
const props = defineProps<{ row: DocketRow }>()
const session = useSession()
const notes = useNotes()
const { data: hours } = useLoad(() => api.calendar.hours())
const sent = computed(() => props.row.sentTo)
const asking = ref(false)
const form = reactive({ email: '', name: '', zone: '', note: '' })
const zones = Intl.supportedValuesOf('timeZone')

function ask() {
  Object.assign(form, { email: '', name: '', zone: hours.value?.firmZone ?? 'America/New_York', note: '' })
  asking.value = true
}
const { state, act, fault, send } = useForm(() => api.calendar.invite({ id: props.row.id, ...form }))
async function sendTo(to: { email: string; name: string }, sending: Promise<unknown>) {
  if (!(await sending)) return
  notes.say(`Sent to ${to.name || to.email}`)
  asking.value = false
  session.changed()
}
async function withdraw(email: string) {
  if (!(await sure('Withdraw the date', `It goes from the calendar of ${email}, by a letter.`, 'Withdraw it'))) return
  if (!(await act(() => api.calendar.withdraw({ id: props.row.id, email })))) return
  notes.say(`Withdrawn from the calendar of ${email}`)
  session.changed()
}
</script>

<template>
  <section aria-label="Sent to people outside" class="border-t border-line-2 pt-2">
    <div class="flex items-center">
      <h3>On calendars outside the firm</h3>
      <Btn v-if="!asking" small class="ml-auto" @click="ask">Send to someone outside</Btn>
    </div>
    <p v-if="!sent.length && !asking" class="text-ink-2">Nobody has it yet.</p>
    <p v-for="s in sent" :key="s.email" class="flex items-center gap-1.5 py-1">
      <span class="min-w-0 flex-1"
        >{{ s.name || s.email }}
        <span class="text-ink-2">{{ s.name ? `${s.email}, ` : '' }}{{ (s.zone.split('/').at(-1) ?? '').replace(/_/g, ' ') }} time</span>
        <span v-if="s.withdrawn" class="tag ml-1 bg-mist text-ink-2">withdrawn</span>
        <span v-else-if="s.changed" class="tag ml-1 bg-bill-wash text-bill-ink">changed since</span></span
      >
      <Btn
        small
        :busy="state.busy"
        :aria-label="`Send it to ${s.email} again`"
        @click="
          sendTo(
            s,
            act(() => api.calendar.invite({ id: row.id, ...s, note: '' })),
          )
        "
        >Send again</Btn
      >
      <Btn v-if="!s.withdrawn" small :busy="state.busy" :aria-label="`Withdraw it from ${s.email}`" @click="withdraw(s.email)"
        >Withdraw</Btn
      >
    </p>
    <div v-if="asking" class="mt-1 space-y-2">
      <div class="grid stacks grid-cols-2 gap-3">
        <TextField v-model="form.email" label="E-mail address" :fault="fault('email')" autofocus />
        <TextField v-model="form.name" label="Name" optional :fault="fault('name')" />
      </div>
      <TextField v-model="form.zone" label="Their time zone" :list="zones" :fault="fault('zone')" />
      <TextField v-model="form.note" label="A word with it" optional :lines="2" :fault="fault('note')" />
      <p class="text-ink-2">They see the title, when and where: nothing of the matter or how the date was counted.</p>
      <Btn main small :busy="state.busy" @click="sendTo(form, send())">Send it</Btn>
      <Btn small class="ml-2" @click="asking = false">Not now</Btn>
    </div>
    <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
  </section>
</template>
