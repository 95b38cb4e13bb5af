<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { keyOf } from '../ui/rows'
import { showAmount, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'

/** A recovery shared: the statement stands beside what is typed, as the server works it out. */
const props = defineProps<{
  matter: Answer<typeof api.matters.get>
  terms: NonNullable<Answer<typeof api.matters.arrangement>['contingent']>
}>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const router = useRouter()
const form = reactive({
  recoveredOn: session.today as Day | null,
  fromWhom: props.matter.parties.find((p) => p.side === 'adverse')?.name ?? '',
  gross: null as number | null,
  stage: 0,
  liens: [] as { payee: string; address: string; text: string; amount: number | null }[],
})
const asked = computed(() => ({
  matterId: props.matter.id,
  recoveredOn: form.recoveredOn ?? '',
  fromWhom: form.fromWhom,
  gross: form.gross ?? 0,
  stage: form.stage,
  liens: form.liens.map((l) => ({ ...l, amount: l.amount ?? 0 })),
}))
const shown = ref<Answer<typeof api.billing.previewSettlement> | null>(null)
const why = ref('')
const asking = ref(false)
let turn = 0
const whole = computed(() => Boolean(form.gross && form.recoveredOn && form.fromWhom.trim() && form.liens.every((l) => l.payee.trim() && l.text.trim() && l.amount))) // prettier-ignore
watch(
  asked,
  async (input) => {
    const mine = ++turn
    if (!whole.value) {
      shown.value = null
      why.value = ''
      asking.value = false
      return
    }
    asking.value = true
    try {
      const found = await api.billing.previewSettlement(input)
      if (mine === turn) [shown.value, why.value] = [found, '']
    } catch (error) {
      if (mine === turn) [shown.value, why.value] = [null, error instanceof Error ? error.message : 'This could not be worked out']
    } finally {
      if (mine === turn) asking.value = false
    }
  },
  { deep: true },
)
const { state, fault, send } = useForm(() => api.billing.settle({ ...asked.value, toClient: shown.value?.toClient ?? 0 }))

async function save() {
  const made = await send()
  if (!made) return
  notes.say('Settlement statement kept; its fee waits as a pre-bill')
  session.changed()
  emit('close')
  await nextTick()
  await router.push(`/bills/pre/${made.preBillId}`)
}
</script>

<template>
  <SideSheet
    title="Share a recovery"
    wide
    save="Keep statement and make pre-bill"
    :busy="state.busy"
    :message="state.said"
    :changed="form.gross !== null || form.liens.length > 0"
    :disabled="asking || (whole && !shown)"
    @save="save"
    @close="emit('close')"
  >
    <div class="grid stacks grid-cols-2 gap-3">
      <MoneyField v-model="form.gross" label="Recovered" :fault="fault('gross')" autofocus />
      <DayField v-model="form.recoveredOn" label="On" :fault="fault('recoveredOn')" />
      <TextField v-model="form.fromWhom" label="Of whom" :fault="fault('fromWhom')" />
      <ChoiceField
        v-model="form.stage"
        label="Stage"
        :options="terms.stages.map((s, i) => ({ value: i, text: `${s.label}, ${s.share}` }))"
        :fault="fault('stage')"
      />
    </div>
    <fieldset>
      <legend class="font-semibold">Liens and others who are owed out of it</legend>
      <div v-for="(l, i) in form.liens" :key="keyOf(l)" class="mt-2 grid stacks grid-cols-2 gap-x-3 gap-y-1 border-t border-line-2 pt-2">
        <TextField v-model="l.payee" :label="`To whom ${i + 1}`" :fault="fault(`liens.${i}.payee`)" />
        <MoneyField v-model="l.amount" :label="`Amount ${i + 1}`" :fault="fault(`liens.${i}.amount`)" />
        <TextField v-model="l.text" :label="`What for ${i + 1}`" :fault="fault(`liens.${i}.text`)" />
        <TextField v-model="l.address" :label="`Address ${i + 1}`" optional :fault="fault(`liens.${i}.address`)" />
        <span><Btn small :aria-label="`Take out lien ${i + 1}`" @click="form.liens.splice(i, 1)">Take out</Btn></span>
      </div>
      <Btn small class="mt-2" @click="form.liens.push({ payee: '', address: '', text: '', amount: null })">Another lien</Btn>
    </fieldset>
    <section class="rounded-control bg-mist px-3 py-2" aria-label="Settlement statement" aria-live="polite">
      <p v-if="why" class="text-rust">{{ why }}</p>
      <dl v-else-if="shown && form.gross" class="[&>div]:flex [&>div]:border-t [&>div]:border-line-2 [&>div]:py-1 [&_dd]:ml-auto">
        <div class="!border-0 font-semibold">
          <dt>Recovered</dt>
          <dd>{{ showMoney(form.gross) }}</dd>
        </div>
        <div v-for="(l, i) in shown.lines" :key="i" :class="i === shown.lines.length - 1 ? 'font-semibold' : ''">
          <dt>{{ l.text }}</dt>
          <dd>{{ i === shown.lines.length - 1 ? showMoney(l.amount) : showAmount(l.amount) }}</dd>
        </div>
      </dl>
      <p v-else class="text-ink-2">Give what was recovered, and it is shared here: fee, costs, liens, and what the client gets.</p>
    </section>
  </SideSheet>
</template>
