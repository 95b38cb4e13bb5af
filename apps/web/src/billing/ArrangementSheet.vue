<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { recent } from '../shown'
import ArrangementFields from '../matters/ArrangementFields.vue'
import { arrangementToSend, blankContingent, type TypedArrangement } from '../matters/arranging'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import { plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'

const props = defineProps<{ matter: Answer<typeof api.matters.get>; kept: Answer<typeof api.matters.arrangement> }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const form = reactive<TypedArrangement>({
  billing: props.kept.billing,
  flatFee: props.kept.portions
    .filter((p) => !p.billId && !p.added)
    .map((p) => ({ id: p.id, label: p.label, amount: p.amount, due: p.due, stageId: p.stageId })),
  contingent: props.kept.contingent ? JSON.parse(JSON.stringify(props.kept.contingent)) : blankContingent(),
})
const arrangement = computed({ get: () => form, set: (a) => Object.assign(form, a) })
const from = ref<Day | null>(session.today)
const floor = ref<number | null>(props.kept.retainer?.floor ?? null)
const fillTo = ref<number | null>(props.kept.retainer?.fillTo ?? null)
const before = JSON.stringify([form, floor.value, fillTo.value])
const changed = computed(() => JSON.stringify([form, floor.value, fillTo.value]) !== before)
const another = computed(() => form.billing !== props.kept.billing)
/** What the change does to unbilled work; asked anew with each change of arrangement or day. */
const effect = ref<Answer<typeof api.matters.arrangementEffect> | null>(null)
const cannot = ref('')
let turn = 0
async function ask() {
  const mine = ++turn
  effect.value = null
  cannot.value = ''
  if (!another.value || !from.value) return
  try {
    const found = await api.matters.arrangementEffect({ id: props.matter.id, billing: form.billing, from: from.value })
    if (mine === turn) effect.value = found
  } catch (error) {
    if (mine === turn) cannot.value = error instanceof Error ? error.message : 'This could not be worked out'
  }
}
watch([() => form.billing, from], ask, { immediate: true })
const { state, fault, send } = useForm(() =>
  api.matters.changeArrangement({
    id: props.matter.id,
    ...arrangementToSend(form),
    from: from.value ?? '',
    retainer: floor.value === null && fillTo.value === null ? null : { floor: floor.value ?? 0, fillTo: fillTo.value ?? floor.value ?? 0 },
    seen: another.value ? effect.value : null,
  }),
)

async function save() {
  const done = await send()
  // What it would do by now stands beside the words that say why.
  if (!done) return void (state.code === 'changed-meanwhile' && (await ask()))
  notes.say(another.value ? 'Arrangement changed; what is billed stays as it is' : 'Kept')
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    title="Arrangement"
    wide
    save="Save"
    :busy="state.busy"
    :message="state.said"
    :changed="changed"
    :disabled="another && !effect"
    @save="save"
    @close="emit('close')"
  >
    <ArrangementFields v-model="arrangement" :fault="fault" :stages="kept.stages" :fees="setting?.fees ?? []" autofocus />
    <DayField v-if="another" v-model="from" label="From" hint="Work of that day and later falls under it" :fault="fault('from')" />
    <section v-if="another" class="rounded-control bg-mist px-3 py-2" aria-label="What it does to unbilled work" aria-live="polite">
      <p v-if="cannot" class="text-rust">{{ cannot }}</p>
      <template v-else-if="effect">
        <p v-if="effect.nowCovered.entries">
          The fee will cover {{ plural(effect.nowCovered.entries, 'entry', 'entries') }} worth {{ showMoney(effect.nowCovered.amount) }},
          which would be charged by the hour now.
        </p>
        <p v-if="effect.nowCharged.entries">
          {{ plural(effect.nowCharged.entries, 'entry', 'entries') }} worth {{ showMoney(effect.nowCharged.amount) }} that a fee covers now
          will be charged by the hour.
        </p>
        <p v-if="effect.stays.entries">
          {{ plural(effect.stays.entries, 'entry', 'entries') }} worth {{ showMoney(effect.stays.amount) }} stay to be billed; write them
          off where they shall not be.
        </p>
        <p v-if="!effect.nowCovered.entries && !effect.nowCharged.entries && !effect.stays.entries">No unbilled work is touched.</p>
      </template>
    </section>
    <fieldset>
      <legend class="mb-1 font-semibold">Retainer</legend>
      <div class="grid stacks grid-cols-2 gap-3">
        <MoneyField v-model="floor" label="Hold in trust at least" optional :fault="fault('retainer.floor')" />
        <MoneyField
          v-model="fillTo"
          label="Fill it up to"
          optional
          hint="What the client is asked for when it is below"
          :fault="fault('retainer.fillTo')"
        />
      </div>
    </fieldset>
  </SideSheet>
</template>
