<script setup lang="ts">
import { boardGroups } from '@heron/contract'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAddress } from '../address'
import { type Answer, api, ApiProblem, asks } from '../api'
import { recent, useShown } from '../shown'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import CardBoard, { type BoardColumn } from '../ui/CardBoard.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import { dateText, plural } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'

/** Open matters as cards, by stage, court, area or lead lawyer; moving a card changes that of the matter. */
type Card = Answer<typeof api.oversight.board>['columns'][number]['cards'][number]
type Column = BoardColumn<Card>
const session = useSession()
const notes = useNotes()
const router = useRouter()
const shown = useAddress({ by: 'stage', areaId: '' }, ['by', 'areaId'])
const by = computed({ get: () => shown.by as (typeof boardGroups)[number], set: (v) => (shown.by = v) })
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
// Stages are of an area; the first is taken until another is chosen.
watch([setting, by], ([s, b]) => {
  if (b === 'stage' && !shown.areaId && s?.areas[0]) shown.areaId = String(s.areas[0].id)
})
const { data, problem, loading, reload } = useShown(() =>
  asks.oversight.board.queryOptions({ input: { by: by.value, ...(shown.areaId ? { areaId: Number(shown.areaId) } : {}) } }),
)
/** Nothing is taken back to no stage, and every matter has a lead. */
const shut = (key: string) => !key && (by.value === 'stage' || by.value === 'lead')
const columns = computed<Column[]>(() =>
  (data.value?.columns ?? []).map((c) => ({ ...c, note: plural(c.count, 'matter'), shut: shut(c.key) })),
)
const moves = computed(() => (by.value !== 'stage' || Boolean(shown.areaId)) && session.may('matters.open'))
const said = ref('')
const words = { stage: 'is at', court: 'is before', area: 'is in', lead: 'is led by' }

async function move(card: Card, from: string, to: string, back: () => void) {
  const group = by.value
  const place = { id: card.id, by: group }
  try {
    const { before } = await api.matters.place({ ...place, from, to })
    const name = columns.value.find((c) => c.key === to)?.name ?? ''
    said.value = to ? `${card.name} ${words[group]} ${name} now` : `${card.name} has no ${group} now`
    const was = group === 'area' ? { stageId: card.stageId } : group === 'lead' ? { backTo: before } : {}
    const undone = { ...place, from: to, to: from, ...was }
    notes.say(said.value, shut(from) ? undefined : { label: 'Undo', act: () => api.matters.place(undone).then(session.changed) })
  } catch (error) {
    back()
    notes.say(error instanceof ApiProblem ? error.message : 'This could not be done. Nothing was changed.')
  }
  await reload()
}
const areaChoices = computed(() => [
  ...(by.value === 'stage' ? [] : [{ value: '', text: 'Every area' }]),
  ...(setting.value?.areas ?? []).map((a) => ({ value: String(a.id), text: a.name })),
])
const listOf = (c: Column) => {
  const name = { stage: 'stageId', court: 'court', area: 'areaId', lead: 'leadId' }[by.value]
  return `/matters?${new URLSearchParams({ ...(shown.areaId ? { areaId: shown.areaId } : {}), ...(c.key ? { [name]: c.key } : {}) }).toString()}`
}
const toWhat = { stage: 'another stage', court: 'another court', area: 'another area', lead: 'another lawyer' }
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      title="Board of matters"
      :hint="moves ? `Drag a matter to ${toWhat[by]}, or focus it and press Shift and an arrow key` : 'Open matters'"
    />
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <Switch
        v-model="by"
        label="By"
        :options="[
          { value: 'stage', text: 'Stage' },
          { value: 'court', text: 'Court' },
          { value: 'area', text: 'Area' },
          { value: 'lead', text: 'Lead lawyer' },
        ]"
      />
      <div class="w-56"><ChoiceField v-model="shown.areaId" label="Practice area" :options="areaChoices" /></div>
    </div>
    <State :loading="loading && !data" :problem="problem" :empty="data?.columns.length === 0" @again="reload()">
      <template #empty>No open matters here.</template>
      <div class="sr-only" role="status">{{ said }}</div>
      <CardBoard label="Board of matters" wide :columns="columns" :moves="moves" @open="router.push(`/matters/${$event.id}`)" @move="move">
        <template #card="{ card }">
          <b class="font-semibold">{{ card.name }}</b>
          <span class="block truncate text-sm text-ink-2">{{ by === 'lead' ? card.number : `${card.number} · ${card.lead}` }}</span>
          <span v-if="card.next" class="block truncate text-sm">{{ dateText(card.next.day) }} {{ card.next.title }}</span>
        </template>
        <template #more="{ column }">
          <RouterLink :to="listOf(column)" class="text-lagoon hover:underline">{{ column.count - column.cards.length }} more</RouterLink>
        </template>
      </CardBoard>
    </State>
  </div>
</template>
