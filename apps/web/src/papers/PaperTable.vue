<script setup lang="ts">
import type { api, Answer } from '../api'
import { momentText } from '../ui/show'

/** `dates`: from a paper, such as an order, dates can be worked out. */
defineProps<{ rows: Answer<typeof api.papers.list>['rows']; showMatter?: boolean; dates?: boolean }>()
const sizeText = (n: number) => (n > 900_000 ? `${(n / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1000))} kB`)
</script>

<template>
  <table class="list-table">
    <thead>
      <tr>
        <th>Name</th>
        <th v-if="showMatter">Matter</th>
        <th>Folder</th>
        <th>By</th>
        <th>When</th>
        <th class="num">Size</th>
        <th v-if="dates"><span class="sr-only">Work out dates</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in rows" :key="p.id" class="open-on">
        <td>
          <a :href="`/api/papers/${p.id}/file`" target="_blank" rel="noopener" class="font-semibold hover:underline">{{ p.name }}</a><span
            v-if="p.template"
            class="text-ink-2"
          >
            from {{ p.template }}</span
          >
        </td>
        <td v-if="showMatter">
          <RouterLink :to="`/matters/${p.matterId}/papers`" class="hover:underline">{{ p.matter }}</RouterLink>
        </td>
        <td class="text-ink-2">{{ p.folder }}</td>
        <td class="whitespace-nowrap text-ink-2">{{ p.madeBy }}</td>
        <td class="whitespace-nowrap text-ink-2">{{ momentText(p.madeAt) }}</td>
        <td class="num text-ink-2">{{ sizeText(p.size) }}</td>
        <td v-if="dates" class="text-right">
          <RouterLink
            :to="`/matters/${p.matterId}/docket?work=1&paper=${p.id}`"
            class="whitespace-nowrap text-lagoon hover:underline"
            :aria-label="`Work out dates from ${p.name}`"
            >Dates</RouterLink
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>
