<script setup lang="ts">
import { ref, watch } from 'vue'
import { type Answer, api, asks } from '../api'
import { useShown } from '../shown'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { momentText } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import State from '../ui/State.vue'
import { useAct } from '../use'

const notes = useNotes()
const { data, problem, loading, reload } = useShown(() => asks.notes.notices.queryOptions())
const { state, act } = useAct()
const choosing = ref(false)
/** What one wants to be told; none until it is read, so that nothing chosen meanwhile is written over. */
const choices = ref<Answer<typeof api.notes.choices> | null>(null)
watch(choosing, async (on) => {
  choices.value = null
  if (on) choices.value = await api.notes.choices()
})
const texts = {
  made: 'Made: tasks, dates, drafts',
  changed: 'Changed: files, stages, teams, dates',
  filed: 'Filed: papers',
  paid: 'Billed and paid',
  said: 'Said: talk, notes, comments',
}
async function save() {
  const own = choices.value
  if (!own || !(await act(() => api.notes.choose({ choices: own })))) return
  choosing.value = false
  await reload()
}
async function seen() {
  if (!data.value) return
  const { upTo } = data.value
  if (!(await act(() => api.notes.noticesSeen({ upTo })))) return
  notes.say('Put away; what happens from now on shows here')
  await reload()
}
</script>

<template>
  <section class="sheet" aria-label="Notices">
    <div class="flex items-center gap-2 px-3.5 pt-3 pb-2">
      <h2>Notices</h2>
      <Btn small class="ml-auto" @click="choosing = true">Choose</Btn>
      <Btn v-if="data?.rows.length" small @click="seen">Put away</Btn>
    </div>
    <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
      <template #empty>Nothing new on the matters you are on or follow.</template>
      <RouterLink
        v-for="n in data?.rows.slice(0, 12)"
        :key="n.id"
        :to="`/matters/${n.matterId}/log`"
        class="block border-t border-line-2 px-3.5 py-1.5 hover:bg-page"
      >
        <span class="line-clamp-2">{{ n.text }}</span>
        <span class="block text-sm text-ink-2">{{ n.matter }} · {{ n.who }}, {{ momentText(n.at) }}</span>
      </RouterLink>
      <p v-if="(data?.rows.length ?? 0) > 12" class="border-t border-line-2 px-3.5 py-1.5 text-ink-2">
        and {{ (data?.rows.length ?? 0) - 12 }} more
      </p>
    </State>
    <SideSheet
      v-if="choosing"
      title="What to be told about"
      save="Save"
      :busy="state.busy"
      :message="state.message"
      :waiting="!choices"
      @save="save"
      @close="choosing = false"
    >
      <p class="text-ink-2">On matters you are on the team of, or follow; what others did, never your own acts.</p>
      <label v-for="c in choices" :key="c.kind" class="flex gap-2 border-t border-line-2 py-1.5"
        ><input v-model="c.told" type="checkbox" class="accent-ink" /> {{ texts[c.kind] }}</label
      >
    </SideSheet>
  </section>
</template>
