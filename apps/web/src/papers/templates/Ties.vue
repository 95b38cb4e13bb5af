<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { api } from '../../api'
import { useNotes } from '../../shell/notes'
import Btn from '../../ui/Btn.vue'
import TextField from '../../ui/TextField.vue'
import { useForm } from '../../ui/form'
import { useUnsaved } from '../../ui/unsaved'
import { useLoad } from '../../use'

/** What the merge fields of a word processor mean here: each is tied to one of our fields. */
const props = defineProps<{ id: number; version: number; fields: readonly { name: string; tied: string | null }[]; may: boolean }>()
const emit = defineEmits<{ saved: [] }>()
const notes = useNotes()
const { data } = useLoad(() => api.templates.fields({}))
const paths = computed(() => data.value?.fields.filter((f) => f.type !== 'list' && !f.within).map((f) => f.path) ?? [])
const ties = reactive<Record<string, string>>({})
const kept = computed(() => Object.fromEntries(props.fields.map((f) => [f.name, f.tied ?? ''])))
let was = kept.value
const changed = () => Object.entries(ties).some(([name, path]) => path !== (was[name] ?? ''))
// A new version brings fields of its own; what was typed for one of before stays.
watch(
  kept,
  (now) => {
    for (const [name, path] of Object.entries(now)) if (!(name in ties) || ties[name] === was[name]) ties[name] = path
    was = now
  },
  { immediate: true },
)
useUnsaved({ changed })
const { state, fault, send } = useForm(() => api.templates.setTies({ id: props.id, after: props.version, ties: { ...ties } }))

async function save() {
  if (!(await send())) {
    if (state.code === 'changed-meanwhile') emit('saved')
    return
  }
  was = { ...ties }
  notes.say('The merge fields are tied')
  emit('saved')
}
</script>

<template>
  <section class="sheet px-4 py-3.5" aria-label="Merge fields">
    <h2>Merge fields of the document</h2>
    <p class="text-ink-2">Say which field of the record each stands for.</p>
    <div v-for="f in fields" :key="f.name" class="mt-2 grid stacks items-center gap-2 min-[700px]:grid-cols-[180px_minmax(0,1fr)]">
      <code class="font-mono break-words">{{ f.name }}</code>
      <TextField
        v-model="ties[f.name]!"
        :label="`Field for ${f.name}`"
        bare
        :list="paths"
        :fault="fault(`ties.${f.name}`)"
        placeholder="client.name"
      />
    </div>
    <p v-if="state.said" role="alert" class="mt-2 text-rust">{{ state.said }}</p>
    <Btn v-if="may" class="mt-3" main :busy="state.busy" @click="save">Tie them</Btn>
  </section>
</template>
