<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, asks } from '../api'
import { useShown } from '../shown'
import ConflictHits from '../matters/ConflictHits.vue'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import PageHead from '../ui/PageHead.vue'
import { dayText, momentText, plural, showMoney, timeText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useOpening } from '../use'
import EnquirySheet from './EnquirySheet.vue'

const session = useSession()
const notes = useNotes()
const router = useRouter()
const id = Number(useRoute().params['id'])
const { data, problem, loading, reload } = useShown(() => asks.people.getEnquiry.queryOptions({ input: { id } }))
const { state, act, fault } = useAct()
const editing = ref(false)
const declining = ref(false)
const reason = ref('')
const { data: check } = useShown(() =>
  data.value?.conflictCheckId && session.may('matters.open')
    ? asks.people.getCheck.queryOptions({ input: { id: data.value.conflictCheckId } })
    : null,
)
async function runCheck() {
  if (await act(() => api.people.checkEnquiry({ id }))) session.changed()
}
useOpening(declining, () => (reason.value = ''))
async function decline() {
  if (!(await act(() => api.people.decline({ id, reason: reason.value })))) return
  declining.value = false
  notes.say('Declined; it stays on record for conflict checks', {
    label: 'Undo',
    act: () => api.people.takeUp({ id }).then(session.changed),
  })
  session.changed()
}
async function takeUp() {
  if (await act(() => api.people.takeUp({ id }))) session.changed()
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <State :loading="loading && !data" :problem="problem" @again="reload()">
      <template v-if="data">
        <PageHead :title="`Enquiry of ${data.name}`" :hint="`${data.state}, taken ${momentText(data.at)}`">
          <template v-if="data.state === 'open' && session.may('people.change')">
            <Btn @click="editing = true">Change</Btn>
            <Btn @click="declining = true">Decline</Btn>
            <Btn v-if="session.may('matters.open')" main @click="router.push(`/matters/new?enquiry=${id}`)">Open the matter</Btn>
          </template>
          <Btn v-if="data.state === 'declined' && session.may('people.change')" @click="takeUp">Take it up again</Btn>
        </PageHead>
        <p v-if="state.said" role="alert" class="mb-3 rounded-control bg-rust-wash px-3 py-2 text-rust">
          {{ state.said }}
        </p>
        <div class="grid stacks gap-[18px] lg:grid-cols-2">
          <section
            class="sheet self-start px-4 py-3.5 [&_dt]:text-ink-2 [&_dl>div]:grid [&_dl>div]:grid-cols-[130px_1fr] [&_dl>div]:border-t [&_dl>div]:border-line-2 [&_dl>div]:py-[5px]"
            aria-label="The enquiry"
          >
            <h2 class="mb-1">What was asked</h2>
            <dl>
              <div>
                <dt>Who</dt>
                <dd>
                  <RouterLink :to="`/people/${data.contactId}`" class="font-semibold hover:underline">{{ data.name }}</RouterLink>
                  <span class="text-ink-2"> {{ [data.email, data.phone].filter(Boolean).join(' · ') }}</span>
                </dd>
              </div>
              <div>
                <dt>What about</dt>
                <dd class="whitespace-pre-line">{{ data.about || 'nothing written yet' }}</dd>
              </div>
              <div v-if="data.adverse.length">
                <dt>Against</dt>
                <dd>{{ data.adverse.join('; ') }}</dd>
              </div>
              <div v-if="data.area">
                <dt>Area</dt>
                <dd>{{ data.area }}</dd>
              </div>
              <div v-if="data.source">
                <dt>Found us through</dt>
                <dd>{{ data.source }}</dd>
              </div>
              <div>
                <dt>Next step</dt>
                <dd>
                  {{ data.nextStep || 'none noted'
                  }}<template v-if="data.nextOn"
                    >, <b :class="data.nextOn < session.today && 'text-rust'">{{ dayText(data.nextOn) }}</b></template
                  >
                </dd>
              </div>
              <div v-if="data.consultOn">
                <dt>Consultation</dt>
                <dd>
                  {{ dayText(data.consultOn) }}<template v-if="data.consultAt">, {{ timeText(data.consultAt) }}</template
                  ><template v-if="data.consultMinutes">, {{ data.consultMinutes }} minutes</template
                  ><template v-if="data.consultFee">, for {{ showMoney(data.consultFee) }}</template>
                </dd>
              </div>
              <div>
                <dt>With</dt>
                <dd>{{ data.owner }}</dd>
              </div>
              <div v-if="data.matterId">
                <dt>Became</dt>
                <dd>
                  <RouterLink :to="`/matters/${data.matterId}`" class="font-semibold hover:underline">{{ data.matter }}</RouterLink>
                </dd>
              </div>
              <div v-if="data.reason">
                <dt>Declined</dt>
                <dd>{{ data.reason }}</dd>
              </div>
            </dl>
          </section>
          <section v-if="session.may('matters.open')" class="sheet self-start px-4 py-3.5" aria-label="Conflicts" aria-live="polite">
            <div class="flex items-center">
              <h2>Conflicts</h2>
              <Btn v-if="data.state === 'open'" small class="ml-auto" :busy="state.busy" @click="runCheck">{{
                data.conflictCheckId ? 'Check again' : 'Check the names'
              }}</Btn>
            </div>
            <ConflictHits v-if="check" :check="check" record @changed="session.changed()" />
            <p v-else-if="data.conflictCheckId">
              <b>{{ data.hitsOpen ? `${plural(data.hitsOpen, 'hit')} to decide` : 'Every hit is decided' }}.</b>
              What was found is open to whoever checked; check again to see it for yourself.
            </p>
            <p v-else class="text-ink-2">Not checked yet: {{ [data.name, ...data.adverse].join('; ') }}.</p>
          </section>
        </div>
      </template>
    </State>
    <EnquirySheet v-if="editing && data" :enquiry="data" @close="editing = false" />
    <SideSheet
      v-if="declining"
      title="Decline the enquiry"
      save="Decline"
      :busy="state.busy"
      :message="state.said"
      :changed="reason !== ''"
      @save="decline"
      @close="declining = false"
    >
      <TextField
        v-model="reason"
        label="Why"
        :fault="fault('reason')"
        autofocus
        :list="['A conflict', 'Not our kind of work', 'Too late to act', 'No agreement on fees']"
      />
      <p class="text-ink-2">It stays on record, so that later conflict checks find it.</p>
    </SideSheet>
  </div>
</template>
