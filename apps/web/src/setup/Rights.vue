<script setup lang="ts">
import { parts, presetOfRole, rights, rightsOfRole, rightWords, roles, type Part } from '@heron/contract'
import { api } from '../api'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'

const { data: people } = useLoad(() => api.firm.people())
const has = (role: (typeof roles)[number]) => (people.value ?? []).filter((p) => p.active && p.role === role)
const partNames: Record<Part, string> = {
  file: 'The file and its people',
  docket: 'Docket',
  papers: 'Papers',
  money: 'Time and bills',
  trust: 'Trust',
}
const level = ['nothing', 'see', 'change']
const title = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
</script>

<template>
  <SetUpPage hint="A right comes with the role; each matter narrows it further. Roles are given under People and rates.">
    <section class="sheet overflow-x-auto" aria-label="Rights by role">
      <table class="list-table">
        <thead>
          <tr>
            <th>What one may do at all</th>
            <th v-for="r in roles" :key="r" class="text-center!">{{ title(r) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="right in rights" :key="right">
            <td>{{ rightWords[right] }}</td>
            <td v-for="r in roles" :key="r" class="text-center">
              <span v-if="rightsOfRole[r].includes(right)">yes</span><span v-else class="text-ink-3">–</span>
            </td>
          </tr>
          <tr>
            <td class="text-ink-2">Who has the role</td>
            <td v-for="r in roles" :key="r" class="text-center text-sm text-ink-2">
              {{
                has(r)
                  .map((p) => p.initials)
                  .join(', ') || '–'
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="sheet mt-[18px] overflow-x-auto" aria-label="On a team">
      <h2 class="px-4 pt-3 pb-1">On the team of a matter, unless chosen otherwise</h2>
      <table class="list-table">
        <thead>
          <tr>
            <th>Part</th>
            <th v-for="r in roles" :key="r" class="text-center!">{{ title(r) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in parts" :key="p">
            <td>{{ partNames[p] }}</td>
            <td v-for="r in roles" :key="r" class="text-center" :class="{ 'text-ink-3': !presetOfRole[r][p] }">
              {{ level[presetOfRole[r][p]] }}
            </td>
          </tr>
        </tbody>
      </table>
      <p class="px-4 pt-2 pb-3 text-ink-2">
        Whoever is not on a team has what the practice area gives all staff. The docket clerk sees every date and the bookkeeper every
        account. A wall comes before all of it.
      </p>
    </section>
  </SetUpPage>
</template>
