<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import Picker, { type Choice } from './Picker.vue'

/** Several of a list: what is chosen stands below as it is taken, and goes at a press. */
const model = defineModel<number[]>({ required: true })
const props = defineProps<{
  label: string
  options: readonly Choice[]
  /** Finds more than there are options, where those are only the first of many. */
  find?: ((q: string) => Promise<Choice[]>) | undefined
  fault?: string
  hint?: string
  optional?: boolean
  autofocus?: boolean
}>()
const taken = ref<Choice | null>(null)
/** What was found and taken here keeps its name, though it is none of the options. */
const named = ref<Choice[]>([])
watch(taken, (c) => {
  if (!c) return
  named.value = [...named.value, c]
  model.value = [...model.value, c.id]
  taken.value = null
})
const chosen = computed(() => model.value.flatMap((id) => [...props.options, ...named.value].find((o) => o.id === id) ?? []))
async function search(q: string): Promise<Choice[]> {
  if (props.find && q.trim()) return (await props.find(q)).filter((o) => !model.value.includes(o.id))
  return props.options.filter(
    (o) =>
      !model.value.includes(o.id) &&
      q
        .toLowerCase()
        .split(/\s+/)
        .every((w) => o.text.toLowerCase().includes(w)),
  )
}
const drop = (id: number) => (model.value = model.value.filter((x) => x !== id))
</script>

<template>
  <div>
    <Picker
      v-model="taken"
      :label="label"
      :search="search"
      :again="[options, model]"
      listed
      :fault="fault"
      :hint="hint"
      :optional="optional"
      :autofocus="autofocus"
    />
    <ul v-if="chosen.length" class="mt-1.5 flex flex-wrap gap-1.5" :aria-label="`${label}: chosen`">
      <li v-for="c in chosen" :key="c.id" class="flex items-center gap-1 rounded-control bg-plume-wash py-0.5 pr-1 pl-2 text-plume">
        {{ c.text }}
        <button type="button" class="h-6 w-6 font-semibold" :aria-label="`Take ${c.text} out`" @click="drop(c.id)">×</button>
      </li>
    </ul>
  </div>
</template>
