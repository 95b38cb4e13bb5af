<script setup lang="ts">
import { api, asks } from '../../api'
import { useShown } from '../../shown'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import SideSheet from '../../ui/SideSheet.vue'
import State from '../../ui/State.vue'
import { dayText, momentText, plural } from '../../ui/show'
import { sure } from '../../ui/question'
import { useAct } from '../../use'

/** Links of a matter for people outside: what each shows, who opened what and when. */
const props = defineProps<{ matterId: number }>()
defineEmits<{ close: [] }>()
const session = useSession()
const { state, act } = useAct()
const { data, problem, loading, reload } = useShown(() => asks.papers.links.queryOptions({ input: { id: props.matterId } }))
const what = { opened: 'opened the link', read: 'read', sent: 'sent' } as Record<string, string>
async function end(id: number) {
  if (!(await sure('End the link', 'Whoever has it sees nothing by it any more; another one must be sent.', 'End it'))) return
  if (await act(() => api.papers.withdrawLink({ id }))) session.changed()
}
</script>

<template>
  <SideSheet title="Links for people outside" wide :message="state.message" @close="$emit('close')">
    <State :loading="loading && !data" :problem="problem" :empty="!data?.length" @again="reload()">
      <template #empty>No links yet. Choose papers and show them to someone outside, or open a folder and do so under More.</template>
      <section v-for="l in data" :key="l.id" class="rounded-sheet border border-line p-3" :aria-label="`Link for ${l.forWhom}`">
        <div class="flex flex-wrap items-center gap-2">
          <h3>{{ l.forWhom }}</h3>
          <span class="text-ink-2">{{ l.email }}</span>
          <span class="rounded-full px-2 text-sm" :class="l.state === 'open' ? 'bg-bill-wash text-bill-ink' : 'bg-mist text-ink-2'">{{
            l.state === 'open' ? `until ${dayText(l.endsOn)}` : l.state
          }}</span>
          <Btn v-if="l.state === 'open'" small class="ml-auto" @click="end(l.id)">End it now</Btn>
        </div>
        <p class="text-ink-2">
          {{ l.folder ? `The folder ${l.folder}` : l.papers.map((p) => p.name).join(', ') || 'Its papers are gone' }}. By
          {{ l.madeBy }}.<template v-if="l.needsCode"> With a code.</template><template v-if="l.mayUpload"> May send files.</template>
        </p>
        <details v-if="l.visits.length" class="mt-1">
          <summary>{{ plural(l.visits.length, 'visit') }}, last {{ momentText(l.visits[0]!.at) }}</summary>
          <ul class="mt-1 max-h-48 overflow-auto text-sm">
            <li v-for="(v, i) in l.visits" :key="i">
              {{ momentText(v.at) }}: {{ what[v.what] }} {{ v.paper ?? '' }} <span class="text-ink-3">from {{ v.address }}</span>
            </li>
          </ul>
        </details>
        <p v-else class="text-sm text-ink-3">Not opened yet.</p>
      </section>
    </State>
  </SideSheet>
</template>
