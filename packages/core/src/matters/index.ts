import type { Day } from '../calendar'
/** Tokens of a number pattern: `{yyyy}` or `{yy}`, `{n:4}` the running number with at least four digits, `{client:5}` the client's. */
const token = /\{(yyyy|yy|n|client)(?::(\d))?\}/g

/** What is wrong with a pattern for matter numbers, in words; null where nothing is. */
export function faultOfNumberPattern(pattern: string): string | null {
  const names = [...pattern.matchAll(token)].map((t) => t[1])
  if (!names.includes('n')) return 'The pattern needs {n}, the running number, so that no two matters get the same'
  if (names.filter((n) => n === 'n').length > 1) return 'Use {n} once'
  if (/[{}]/.test(pattern.replace(token, ''))) return 'Use {yyyy}, {yy}, {n:4} and {client:5} only'
  if (formatMatterNumber(pattern, { year: 2026, n: 99_999, client: 99_999 }).length > 20)
    return 'Numbers by this pattern would be longer than 20 characters'
  return null
}

/** The number of a matter by the firm's pattern. */
export function formatMatterNumber(pattern: string, of: { year: number; n: number; client: number }): string {
  return pattern.replace(token, (_, name: string, width?: string) => {
    if (name === 'yyyy') return String(of.year)
    if (name === 'yy') return String(of.year % 100).padStart(2, '0')
    return String(name === 'n' ? of.n : of.client).padStart(Number(width ?? 1), '0')
  })
}

/** The series in which the running number counts: anew each year where the pattern shows the year. */
export const numberSeries = (pattern: string, year: number): string =>
  /\{yyyy\}|\{yy\}/.test(pattern) ? `matter ${String(year % 100).padStart(2, '0')}` : 'matter'

export type ConflictState = 'cleared' | 'not checked' | 'to decide' | 'waiver needed' | 'declined'

/** How far conflicts are, by the decisions on all hits of all checks; `null` is a hit not yet decided. */
export function conflictState(checked: boolean, decisions: readonly (string | null)[]): ConflictState {
  if (!checked) return 'not checked'
  if (decisions.includes('decline')) return 'declined'
  if (decisions.includes(null)) return 'to decide'
  return decisions.includes('waiver needed') ? 'waiver needed' : 'cleared'
}

/** Days spent in each stage up to a day, from the days on which a matter came into them. Stages may come again. */
export function daysInStages(moves: readonly { stageId: number; fromDay: Day }[], upTo: Day): Map<number, number> {
  const days = new Map<number, number>()
  const at = (day: Day) => Math.round(Date.parse(`${day}T00:00:00Z`) / 86_400_000)
  moves.forEach((m, i) => {
    const end = moves[i + 1]?.fromDay ?? upTo
    days.set(m.stageId, (days.get(m.stageId) ?? 0) + Math.max(0, at(end) - at(m.fromDay)))
  })
  return days
}

/** Words under which a matter is found by their beginnings: lower case, without accents, numbers also without their dashes. */
export function searchWords(...texts: readonly string[]): string[] {
  const words = new Set<string>()
  for (const text of texts) {
    const plain = text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()
    for (const w of plain.split(/\s+/)) {
      const bare = w.replace(/[^\p{L}\p{N}]/gu, '')
      if (bare) words.add(bare.slice(0, 40))
      for (const part of w.split(/[^\p{L}\p{N}]+/u)) if (part) words.add(part.slice(0, 40))
    }
  }
  return [...words]
}
