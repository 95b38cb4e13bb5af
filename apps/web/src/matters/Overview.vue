<script setup lang="ts">
import { arrangementNames } from '@heron/core/billing'
import { counted, agreeing } from '@heron/core/words'
import { computed, onUnmounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import { dropPageKeys, usePageKeys } from '../shell/keys'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { filledFields } from '../fields/filled'
import Btn from '../ui/Btn.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { sure } from '../ui/question'
import { useLoad, useOpening } from '../use'
import BillingSheet from './BillingSheet.vue'
import ChangeMatter from './ChangeMatter.vue'
import CloseMatter from './CloseMatter.vue'
import ConflictHits from './ConflictHits.vue'
import Team from './Team.vue'

const props = defineProps<{ matter: Answer<typeof api.matters.get> }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const notes = useNotes()
const billing = ref(false)

async function setStage(stageId: number) {
  const was = props.matter.stageId
  if (!(await act(() => api.matters.setStage({ id: props.matter.id, stageId })))) return
  notes.say(
    `Stage: ${props.matter.stages.find((s) => s.id === stageId)?.name}`,
    was ? { label: 'Undo', act: () => api.matters.setStage({ id: props.matter.id, stageId: was }).then(session.changed) } : undefined,
  )
  emit('changed')
}
const router = useRouter()
const changing = ref(false)
const closing = ref(false)
const reopening = ref(false)
const reason = ref('')
const mayChange = computed(() => session.may('matters.open') && props.matter.own.file === 2 && !props.matter.closedOn)
const mayBill = computed(() => session.may('bills.review') && props.matter.own.money === 2 && !props.matter.closedOn)
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'matter' } })))
/** Filled-in fields of the firm's own, in their order. */
const filled = computed(() => filledFields(groups.value ?? [], props.matter.fields, props.matter.fieldNames))
/** Keys [ and ] move the matter to the stage before or after. */
function moveStage(step: number) {
  if (!mayChange.value) return
  const at = props.matter.stages.findIndex((s) => s.id === props.matter.stageId)
  const next = props.matter.stages[at + step]
  if (next) void setStage(next.id)
}
usePageKeys({ '[': () => moveStage(-1), ']': () => moveStage(1) })
onUnmounted(dropPageKeys)
useOpening(reopening, () => (reason.value = ''))
const { state, act, fault, send } = useForm(() => api.matters.reopen({ id: props.matter.id, reason: reason.value }))
async function reopen() {
  const back = await send()
  if (!back) return
  reopening.value = false
  notes.say(`Reopened; ${counted(back.dates, 'date')} ${agreeing(back.dates, 'is', 'are')} back`)
  emit('changed')
}
const untouched = computed(() => {
  const c = props.matter.counts
  return !c.docket && !c.tasks && !c.papers && !c.bills && !c.notes
})
async function remove() {
  const { number, name } = props.matter
  if (
    !(await sure(
      `Delete ${number}`,
      `${name} goes with its parties, its team and its conflict check. This cannot be undone, and its number is not given again.`,
      'Delete it',
    ))
  )
    return
  if (!(await act(() => api.matters.remove({ id: props.matter.id })))) return
  notes.say(`${props.matter.number} is deleted`)
  await router.push('/matters')
}
async function earn(id: number, label: string) {
  if (!(await act(() => api.matters.earnPortion({ id, day: session.today })))) return
  notes.say(`Reached: ${label}`)
  emit('changed')
}
</script>

