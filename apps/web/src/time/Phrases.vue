<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '../shell/session'
import PageHead from '../ui/PageHead.vue'
import PhraseList from './PhraseList.vue'
import { useTimeSetUp } from './set-up'
import TimeTabs from './TimeTabs.vue'

const session = useSession()
const setUp = useTimeSetUp()
void setUp.ready()
const firms = computed(() => setUp.phrases.filter((p) => !p.own))
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead title="Phrases" hint="Wordings of time entries that you type again and again" />
    <TimeTabs />
    <div class="grid stacks items-start gap-[18px] lg:grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]">
      <section class="sheet px-4 py-3.5" aria-label="My phrases">
        <h2>Mine</h2>
        <PhraseList :firm="false" />
      </section>
      <section class="sheet px-4 py-3.5" aria-label="Phrases of the firm">
        <h2 class="mb-1">The firm’s</h2>
        <p v-for="p in firms" :key="p.id" class="flex gap-3 border-t border-line-2 py-1">
          <b class="w-16 shrink-0">{{ p.code }}</b><span>{{ p.text }}</span>
        </p>
        <p v-if="!firms.length" class="text-ink-2">The firm has none yet.</p>
        <RouterLink v-if="session.may('firm.set-up')" to="/set-up/time" class="mt-2 inline-block text-lagoon underline"
          >Change them</RouterLink
        >
      </section>
    </div>
  </div>
</template>
