<script setup lang="ts">
import { ref } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { dayText, plural } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import WeightMark from '../ui/WeightMark.vue'
import { useAct } from '../use'

/** What the rules give for an event on file and its docket does not have yet: added to the rules since, or known only now. */
const props = defineProps<{ matterId: number; trigger: Answer<typeof api.docket.triggers>['triggers'][number] }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const take = ref(props.trigger.missing.map((p) => p.key))

async function save() {
  const seen = props.trigger.missing.map((p) => ({ key: p.key, date: p.date! }))
  const done = await act(() => api.docket.addMissing({ id: props.matterId, triggerId: props.trigger.id, take: take.value, seen }))
  if (!done) return
  notes.say(`${plural(done.docketed, 'date')} docketed`, {
    label: 'Undo',
    act: async () => {
      const back = await act(() => api.docket.undo({ id: done.changeId }))
      notes.say(back ? 'Undone' : state.message)
      session.changed()
    },
  })
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`More dates of ${trigger.label}`"
    wide
    :save="take.length ? `Docket ${plural(take.length, 'date')}` : 'Leave them out'"
    :busy="state.busy"
    :message="state.message"
    @save="save"
    @close="emit('close')"
  >
    <p class="text-ink-2">The rules give these too; they are not on the docket yet. What you leave out stays visible as left out.</p>
    <div v-for="p in trigger.missing" :key="p.key" class="grid grid-cols-[24px_112px_16px_1fr] border-t border-line-2">
      <input v-model="take" type="checkbox" :value="p.key" class="mt-2.5 h-[15px] w-[15px] accent-ink" :aria-label="`Docket ${p.title}`" />
      <b class="py-2 pr-2.5 text-right font-semibold whitespace-nowrap">{{ dayText(p.date!) }}</b>
      <WeightMark :weight="p.weight" />
      <span class="px-2.5 py-2">
        <b class="font-semibold">{{ p.title }}</b>
        <span class="block text-ink-2">{{ p.authority }} · {{ p.howCounted }}</span>
        <span class="block">{{ p.text }}</span>
      </span>
    </div>
  </SideSheet>
</template>
