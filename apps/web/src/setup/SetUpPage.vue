<script setup lang="ts">
import { useRoute } from 'vue-router'
import PageHead from '../ui/PageHead.vue'

/** A page of the set-up: all parts at the left, its own acts in the head. */
withDefaults(defineProps<{ title?: string; hint?: string }>(), { title: 'Set-up' })
const route = useRoute()
const parts = [
  {
    name: 'The firm',
    pages: [
      { to: '/set-up', name: 'Firm and numbers' },
      { to: '/set-up/letterhead', name: 'Letterhead' },
      { to: '/set-up/letters', name: 'Letters' },
      { to: '/set-up/bill-letters', name: 'Letters about bills' },
      { to: '/set-up/accounts', name: 'Accounts' },
      { to: '/set-up/reminders', name: 'Reminders' },
    ],
  },
  {
    name: 'People',
    pages: [
      { to: '/set-up/people', name: 'People and rates' },
      { to: '/set-up/rights', name: 'Rights by role' },
      { to: '/set-up/leave', name: 'Leave and departure' },
      { to: '/set-up/walls', name: 'Walls' },
    ],
  },
  {
    name: 'Work',
    pages: [
      { to: '/set-up/areas', name: 'Areas and stages' },
      { to: '/set-up/fields', name: 'Fields' },
      { to: '/set-up/procedures', name: 'Procedures' },
      { to: '/set-up/folders', name: 'Folders' },
      { to: '/set-up/lists', name: 'Lists and fees' },
      { to: '/set-up/time', name: 'Time and phrases' },
    ],
  },
  {
    name: 'Keeping',
    pages: [
      { to: '/set-up/log', name: 'Log of the firm' },
      { to: '/set-up/background', name: 'In the background' },
      { to: '/set-up/backups', name: 'Backups' },
    ],
  },
]
const here = (to: string) => route.path === to || (to !== '/set-up' && route.path.startsWith(`${to}/`))
</script>

<template>
  <div class="page px-6 pt-[18px]">
    <PageHead :title="title" :hint="hint"><slot name="acts"></slot></PageHead>
    <div class="grid stacks gap-5 md:grid-cols-[150px_minmax(0,1fr)]">
      <nav aria-label="Parts of the set-up" class="flex flex-wrap gap-x-5 gap-y-3 self-start md:block md:space-y-3.5">
        <div v-for="p in parts" :key="p.name">
          <p class="text-sm text-ink-2">{{ p.name }}</p>
          <RouterLink
            v-for="t in p.pages"
            :key="t.to"
            :to="t.to"
            :aria-current="here(t.to) ? 'page' : undefined"
            class="block border-l-2 py-[3px] pl-2.5"
            :class="here(t.to) ? 'border-l-bill font-semibold text-ink' : 'border-l-line text-ink-2 hover:text-ink'"
            >{{ t.name }}</RouterLink
          >
        </div>
      </nav>
      <div class="min-w-0"><slot></slot></div>
    </div>
  </div>
</template>
