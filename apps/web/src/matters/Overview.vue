<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import { dayText, showMoney } from '../ui/show'
import { useAct } from '../use'
import ConflictHits from './ConflictHits.vue'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const billTo = ref<Choice | null>(null)

async function setStage(stageId: number) {
  if (!(await act(() => api.matters.setStage({ id: props.matter.id, stageId })))) return
  notes.say('Stage changed')
  emit('changed')
}
async function setBillTo() {
  if (!billTo.value || !(await act(() => api.matters.setBilling({ id: props.matter.id, billToId: billTo.value!.id })))) return
  notes.say(`Bills go to ${billTo.value.text}`)
  emit('changed')
}
async function earn(id: number, label: string) {
  if (!(await act(() => api.matters.earnPortion({ id, day: session.today })))) return
  notes.say(`Earned: ${label}`)
  emit('changed')
}
</script>

<template>
  <div class="grid gap-x-8 gap-y-5 px-4 py-3.5 xl:grid-cols-2">
    <p v-if="state.message" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust xl:col-span-2">{{ state.message }}</p>
    <section aria-label="The matter">
      <h2 class="mb-1">The matter</h2>
      <dl
        class="[&_dd]:min-w-0 [&_dt]:text-ink-2 [&>div]:grid [&>div]:grid-cols-[110px_1fr] [&>div]:border-t [&>div]:border-line-2 [&>div]:py-[5px]"
      >
        <div>
          <dt>Client</dt>
          <dd>
            <RouterLink :to="`/people/${matter.clientId}`" class="font-semibold hover:underline">{{ matter.client }}</RouterLink>
          </dd>
        </div>
        <div v-if="matter.description">
          <dt>Engaged for</dt>
          <dd>{{ matter.description }}</dd>
        </div>
        <div>
          <dt>Opened</dt>
          <dd>{{ dayText(matter.openedOn) }}</dd>
        </div>
        <div v-if="matter.stages.length">
          <dt>Stage</dt>
          <dd class="flex flex-wrap gap-1.5">
            <button
              v-for="s in matter.stages"
              :key="s.id"
              type="button"
              :aria-pressed="s.id === matter.stageId"
              class="tag border"
              :class="s.id === matter.stageId ? 'border-ink bg-ink text-white' : 'border-line bg-paper text-ink-2 hover:bg-page'"
              :disabled="!session.may('matters.open') || state.busy"
              @click="setStage(s.id)"
            >
              {{ s.name }}
            </button>
          </dd>
        </div>
        <div>
          <dt>Billing</dt>
          <dd>
            {{ matter.billing === 'hourly' ? 'Hourly' : 'Flat fee' }}<template v-if="matter.billTo">, to {{ matter.billTo }}</template>
          </dd>
        </div>
        <div v-if="matter.missing.length">
          <dt>Missing</dt>
          <dd class="text-bill-ink">{{ matter.missing.join(', ') }}</dd>
        </div>
      </dl>
      <form v-if="!matter.billToId && session.may('bills.review')" class="mt-2 flex items-end gap-2" @submit.prevent="setBillTo">
        <div class="flex-1"><Picker v-model="billTo" label="Whom to bill" :search="searchContacts" /></div>
        <Btn type="submit" :busy="state.busy">Set</Btn>
      </form>
    </section>
    <section aria-label="Team">
      <h2 class="mb-1">Team</h2>
      <div v-for="t in matter.team" :key="t.userId" class="flex border-t border-line-2 py-[5px]">
        <span
          >{{ t.name }} <span class="text-ink-2">{{ t.role }}<template v-if="t.keeps">, keeps it</template></span></span
        >
        <span v-if="t.rate !== null" class="ml-auto">{{ showMoney(t.rate) }} <span class="text-ink-2">here</span></span>
      </div>
      <template v-if="matter.portions.length">
        <h2 class="mt-4 mb-1">Flat fee</h2>
        <div v-for="p in matter.portions" :key="p.id" class="flex items-center gap-2 border-t border-line-2 py-[5px]">
          <span
            >{{ p.label }}
            <span class="text-ink-2"
              >{{ p.billed ? 'billed' : 'not billed' }}, {{ p.earnedOn ? `earned ${dayText(p.earnedOn)}` : 'not yet earned' }}</span
            ></span
          >
          <span class="ml-auto">{{ showMoney(p.amount) }}</span>
          <Btn v-if="!p.earnedOn && session.may('bills.review')" small :busy="state.busy" @click="earn(p.id, p.label)">Earned</Btn>
        </div>
      </template>
    </section>
    <section v-if="matter.conflicts" class="xl:col-span-2" aria-label="Conflict check">
      <h2 class="mb-1">Conflict check</h2>
      <ConflictHits :check="matter.conflicts" @changed="emit('changed')" />
    </section>
  </div>
</template>
