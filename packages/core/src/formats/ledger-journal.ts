import type { Day } from '../calendar'

export interface PlainJournal {
  id: number
  day: Day
  memo: string
  /** What the whole belongs to, such as its document; each a name and a value. */
  tags?: Record<string, string>
  lines: { account: string; cents: number; tags?: Record<string, string> }[]
}

const decimal = (cents: number) =>
  `${cents < 0 ? '-' : ''}$${Math.floor(Math.abs(cents) / 100)}.${String(Math.abs(cents) % 100).padStart(2, '0')}`

// Two spaces end an account name and `;` starts a comment in this format.
const clean = (text: string) =>
  text
    .replace(/[;\r\n]/g, ',')
    .replace(/ {2,}/g, ' ')
    .trim()

/** A tag stands on a comment line of its own, which both programs read; a comma would end its value for one of them. */
const tagLines = (tags: Record<string, string> | undefined) =>
  Object.entries(tags ?? {})
    .filter(([, value]) => value)
    .map(([name, value]) => `    ; ${name}: ${clean(value).replace(/,/g, '')}`)

/** One transaction in the plain-text format that `ledger` and `hledger` read, with its tags. */
export function journalText(j: PlainJournal): string {
  const lines = j.lines.flatMap((l) => [`    ${clean(l.account)}  ${decimal(l.cents)}`, ...tagLines(l.tags)])
  return [`${j.day} * (${j.id}) ${clean(j.memo)}`, ...tagLines(j.tags), ...lines, ''].join('\n')
}

/** Name of an account in that format: `assets:1010 Operating bank`. */
export function plainAccount(kind: string, code: string, name: string): string {
  const roots: Record<string, string> = {
    asset: 'assets',
    liability: 'liabilities',
    income: 'income',
    expense: 'expenses',
    equity: 'equity',
  }
  return `${roots[kind] ?? kind}:${code} ${clean(name).replaceAll(':', ' ')}`
}
