<script setup lang="ts">
import { counted } from '@heron/core/words'
import { showMoney } from '@heron/core/money'
import { ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import SideSheet from '../ui/SideSheet.vue'
import { useAct, useLatest, useLoad } from '../use'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

const props = defineProps<{ id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act } = useAct()
const { data: alike } = useLoad(() => api.people.alike({ id: props.id }))
const other = ref<Choice | null>(null)
const preview = ref<Answer<typeof api.people.mergePreview> | null>(null)
/** What a merge would do to trust money, and who may do it. */
function trustWords(t: NonNullable<Answer<typeof api.people.mergePreview>['trust']>): string {
  const what = t.ledgers
    ? `${counted(t.ledgers, 'trust ledger')}${t.held === null ? '' : ` with ${showMoney(t.held)}`} would come under the name ${props.name}.`
    : `Trust money of ${props.name} could then pay what the other record is billed.`
  if (!t.may) return `${what} Only those who keep the trust accounts may do that.`
  if (!t.second) return what
  if (t.askedByYou) return `${what} The names differ; you have asked for this merge, and a second person must confirm it.`
  return t.askedBy
    ? `${what} The names differ. ${t.askedBy} has asked for this merge; if you confirm it, it is done.`
    : `${what} The names differ, so that a second person must confirm it before it is done.`
}
// Only what this very merge would do stands beside it.
const { run } = useLatest()
watch(other, (o) => {
  preview.value = null
  run(async (current) => {
    const got = o && (await act(() => api.people.mergePreview({ id: props.id, otherId: o.id })))
    if (got && current()) preview.value = got
    return true
  })
})
async function save() {
  if (!other.value) return
  const done = await act(() => api.people.merge({ id: props.id, otherId: other.value!.id }))
  if (!done) return
  notes.say(
    done.merged
      ? `${other.value.text} is merged into ${props.name}`
      : `Nothing is merged yet: a second person who keeps the trust accounts opens this merge and confirms it`,
  )
  session.changed()
  emit('close')
}
type Differs = NonNullable<typeof preview.value>['differs'][number]
const columns: Column<Differs>[] = [
  { key: 'what', text: 'What', size: 110, quiet: true, wrap: true, narrow: 'title' },
  { key: 'kept', text: 'Stays', wrap: true },
  { key: 'other', text: 'Goes', wrap: true },
]
</script>

<template>
  <SideSheet
    :title="`Merge into ${name}`"
    save="Merge the two records"
    :busy="state.busy"
    :message="state.message"
    :disabled="!preview || preview.trust?.may === false || preview.trust?.askedByYou"
    @save="save"
    @close="emit('close')"
  >
    <Picker
      v-model="other"
      label="The other record"
      :search="searchContacts"
      hint="It is no longer listed afterwards; everything it has comes here."
      autofocus
    />
    <section v-if="alike?.length && !other" aria-label="Records that may be the same">
      <h3 class="mb-1 text-sm font-medium text-ink-2">May be the same</h3>
      <button
        v-for="a in alike"
        :key="a.id"
        type="button"
        class="block w-full border-t border-line-2 py-1.5 text-left hover:bg-page"
        @click="other = { id: a.id, text: a.name }"
      >
        <b>{{ a.name }}</b> <span class="text-ink-2">{{ a.reason }}</span>
      </button>
    </section>
    <template v-if="preview">
      <h3 class="mt-2 font-serif text-base font-semibold">What moves here</h3>
      <p v-if="!preview.moves.length" class="text-ink-2">Nothing: the other record is in no matter and has nothing of its own.</p>
      <div v-for="m in preview.moves" :key="m.what" class="flex border-t border-line-2 py-1">
        <span>{{ m.what }}</span><b class="ml-auto">{{ m.count }}</b>
      </div>
      <template v-if="preview.differs.length">
        <h3 class="mt-3 font-serif text-base font-semibold">What differs</h3>
        <DataTable label="What differs" name="merge" plain :rows="preview.differs" :columns="columns" :row-id="(d) => d.what">
          <template #cell-other="{ row: d }"
            >{{ d.other }}<span class="block text-sm text-ink-2">{{ d.goes }}</span></template
          >
        </DataTable>
      </template>
      <p v-if="preview.trust" class="mt-3 rounded-control bg-rust-wash px-3 py-2 text-rust" role="note">
        {{ trustWords(preview.trust) }}
      </p>
      <p class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
        Merging cannot be undone. Bills already issued keep the name they bear.
      </p>
    </template>
  </SideSheet>
</template>
