<script setup lang="ts">
import { parts, presetOfRole, rights, rightsOfRole, rightWords, roles, type Part } from '@heron/contract'
import { computed } from 'vue'
import { api } from '../api'
import { useLoad } from '../use'
import SetUpPage from './SetUpPage.vue'
import DataTable from '../ui/DataTable.vue'
import type { Column } from '../ui/table/columns'

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
type Role = (typeof roles)[number]
interface Row {
  key: string
  text: string
  of: Record<Role, string>
}
const ofRoles = (of: (role: Role) => string) => Object.fromEntries(roles.map((r) => [r, of(r)])) as Record<Role, string>
const rightRows = computed((): Row[] => [
  ...rights.map((right) => ({ key: right, text: rightWords[right], of: ofRoles((r) => (rightsOfRole[r].includes(right) ? 'yes' : '–')) })),
  {
    key: 'who',
    text: 'Who has the role',
    of: ofRoles(
      (r) =>
        has(r)
          .map((p) => p.initials)
          .join(', ') || '–',
    ),
  },
])
const partRows: Row[] = parts.map((p) => ({ key: p, text: partNames[p], of: ofRoles((r) => level[presetOfRole[r][p]]!) }))
const columnsOf = (text: string): Column<Row>[] => [
  { key: 'text', text, grow: 2, size: 220, wrap: true, narrow: 'title' },
  ...roles.map((r) => ({ key: r, text: title(r), size: 104, grow: 1, value: (row: Row) => row.of[r] })),
]
const rightColumns = columnsOf('What one may do at all')
const partColumns = columnsOf('Part')
</script>

<template>
  <SetUpPage hint="A right comes with the role; each matter narrows it further. Roles are given under People and rates.">
    <section class="sheet" aria-label="Rights by role">
      <DataTable label="What one may do at all" name="rights" plain :rows="rightRows" :columns="rightColumns" :row-id="(r) => r.key">
        <template v-for="r in roles" :key="r" #[`cell-${r}`]="{ row }"
          ><span :class="row.of[r] === '–' && 'text-ink-3'">{{ row.of[r] }}</span></template
        >
      </DataTable>
    </section>
    <section class="sheet mt-[18px] overflow-x-auto" aria-label="On a team">
      <h2 class="px-4 pt-3 pb-1">On the team of a matter, unless chosen otherwise</h2>
      <DataTable label="What a role gets on a team" name="presets" plain :rows="partRows" :columns="partColumns" :row-id="(r) => r.key" />
      <p class="px-4 pt-2 pb-3 text-ink-2">
        Whoever is not on a team has what the practice area gives all staff. The docket clerk sees every date and the bookkeeper every
        account. A wall comes before all of it.
      </p>
    </section>
  </SetUpPage>
</template>
