<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useClipboard } from '@vueuse/core'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchMatters } from '../ui/search'
import { momentText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad } from '../use'

/** Calendars to which any calendar program can subscribe, each under a secret address. */
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data, reload } = useLoad(() => api.docket.feeds())
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const form = reactive({
  scope: 'person' as 'person' | 'matter' | 'area' | 'firm',
  userId: session.me!.id,
  matter: null as Choice | null,
  areaId: 0,
})
const address = ref('')
const scopes = { person: 'A person', matter: 'A matter', area: 'A practice group', firm: 'The whole firm' }
const people = computed(() => (setting.value?.staff ?? []).map((s) => ({ value: s.id, text: s.name })))
const areas = computed(() => [{ value: 0, text: 'Choose' }, ...(setting.value?.areas ?? []).map((a) => ({ value: a.id, text: a.name }))])

const { state, act, fault, send } = useForm(() =>
  api.docket.makeFeed({ scope: form.scope, userId: form.userId, matterId: form.matter?.id ?? null, areaId: form.areaId || null }),
)

async function make() {
  const made = await send()
  if (!made) return
  address.value = new URL(made.address, window.location.href).href
  await reload()
}
const { copy: copyText } = useClipboard({ legacy: true })
async function copy() {
  await copyText(address.value)
  notes.say('The address is copied')
}
async function withdraw(id: number) {
  if (
    !(await sure(
      'Withdraw the calendar',
      'Programs that read its address get nothing more; another address must be entered in them.',
      'Withdraw it',
    ))
  )
    return
  if (!(await act(() => api.docket.withdrawFeed({ id })))) return
  notes.say('Withdrawn; programs that read this address get nothing more')
  await reload()
}
</script>

<template>
  <SideSheet light title="Calendars" save="Make an address" :busy="state.busy" :message="state.said" @save="make" @close="emit('close')">
    <p class="text-ink-2">
      A calendar program that subscribes to a secret address shows the docket as you may see it, and follows every change. Whoever has the
      address can read it; withdraw one that got about.
    </p>
    <ChoiceField
      v-model="form.scope"
      label="Dates of"
      :options="(Object.keys(scopes) as (keyof typeof scopes)[]).map((s) => ({ value: s, text: scopes[s] }))"
      autofocus
    />
    <ChoiceField v-if="form.scope === 'person'" v-model="form.userId" label="Who" :options="people" :fault="fault('userId')" />
    <Picker v-if="form.scope === 'matter'" v-model="form.matter" label="Matter" :search="searchMatters" :fault="fault('matterId')" />
    <ChoiceField v-if="form.scope === 'area'" v-model="form.areaId" label="Practice area" :options="areas" :fault="fault('areaId')" />
    <section v-if="address" aria-label="New address" class="rounded-control bg-lagoon-wash px-3 py-2.5">
      <p class="font-semibold">The address, shown only now</p>
      <p class="my-1 break-all">{{ address }}</p>
      <Btn small @click="copy">Copy</Btn>
    </section>
    <section v-if="data?.length" aria-label="Your calendars">
      <h3 class="mb-1">Your calendars</h3>
      <div v-for="f in data" :key="f.id" class="flex items-center gap-2 border-t border-line-2 py-1.5">
        <span class="min-w-0 flex-1"
          >{{ f.name }}<span class="block text-sm text-ink-2">made {{ momentText(f.createdAt) }}</span></span
        >
        <Btn small :aria-label="`Withdraw the calendar of ${f.name}`" @click="withdraw(f.id)">Withdraw</Btn>
      </div>
    </section>
  </SideSheet>
</template>
