/** Columns that the list of matters can show; firm-defined fields come as `f12`. */
export const matterColumns = [
  { key: 'number', text: 'Number', sort: 'number' },
  { key: 'secondNumber', text: 'Second number' },
  { key: 'name', text: 'Matter', sort: 'name' },
  { key: 'client', text: 'Client', sort: 'client' },
  { key: 'area', text: 'Area' },
  { key: 'stage', text: 'Stage' },
  { key: 'court', text: 'Court' },
  { key: 'caseNumber', text: 'Case number' },
  { key: 'lead', text: 'Lead' },
  { key: 'originating', text: 'Brought in by' },
  { key: 'tags', text: 'Tags' },
  { key: 'openedOn', text: 'Opened', sort: 'opened' },
  { key: 'closedOn', text: 'Closed', sort: 'closed' },
  { key: 'activeOn', text: 'Last activity', sort: 'active' },
  { key: 'next', text: 'Next date' },
  { key: 'conflicts', text: 'Conflicts' },
  { key: 'unbilled', text: 'Unbilled', money: true },
  { key: 'owed', text: 'Owed', money: true },
  { key: 'held', text: 'Held in trust', money: true },
] as const
export type MatterColumn = (typeof matterColumns)[number]['key']
export const usualColumns = 'number,name,client,area,stage,lead,openedOn,next'
