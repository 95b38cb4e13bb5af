<script setup lang="ts">
import { boardGroups } from '@heron/contract'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { VueDraggable } from 'vue-draggable-plus'
import { useAddress } from '../address'
import { api, ApiProblem, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import PageHead from '../ui/PageHead.vue'
import { dateText, plural } from '../ui/show'
import State from '../ui/State.vue'
import Switch from '../ui/Switch.vue'
import { useLoad } from '../use'

/** Open matters as cards, by stage, court, area or lead lawyer. Within an area they move from stage to stage. */
type Column = Answer<typeof api.oversight.board>['columns'][number]
type Card = Column['cards'][number]
const session = useSession()
const notes = useNotes()
const router = useRouter()
const shown = useAddress({ by: 'stage', areaId: '' }, ['by', 'areaId'])
const by = computed({ get: () => shown.by as (typeof boardGroups)[number], set: (v) => (shown.by = v) })
const { data: setting } = useLoad(() => api.matters.setting())
// Stages are of an area; the first is taken until another is chosen.
watch([setting, by], ([s, b]) => {
  if (b === 'stage' && !shown.areaId && s?.areas[0]) shown.areaId = String(s.areas[0].id)
})
const { data, problem, loading, reload } = useLoad(
  () => api.oversight.board({ by: by.value, ...(shown.areaId ? { areaId: Number(shown.areaId) } : {}) }),
  [by, () => shown.areaId, () => session.tick],
)
const columns = ref<Column[]>([])
watch(data, (d) => (columns.value = (d?.columns ?? []).map((c) => ({ ...c, cards: [...c.cards] }))))
const moves = computed(() => by.value === 'stage' && Boolean(shown.areaId) && session.may('matters.open'))
const said = ref('')
async function move(card: Card, to: Column) {
  const was = card.stageId
  try {
    await api.matters.setStage({ id: card.id, stageId: Number(to.key) })
    said.value = `${card.name} is at ${to.name} now`
    notes.say(
      said.value,
      was ? { label: 'Undo', act: () => api.matters.setStage({ id: card.id, stageId: was }).then(session.changed) } : undefined,
    )
  } catch (error) {
    notes.say(error instanceof ApiProblem ? error.message : 'This could not be done. Nothing was changed.')
  }
  await reload()
}
function dropped(column: Column) {
  const moved = column.cards.find((c) => String(c.stageId ?? '') !== column.key)
  if (!moved) return
  // Nothing is taken back to no stage at all.
  if (column.key) void move(moved, column)
  else void reload()
}
/** Arrow keys move a matter to the stage on the left or right, and go up and down within one. */
function keys(event: KeyboardEvent, column: Column, card: Card) {
  const at = column.cards.indexOf(card)
  const up = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0
  if (up) {
    event.preventDefault()
    document.querySelector<HTMLElement>(`[data-card="${column.cards[at + up]?.id}"]`)?.focus()
    return
  }
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  const to = columns.value[columns.value.indexOf(column) + step]
  if (!step || !to) return
  event.preventDefault()
  if (!moves.value) return document.querySelector<HTMLElement>(`[data-card="${to.cards[0]?.id}"]`)?.focus()
  if (!to.key) return
  void move(card, to).then(() => window.setTimeout(() => document.querySelector<HTMLElement>(`[data-card="${card.id}"]`)?.focus(), 50))
}
const areaChoices = computed(() => [
  ...(by.value === 'stage' ? [] : [{ value: '', text: 'Every area' }]),
  ...(setting.value?.areas ?? []).map((a) => ({ value: String(a.id), text: a.name })),
])
const listOf = (c: Column) => {
  const name = { stage: 'stageId', court: 'court', area: 'areaId', lead: 'leadId' }[by.value]
  return `/matters?${new URLSearchParams({ ...(shown.areaId ? { areaId: shown.areaId } : {}), ...(c.key ? { [name]: c.key } : {}) }).toString()}`
}
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead
      title="Board of matters"
      :hint="moves ? 'Drag a matter to another stage, or focus it and press an arrow key' : 'Open matters'"
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
      <div class="flex gap-3 overflow-x-auto pb-4" tabindex="0" role="region" aria-label="Board of matters">
        <section v-for="c in columns" :key="c.key" class="sheet max-w-[340px] min-w-[224px] flex-1 self-start" :aria-label="c.name">
          <h2 class="border-b border-line-2 px-3 py-2 text-base">
            {{ c.name }} <span class="block font-sans text-sm text-ink-2">{{ plural(c.count, 'matter') }}</span>
          </h2>
          <VueDraggable v-model="c.cards" group="matters" :animation="120" class="min-h-24 p-2" :disabled="!moves" @add="dropped(c)">
            <button
              v-for="m in c.cards"
              :key="m.id"
              type="button"
              :data-card="m.id"
              class="mb-1.5 block w-full rounded-control border border-line bg-paper px-2.5 py-1.5 text-left hover:bg-page"
              :class="moves && 'cursor-grab'"
              @click="router.push(`/matters/${m.id}`)"
              @keydown="keys($event, c, m)"
            >
              <b class="font-semibold">{{ m.name }}</b>
              <span class="block truncate text-sm text-ink-2">{{ m.number }} · {{ m.lead }}</span>
              <span v-if="m.next" class="block truncate text-sm">{{ dateText(m.next.day) }} {{ m.next.title }}</span>
            </button>
          </VueDraggable>
          <p v-if="c.count > c.cards.length" class="px-3 pb-2 text-sm">
            <RouterLink :to="listOf(c)" class="text-lagoon hover:underline">{{ c.count - c.cards.length }} more</RouterLink>
          </p>
        </section>
      </div>
    </State>
  </div>
</template>
