/** A field that a template may use, and what asks for it when the record has no value. */
export interface MergeField {
  name: string
  label: string
  /** `text`, `money` and `day` decide how a missing value is asked. */
  type: 'text' | 'money' | 'day' | 'list' | 'yes/no'
}

export type MergeValue = string | boolean | Record<string, string>[]

/** The fields of a matter that templates can use, in the order they are listed to people. */
export const mergeFields: readonly MergeField[] = [
  { name: 'today', label: 'Date of the paper', type: 'day' },
  { name: 'firm_name', label: 'Name of the firm', type: 'text' },
  { name: 'firm_address', label: 'Address of the firm', type: 'text' },
  { name: 'client_name', label: 'Client', type: 'text' },
  { name: 'client_address', label: 'Address of the client', type: 'text' },
  { name: 'client_greeting', label: 'Greeting of the client', type: 'text' },
  { name: 'matter_name', label: 'Name of the matter', type: 'text' },
  { name: 'matter_number', label: 'Number of the matter', type: 'text' },
  { name: 'matter_description', label: 'What the firm is engaged to do', type: 'text' },
  { name: 'court', label: 'Court', type: 'text' },
  { name: 'lead_lawyer', label: 'Lead lawyer', type: 'text' },
  { name: 'hourly', label: 'Billed by the hour', type: 'yes/no' },
  { name: 'flat_fee', label: 'Flat fee', type: 'money' },
  { name: 'deposit', label: 'Deposit into trust asked for', type: 'money' },
  { name: 'team', label: 'Team with rates', type: 'list' },
]

/** Names used in a DOCX text: `{client_name}`, `{#hourly}`, `{^hourly}`, `{#team}{name}{/team}`. */
export function fieldsUsed(text: string): string[] {
  const names = [...text.matchAll(/\{[#^/]?\s*([a-z][a-z0-9_]*)\s*\}/g)].map((m) => m[1]!)
  const inLists = new Set(['name', 'role', 'rate'])
  return [...new Set(names)].filter((n) => !inLists.has(n))
}

/** The fields of a template, the firm's own included, that the record leaves empty and that must be asked before the paper is made. */
export function missingFields(used: readonly string[], values: Record<string, MergeValue>, own: readonly MergeField[] = []): MergeField[] {
  const hourly = values['hourly'] === true
  return [...mergeFields, ...own].filter((f) => used.includes(f.name) && values[f.name] === '' && !(f.name === 'flat_fee' && hourly))
}