<template>
  <div class="grid stacks gap-x-8 gap-y-5 px-4 py-3.5 xl:grid-cols-2">
    <p v-if="state.message" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust xl:col-span-2">{{ state.message }}</p>
    <section aria-label="The matter">
      <div class="mb-1 flex items-center">
        <h2>The matter</h2>
        <Btn v-if="mayChange" small class="ml-auto" @click="changing = true">Change</Btn>
      </div>
      <dl
        class="[&_dd]:min-w-0 [&_dt]:text-ink-2 [&>div]:grid [&>div]:grid-cols-[110px_1fr] [&>div]:border-t [&>div]:border-line-2 [&>div]:py-[5px]"
      >
        <div>
          <dt>Client</dt>
          <dd>
            <RouterLink :to="`/people/${matter.clientId}`" class="font-semibold hover:underline">{{ matter.client }}</RouterLink><template
              v-for="c in matter.clients"
              :key="c.id"
              >, <RouterLink :to="`/people/${c.id}`" class="hover:underline">{{ c.name }}</RouterLink></template
            >
          </dd>
        </div>
        <div v-if="matter.secondNumber">
          <dt>Second number</dt>
          <dd>{{ matter.secondNumber }}</dd>
        </div>
        <div v-if="matter.judge">
          <dt>Judge</dt>
          <dd>
            <RouterLink :to="`/people/${matter.judge.id}`" class="hover:underline">{{ matter.judge.name }}</RouterLink>
          </dd>
        </div>
        <div v-if="matter.originating">
          <dt>Brought in by</dt>
          <dd>{{ matter.originating.name }}</dd>
        </div>
        <div v-if="matter.tags.length">
          <dt>Tags</dt>
          <dd>
            <RouterLink v-for="t in matter.tags" :key="t" :to="{ path: '/matters', query: { tag: t } }" class="tag mr-1 bg-mist">{{
              t
            }}</RouterLink>
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
        <div v-if="matter.closedOn">
          <dt>Closed</dt>
          <dd>
            {{ dayText(matter.closedOn) }}<template v-if="matter.closingNote">: {{ matter.closingNote }}</template>
          </dd>
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
              :disabled="!mayChange || state.busy"
              @click="setStage(s.id)"
            >
              {{ s.name }}<span v-if="s.days" class="ml-1 font-normal">{{ s.days }} d</span>
            </button>
            <span class="self-center text-sm text-ink-2"><kbd class="kbd">[</kbd> <kbd class="kbd">]</kbd> move it</span>
          </dd>
        </div>
        <div>
          <dt>Billing</dt>
          <dd>
            {{ arrangementNames[matter.billing]
            }}<template v-if="matter.payers.length"
              >, split among {{ matter.payers.map((p) => `${p.name} (${p.share})`).join(', ') }}</template
            ><template v-else-if="matter.billTo">, to {{ matter.billTo }}</template>
            <Btn v-if="mayBill" small class="ml-2" @click="billing = true">{{
              matter.billToId ? 'Change billing' : 'Say whom to bill'
            }}</Btn>
          </dd>
        </div>
        <div v-for="f in filled" :key="f.key">
          <dt>{{ f.name }}</dt>
          <dd>{{ f.text }}</dd>
        </div>
        <div v-if="matter.missing.length">
          <dt>Missing</dt>
          <dd class="text-bill-ink">{{ matter.missing.join(', ') }}</dd>
        </div>
      </dl>
    </section>
    <section aria-label="Team">
      <Team :matter="matter" />
      <template v-if="matter.portions.length">
        <h2 class="mt-4 mb-1">Fees of set amounts</h2>
        <div v-for="p in matter.portions" :key="p.id" class="flex items-center gap-2 border-t border-line-2 py-[5px]">
          <span
            >{{ p.label }}
            <span class="text-ink-2"
              >{{ p.billed ? 'billed' : 'not billed' }}, {{ p.earnedOn ? `reached ${dayText(p.earnedOn)}` : 'not yet reached' }}</span
            ></span
          >
          <span class="ml-auto">{{ showMoney(p.amount) }}</span>
          <Btn v-if="!p.earnedOn && mayBill" small :busy="state.busy" @click="earn(p.id, p.label)">Reached</Btn>
        </div>
      </template>
    </section>
    <section v-if="matter.conflicts" class="xl:col-span-2" aria-label="Conflict check">
      <h2 class="mb-1">Conflict check</h2>
      <ConflictHits :check="matter.conflicts" record @changed="emit('changed')" />
    </section>
    <div v-if="matter.own.keeps && session.may('matters.open')" class="flex gap-2 border-t border-line-2 pt-3 xl:col-span-2">
      <template v-if="matter.closedOn">
        <Btn @click="reopening = true">Reopen</Btn>
      </template>
      <template v-else>
        <Btn @click="closing = true">Close the matter</Btn>
        <Btn v-if="untouched" @click="remove">Delete it</Btn>
      </template>
    </div>
    <BillingSheet v-if="billing" :matter="matter" @close="billing = false" @changed="((billing = false), emit('changed'))" />
    <ChangeMatter v-if="changing" :matter="matter" @close="changing = false" />
    <CloseMatter v-if="closing" :matter="matter" @close="closing = false" />
    <SideSheet
      v-if="reopening"
      title="Reopen the matter"
      save="Reopen"
      :busy="state.busy"
      :message="state.said"
      :changed="reason !== ''"
      @save="reopen"
      @close="reopening = false"
    >
      <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
      <p class="text-ink-2">Dates that are still ahead come back to all calendars; those that passed meanwhile stay off them.</p>
    </SideSheet>
  </div>
</template>
