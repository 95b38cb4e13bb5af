<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref, watch } from 'vue'
import { api } from '../api'
import PageHead from '../ui/PageHead.vue'
import Pager from '../ui/Pager.vue'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'
import PaperTable from './PaperTable.vue'

const q = ref('')
const page = ref(1)
const { data, problem, loading, reload } = useLoad(() => api.papers.list({ q: q.value, page: page.value, size: 50 }), [page])
const { data: templates } = useLoad(() => api.papers.templates())
watch(
  q,
  useDebounceFn(() => ((page.value = 1), void reload()), 150),
)
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Papers" hint="Of all matters open to you, newest first. Papers are made and filed from their matter." />
    <div class="grid stacks gap-[18px] xl:grid-cols-[minmax(0,1fr)_340px]">
      <div>
        <div class="mb-3"><TextField v-model="q" label="Find by name" /></div>
        <section class="sheet" aria-label="Papers">
          <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
            <template #empty>No papers by that name.</template>
            <PaperTable :rows="data?.rows ?? []" show-matter />
            <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="papers" />
          </State>
        </section>
      </div>
      <section class="sheet self-start px-4 py-3.5" aria-label="Templates">
        <h2 class="mb-1">Templates</h2>
        <div v-for="t in templates" :key="t.id" class="border-t border-line-2 py-2">
          <b>{{ t.name }}</b>
          <p class="text-ink-2">{{ t.description }}</p>
          <p class="text-sm text-ink-3">Fields: {{ t.fields.join(', ') }}</p>
        </div>
      </section>
    </div>
  </div>
</template>
