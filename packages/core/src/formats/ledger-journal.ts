import type { Day } from '../calendar'

export interface PlainJournal {
  id: number
  day: Day
  memo: string
  lines: { account: string; cents: number }[]
}

const decimal = (cents: number) =>
  `${cents < 0 ? '-' : ''}$${Math.floor(Math.abs(cents) / 100)}.${String(Math.abs(cents) % 100).padStart(2, '0')}`

// Two spaces end an account name and `;` starts a comment in this format.
const clean = (text: string) =>
  text
    .replace(/[;\r\n]/g, ',')
    .replace(/ {2,}/g, ' ')
    .trim()

/** One transaction in the plain-text format that `ledger` and `hledger` read. */
export function journalText(j: PlainJournal): string {
  const lines = j.lines.map((l) => `    ${clean(l.account)}  ${decimal(l.cents)}`)
  return [`${j.day} * (${j.id}) ${clean(j.memo)}`, ...lines, ''].join('\n')
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
