<script setup lang="ts">
import type { Day } from '@heron/core/calendar'
import { paperKinds } from '@heron/contract'
import { computed, reactive, ref, watch } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { dayText, momentText, plural } from '../../ui/show'
import { useForm } from '../../ui/form'
import { useLoad } from '../../use'
import { sizeText } from '../show'

/** What is said of a paper, its versions, what it was made from, who was asked to read it. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { data: p, reload } = useLoad(() => api.papers.one({ id: props.id }))
const made = useLoad(() => api.templates.made({ id: props.id }).catch(() => null))
const form = reactive({ name: '', kind: '', author: '', day: null as Day | null, tags: '', note: '' })
const was = ref('')
watch(p, (now) => {
  if (!now || was.value) return
  Object.assign(form, { name: now.name, kind: now.kind, author: now.author, day: now.day, tags: now.tags.join(', '), note: now.note })
  was.value = JSON.stringify(form)
})
const changed = computed(() => was.value !== '' && JSON.stringify(form) !== was.value)
const kinds = computed(() => [
  { value: '', text: 'Not said' },
  ...[...new Set([...paperKinds, ...(form.kind ? [form.kind] : [])])].map((k) => ({ value: k as string, text: k })),
])
const { state, act, fault, send } = useForm(() => {
  const tags = form.tags.split(',').map((t) => t.trim()).filter(Boolean) // prettier-ignore
  return api.papers.change({ ...form, id: props.id, tags, rowVersion: p.value!.rowVersion })
})
async function save() {
  if (!(await send())) return
  notes.say('Saved')
  session.changed()
  emit('close')
}
const compare = reactive({ from: 0, to: 0, pieces: null as { text: string; how: string }[] | null, cut: false })
async function showChanges(from: number, to: number) {
  const found = await act(() => api.papers.compare({ id: props.id, from, to }))
  if (found) Object.assign(compare, { from, to, pieces: found.pieces, cut: found.cut })
}
async function current(number: number) {
  if (!(await act(() => api.papers.makeCurrent({ id: props.id, number })))) return
  notes.say(`Version ${number} is the current one again`)
  session.changed()
  await reload()
}
const looks: Record<string, string> = { same: '', added: 'bg-lagoon-wash', gone: 'bg-rust-wash line-through' }
/** Long stretches that did not change are cut to their ends. */
const short = (text: string) => (text.length > 240 ? `${text.slice(0, 110)} … ${text.slice(-110)}` : text)
</script>

<template>
  <SideSheet
    v-bind="p?.mayChange ? { save: 'Save' } : {}"
    :title="p?.name ?? 'Paper'"
    wide
    :waiting="!was"
    :busy="state.busy"
    :message="state.said"
    :changed="changed"
    @save="save"
    @close="emit('close')"
  >
    <template v-if="p">
      <p v-if="made.data.value?.changed.length" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">
        <b>The record has changed since this paper was made.</b>
        <span v-for="c in made.data.value.changed" :key="c.path" class="block"
          >{{ c.label }}: {{ c.was || 'nothing' }} → {{ c.is || 'nothing' }}</span
        >
        <RouterLink :to="`/matters/${p.matterId}/make?again=${p.id}`" class="font-semibold underline">Make it again</RouterLink>
      </p>
      <fieldset :disabled="!p.mayChange" class="grid stacks grid-cols-2 gap-3">
        <div class="col-span-2"><TextField v-model="form.name" label="Name" :fault="fault('name')" autofocus /></div>
        <ChoiceField v-model="form.kind" label="Kind" :options="kinds" :fault="fault('kind')" />
        <DayField v-model="form.day" label="Date of the paper" optional :fault="fault('day')" />
        <TextField v-model="form.author" label="Author" optional :fault="fault('author')" />
        <TextField v-model="form.tags" label="Tags, with commas" optional :fault="fault('tags')" />
        <div class="col-span-2"><TextField v-model="form.note" label="Note" optional :lines="2" :fault="fault('note')" /></div>
      </fieldset>
      <p class="text-ink-2">
        In {{ p.folder }}. Filed by {{ p.madeBy }}, {{ momentText(p.madeAt)
        }}<template v-if="p.template">, made from {{ p.template }}</template
        >.
        <template v-if="p.words === 'none'"> It has no text, so its words cannot be found.</template>
        <template v-if="p.out"> Checked out to {{ p.out.name }} since {{ momentText(p.out.at) }}.</template>
        <template v-if="p.uses.length"> {{ p.uses.join(', ') }} hangs on it.</template>
        <template v-if="p.ofMail"> Came with {{ p.ofMail.name }}.</template>
        <template v-if="p.parts.length"> With it came {{ p.parts.map((x) => x.name).join(', ') }}.</template>
      </p>
      <section aria-label="Versions">
        <h3>Versions</h3>
        <ul>
          <li v-for="v in p.versions" :key="v.number" class="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-line-2 py-1.5">
            <b>{{ v.number }}</b><span v-if="v.current" class="rounded-full bg-mist px-2 text-sm">current</span>
            <span class="min-w-0 flex-1"
              >{{ v.why }} <span class="text-ink-2">{{ v.madeBy }}, {{ momentText(v.madeAt) }}, {{ sizeText(v.size) }}</span></span
            >
            <a
              :href="`/api/papers/${p.id}/file?version=${v.number}`"
              target="_blank"
              rel="noopener"
              class="text-lagoon underline"
              :aria-label="`Open version ${v.number}`"
              >Open</a
            >
            <Btn v-if="!v.current" small @click="showChanges(v.number, p.version)">Compare</Btn>
            <Btn v-if="!v.current && p.mayChange" small @click="current(v.number)">Make it current</Btn>
          </li>
        </ul>
        <div
          v-if="compare.pieces"
          class="mt-2 max-h-72 overflow-auto rounded-control border border-line bg-page p-3 whitespace-pre-wrap"
          tabindex="0"
          role="region"
          :aria-label="`Version ${compare.from} beside ${compare.to}`"
        >
          <span v-for="(x, i) in compare.pieces" :key="i" :class="looks[x.how]"
            ><span v-if="x.how !== 'same'" class="sr-only">{{ x.how }}: </span>{{ x.how === 'same' ? short(x.text) : x.text }}</span
          >
          <p v-if="compare.cut" class="mt-2 text-ink-3">Only the first 60,000 letters are compared.</p>
        </div>
      </section>
      <section v-if="p.reviews.length" aria-label="Readers">
        <h3>Asked to read it</h3>
        <p v-for="r in p.reviews" :key="r.id" class="border-t border-line-2 py-1.5">
          <b>{{ r.to }}</b> {{ r.state === 'asked' ? `is asked by ${r.from}` : r.state
          }}<template v-if="r.dueOn">, by {{ dayText(r.dueOn) }}</template
          >, version {{ r.version }}. <span v-if="r.message" class="text-ink-2">{{ r.message }}</span><span
            v-if="r.remarks"
            class="block whitespace-pre-line"
            >{{ r.remarks }}</span
          >
        </p>
      </section>
      <p v-if="p.links.length" class="text-bill-ink">
        People outside see it: {{ p.links.map((l) => `${l.forWhom}, until ${dayText(l.endsOn)}`).join('; ') }}.
      </p>
      <p v-if="p.versions.length > 1" class="sr-only">{{ plural(p.versions.length, 'version') }}</p>
    </template>
  </SideSheet>
</template>
