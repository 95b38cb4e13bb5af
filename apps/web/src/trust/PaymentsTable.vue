<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import { dayText, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useAct, useLoad } from '../use'

const session = useSession()
const notes = useNotes()
const page = ref(1)
const { data, problem, loading, reload } = useLoad(() => api.trust.payments({ page: page.value, size: 50 }), [page, () => session.tick])
const { state, act, fault } = useAct()
const voiding = ref<number | null>(null)
const day = ref<string | null>(session.today)
const reason = ref('')

async function post(id: number) {
  const done = await act(() => api.trust.postPayment({ id }))
  if (!done) return
  notes.say(done.checkNo ? `Posted as check ${done.checkNo}` : 'Posted')
  session.changed()
}
async function drop(id: number) {
  if (!(await act(() => api.trust.dropPayment({ id })))) return
  notes.say('Draft dropped; the money is free again')
  session.changed()
}
async function voidIt() {
  const id = voiding.value
  if (!id || !(await act(() => api.trust.voidPayment({ id, day: day.value ?? '', reason: reason.value })))) return
  notes.say('Voided; the money is back on the same ledger')
  voiding.value = null
  session.changed()
}
</script>

<template>
  <section class="sheet overflow-x-auto" aria-label="Payments out">
    <p v-if="state.message && !voiding" role="alert" class="bg-rust-wash px-4 py-2 text-rust">{{ state.message }}</p>
    <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
      <template #empty>Nothing was paid out of trust yet.</template>
      <table class="list-table">
        <thead>
          <tr>
            <th>Number</th>
            <th>Date</th>
            <th>To</th>
            <th>From the ledger of</th>
            <th>For</th>
            <th>State</th>
            <th class="num">Amount</th>
            <th><span class="sr-only">Acts</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in data?.rows" :key="p.id" :class="['void', 'dropped'].includes(p.state) && 'text-ink-3'">
            <td class="whitespace-nowrap">{{ p.checkNo ? `Check ${p.checkNo}` : p.method }}</td>
            <td class="whitespace-nowrap text-ink-2">{{ dayText(p.day) }}</td>
            <td>{{ p.payee }}</td>
            <td class="text-ink-2">{{ p.ledger }}</td>
            <td class="text-ink-2">{{ p.memo }}</td>
            <td>
              <span class="tag" :class="p.state === 'draft' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{ p.state }}</span>
            </td>
            <td class="num">{{ showMoney(p.amount) }}</td>
            <td class="num whitespace-nowrap">
              <template v-if="session.may('trust.post')">
                <template v-if="p.state === 'draft'"
                  ><Btn small :busy="state.busy" @click="post(p.id)">Post</Btn> <Btn small @click="drop(p.id)">Drop</Btn></template
                >
                <template v-else-if="p.state === 'posted'"
                  ><a
                    v-if="p.checkNo"
                    :href="`/api/trust/payments/${p.id}/check`"
                    target="_blank"
                    rel="noopener"
                    class="mr-2 text-lagoon underline"
                    >Print check {{ p.checkNo }}</a
                  ><Btn small :aria-label="`Void ${p.checkNo ? `check ${p.checkNo}` : 'wire'}`" @click="((voiding = p.id), (reason = ''))"
                    >Void</Btn
                  ></template
                >
              </template>
            </td>
          </tr>
        </tbody>
      </table>
      <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="payments" />
    </State>
    <SideSheet
      v-if="voiding"
      title="Void a payment"
      save="Void it"
      :busy="state.busy"
      :message="state.fields.length ? '' : state.message"
      @save="voidIt"
      @close="voiding = null"
    >
      <DayField v-model="day" label="On" :fault="fault('day')" />
      <TextField v-model="reason" label="Why" :fault="fault('reason')" autofocus />
      <p class="text-ink-2">A mirrored entry returns the money to the same ledger. The number is never used again.</p>
    </SideSheet>
  </section>
</template>
