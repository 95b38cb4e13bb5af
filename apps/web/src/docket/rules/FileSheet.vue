<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, type Answer } from '../../api'
import { useNotes } from '../../shell/notes'
import { useSession } from '../../shell/session'
import Field from '../../ui/Field.vue'
import { plural } from '../../ui/show'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { useAct } from '../../use'

/** A rule set as its file: brought in, or written; told what is wrong where before it is kept. */
/** `after`: the edition from which the text was begun. */
const props = defineProps<{ start?: string; title?: string; after?: number }>()
const emit = defineEmits<{ close: []; saved: [key: string] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const file = ref(props.start ?? '')
const note = ref('')
const checked = ref<Answer<typeof api.rules.check> | null>(null)
watch(file, () => (checked.value = null))

async function choose(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (chosen) file.value = await chosen.text()
}
async function save() {
  if (!checked.value?.found) {
    const asked = file.value
    const got = await act(() => api.rules.check({ file: asked }))
    // What was written meanwhile has not been checked.
    if (asked === file.value) checked.value = got
    return
  }
  const found = checked.value.found
  const done = await act(() => api.rules.save({ file: file.value, note: note.value, after: props.after ?? found.no }))
  if (!done) return
  notes.say(`${found.title} kept; no docketed date moved`)
  session.changed()
  emit('saved', done.key)
}
</script>

<template>
  <SideSheet
    :title="title ?? 'Bring in rules'"
    wide
    :save="checked?.found ? 'Keep these rules' : 'Check the file'"
    :busy="state.busy"
    :message="state.said"
    :changed="file !== (start ?? '')"
    @save="save"
    @close="emit('close')"
  >
    <p class="text-ink-2">Rule sets are JSON files in an open format. Nothing is kept before you have seen what is in the file.</p>
    <Field v-if="!start" v-slot="{ id, described }" label="File">
      <input
        :id="id"
        type="file"
        accept=".json,application/json"
        class="control h-auto! py-1.5"
        :aria-describedby="described"
        @change="choose"
      />
    </Field>
    <TextField
      v-model="file"
      label="Its text"
      :lines="start ? 18 : 10"
      :fault="fault('file')"
      class="[&_textarea]:font-mono [&_textarea]:text-[12.5px]"
    />
    <section v-if="checked?.faults.length" aria-label="What is wrong" role="alert" class="rounded-control bg-rust-wash px-3 py-2.5">
      <h3 class="text-rust">{{ plural(checked.faults.length, 'thing') }} to put right</h3>
      <ul class="mt-1 space-y-1">
        <li v-for="(f, i) in checked.faults.slice(0, 50)" :key="i">
          <code class="text-[12.5px] text-ink-2">{{ f.where }}</code><br />{{ f.what }}
        </li>
      </ul>
      <p v-if="checked.faults.length > 50" class="mt-1">and {{ checked.faults.length - 50 }} more.</p>
    </section>
    <section v-if="checked?.found" aria-label="What is in the file" class="space-y-2">
      <h3>{{ checked.found.title }}</h3>
      <p class="text-ink-2">
        {{ checked.found.court }}, edition {{ checked.found.edition }}: {{ plural(checked.found.triggers, 'event') }},
        {{ plural(checked.found.deadlines, 'deadline') }}.
      </p>
      <template v-if="checked.found.against">
        <p
          v-for="[word, list] in [
            ['New', checked.found.against.added],
            ['Changed', checked.found.against.changed],
            ['Gone', checked.found.against.gone],
          ] as const"
          v-show="list.length"
          :key="word"
        >
          <b class="font-semibold">{{ word }}:</b> {{ list.join('; ') }}
        </p>
        <p v-if="!checked.found.against.added.length && !checked.found.against.changed.length && !checked.found.against.gone.length">
          Its deadlines are those in force here.
        </p>
      </template>
      <p v-else>These rules are new here.</p>
      <p v-for="w in checked.warnings" :key="w" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">{{ w }}</p>
      <TextField v-model="note" label="Why" optional hint="Stands beside the edition" />
    </section>
  </SideSheet>
</template>
