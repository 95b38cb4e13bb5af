import type { Answer } from '../api'
import type { api } from '../api'
import type { Column } from '../ui/table/columns'

export type MatterRow = Answer<typeof api.matters.list>['rows'][number]

/** `N. Haddad-Lind`, where a whole name has no room. */
const initialed = (name: string) => name.replace(/^(\S)\S*\s+/, '$1. ')

/** Columns that the list of matters can show; firm-defined fields come as `f12`. */
export const matterColumns: (Column<MatterRow> & { money?: boolean })[] = [
  { key: 'number', text: 'Number', sort: 'number', size: 92, quiet: true },
  { key: 'secondNumber', text: 'Second number', size: 110, quiet: true, hidden: true },
  { key: 'name', text: 'Matter', sort: 'name', size: 246, grow: 3, fixed: true, narrow: 'title' },
  { key: 'client', text: 'Client', sort: 'client', size: 150, grow: 1 },
  { key: 'area', text: 'Area', size: 100, quiet: true },
  { key: 'stage', text: 'Stage', size: 94, quiet: true },
  { key: 'court', text: 'Court', quiet: true, hidden: true },
  { key: 'caseNumber', text: 'Case number', quiet: true, hidden: true },
  { key: 'lead', text: 'Lead', size: 124, quiet: true, show: (m) => initialed(m.lead) },
  { key: 'originating', text: 'Brought in by', size: 116, quiet: true, hidden: true },
  { key: 'tags', text: 'Tags', quiet: true, value: (m) => m.tags.join(', '), hidden: true },
  { key: 'openedOn', text: 'Opened', kind: 'day', sort: 'opened', size: 112, quiet: true },
  { key: 'closedOn', text: 'Closed', kind: 'day', sort: 'closed', quiet: true, hidden: true },
  { key: 'activeOn', text: 'Last activity', kind: 'day', sort: 'active', quiet: true, hidden: true },
  { key: 'next', text: 'Next date', size: 204, quiet: true, value: (m) => [m.nextDay, m.nextTitle].filter(Boolean).join(' ') },
  { key: 'conflicts', text: 'Conflicts', size: 110, quiet: true, hidden: true },
  { key: 'unbilled', text: 'Unbilled', kind: 'money', money: true, hidden: true },
  { key: 'owed', text: 'Owed', kind: 'money', money: true, hidden: true },
  { key: 'held', text: 'Held in trust', kind: 'money', money: true, hidden: true },
]
export type MatterColumn = string
export const usualColumns = 'number,name,client,area,stage,lead,openedOn,next'
