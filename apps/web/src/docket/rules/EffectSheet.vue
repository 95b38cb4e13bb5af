<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import { dayText, plural } from '../../ui/show'
import SideSheet from '../../ui/SideSheet.vue'
import State from '../../ui/State.vue'
import WeightMark from '../../ui/WeightMark.vue'
import { useAct, useLoad } from '../../use'
import Differences from '../Differences.vue'

/** What the rules in force count otherwise than open dockets have it: shown, then taken in one act. */
const props = defineProps<{ setKey: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const { data, problem, loading, reload } = useLoad(() => api.rules.effect({ key: props.setKey }))
const asking = ref(false)
const words = (moves: number, adds: number) =>
  [moves ? `move ${plural(moves, 'date')}` : '', adds ? `docket ${plural(adds, 'date')}` : ''].filter(Boolean).join(' and ')
const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)

async function take() {
  const d = data.value
  if (!d) return
  const done = await act(() => api.rules.takeEffect({ key: props.setKey, moves: d.moves, adds: d.adds }))
  if (!done) return void (asking.value = false)
  notes.say(`${plural(done.moved, 'date')} moved, ${plural(done.added, 'date')} docketed; each matter’s Docket can undo its own`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    light
    title="What these rules change on dockets"
    wide
    :save="data && data.moves + data.adds ? capital(words(data.moves, data.adds)) : undefined"
    :busy="state.busy"
    :message="state.message"
    @save="take"
    @close="emit('close')"
  >
    <State :loading="loading" :problem="problem" @again="reload()">
      <template v-if="data">
        <p v-if="!data.matters.length">Every open docket stands as these rules count it.</p>
        <p v-else class="text-ink-2">
          Nothing has moved. Dates set by hand or by the court, and those met, waived or vacated, stay. To take some matters and not others,
          open a matter’s Docket and count it again.
        </p>
        <div v-for="m in data.matters" :key="m.matterId" class="-mx-5 mt-3">
          <p class="px-5 pb-1">
            <RouterLink class="font-semibold text-lagoon hover:underline" :to="`/matters/${m.matterId}/docket`"
              >{{ m.number }} {{ m.name }}</RouterLink
            >
          </p>
          <Differences v-if="m.differences.length" :model-value="[]" :list="m.differences" shown-only />
          <div v-for="p in m.adds" :key="p.key + p.date" class="grid grid-cols-[148px_16px_1fr] border-t border-line-2">
            <b class="py-[7px] pr-2.5 text-right font-semibold">{{ dayText(p.date!) }}</b>
            <WeightMark :weight="p.weight" />
            <span class="px-2.5 py-[7px]"
              ><b class="font-semibold">{{ p.title }}</b> <span class="tag ml-1 bg-lagoon-wash text-lagoon">new</span
              ><span class="block text-ink-2">{{ p.howCounted }}</span></span
            >
          </div>
        </div>
      </template>
    </State>
  </SideSheet>
</template>
