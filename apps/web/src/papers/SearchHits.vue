<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api'
import Pager from '../ui/Pager.vue'
import State from '../ui/State.vue'
import { dayText, momentDay, plural } from '../ui/show'
import { useLoad } from '../use'

/** Papers that have the words, each with the words in their sentence. */
const props = defineProps<{
  q: string
  matterId?: number
  folder?: string
  kind?: string
  from?: string | null
  to?: string | null
  by?: number | null
}>()
defineEmits<{ open: [id: number] }>()
const page = ref(1)
const filter = () => ({
  q: props.q,
  page: page.value,
  size: 30,
  ...(props.matterId ? { matterId: props.matterId } : {}),
  ...(props.folder ? { folder: props.folder } : {}),
  ...(props.kind ? { kind: props.kind } : {}),
  ...(props.by ? { by: props.by } : {}),
  ...(props.from ? { from: props.from } : {}),
  ...(props.to ? { to: props.to } : {}),
})
const { data, problem, loading, reload } = useLoad(() => api.papers.search(filter()), [() => JSON.stringify(filter())])
watch(
  () => props.q,
  () => (page.value = 1),
)
</script>

<template>
  <section :aria-label="`Papers with ${q}`">
    <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
      <template #empty
        >No paper has these words. Each must be in it; put a phrase in quotes, and a star behind the beginning of a word.</template
      >
      <p class="px-4 pt-2.5 text-ink-2" role="status">
        {{ plural(data?.total ?? 0, 'paper') }}<template v-if="data?.more">, and more that were not looked at: say more words</template>
      </p>
      <ol>
        <li v-for="p in data?.rows" :key="p.id" class="border-b border-line-2 px-4 py-2">
          <div class="flex flex-wrap items-baseline gap-x-2">
            <button type="button" class="text-left font-semibold hover:underline" @click="$emit('open', p.id)">{{ p.name }}</button>
            <RouterLink v-if="!matterId" :to="`/matters/${p.matterId}/papers`" class="text-ink-2 hover:underline">{{
              p.matter
            }}</RouterLink>
            <span class="text-ink-3">{{ p.folder }}, {{ p.day ? dayText(p.day) : momentDay(p.madeAt) }}</span>
          </div>
          <p v-for="(s, i) in p.snippets" :key="i" class="text-ink-2">
            <template v-for="(x, k) in s" :key="k"
              ><mark v-if="x.hit" class="bg-bill-wash text-ink">{{ x.text }}</mark
              ><template v-else>{{ x.text }}</template></template
            >
          </p>
        </li>
      </ol>
      <Pager v-model="page" :total="data?.total ?? 0" :size="30" what="papers" />
    </State>
  </section>
</template>
