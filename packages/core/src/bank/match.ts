import { addDays, daysBetween, type Day } from '../calendar'
import { groupedBy } from '../lists'
import type { Cents } from '../money'
import { counted } from '../words'

/** A line of a statement that is not matched yet. */
export interface OpenLine {
  id: number
  day: Day
  amount: Cents
  check: string
  reference: string
  text: string
}
/** An entry of the book of the same account that is not matched yet. */
export interface OpenEntry {
  id: number
  day: Day
  amount: Cents
  /** Number of its check, without leading zeros; empty where it is none. */
  check: string
  reference: string
  text: string
  /** Entries that the bank sees as one movement, as those of a deposit sheet or a transfer sheet; empty for an entry alone. */
  sheet: string
  /** Entries that a card processor hands over together, less its fees; it may instead show them without the fees, or each alone. */
  settlement?: string
}
export const matchWays = ['number and amount', 'amount and day', 'sheet', 'several', 'amount, later', 'number, other amount', 'amount, other number'] as const // prettier-ignore
export interface Match {
  lines: number[]
  entries: number[]
  by: (typeof matchWays)[number]
  /** What is not sure is a proposal, for a person to take or refuse. */
  sure: boolean
  /** 0 to 100; sorts proposals, and decides nothing. */
  score: number
  why: string
  /** What the bank moved beyond what the book says; nothing where both agree. */
  difference: Cents
}
/** Days within which a movement is near; how long a check may take; how far a search for sums goes. */
export interface MatchRules {
  near: number
  stale: number
  /** Steps of the search for sums, for each line and altogether. */
  steps: number
  allSteps: number
}
export const usualMatchRules: MatchRules = { near: 5, stale: 180, steps: 4_000, allSteps: 2_000_000 }

/** What the bank sees as one: an entry alone, or all entries of a sheet. */
interface Unit {
  ids: number[]
  day: Day
  amount: Cents
  check: string
  sheet: boolean
  /** What its entries are, where they are of a card settlement. */
  settled: '' | 'less its fees' | 'without its fees'
  text: string
}
/** How a card settlement is looked at: as one movement less its fees, without them, or as entries alone; in this order. */
const settledAs = ['less its fees', 'without its fees', 'alone'] as const
const byDay = <T extends { day: Day; id?: number }>(a: T, b: T) => (a.day < b.day ? -1 : a.day > b.day ? 1 : (a.id ?? 0) - (b.id ?? 0))
function firstAt(list: readonly { day: Day }[], day: Day): number {
  let [lo, hi] = [0, list.length]
  while (lo < hi) {
    const mid = (lo + hi) >> 1
    if (list[mid]!.day < day) lo = mid + 1
    else hi = mid
  }
  return lo
}
/** Words of four letters or more that two texts have in common. */
function wordsShared(a: string, b: string): number {
  const words = (t: string) => t.slice(0, 300).toLowerCase().split(/[^\p{L}\p{N}]+/u).filter((w) => w.length > 3) // prettier-ignore
  const own = new Set(words(a))
  return own.size ? new Set(words(b).filter((w) => own.has(w))).size : 0
}
const apart = (n: number) => (n === 0 ? 'on the same day' : `${counted(Math.abs(n), 'day')} apart`)

/**
 * Which lines of the bank are which entries of the book: first by number and amount, then by amount and a near day (an entry alone
 * or a whole sheet or card settlement), then by sums of several. Sure is only what could be nothing else: where two movements are alike, where a number
 * differs, or a number comes with another amount, it is a proposal. Each line and each entry stands in one match at most. The time
 * grows with the lists and their sorting; the search for sums is bounded, and `gaveUp` says for which lines it ended early.
 */
export function matchLines(
  lines: readonly OpenLine[],
  entries: readonly OpenEntry[],
  rules: MatchRules = usualMatchRules,
): { matches: Match[]; gaveUp: number[] } {
  // prettier-ignore
  const matches: Match[] = []
  const usedLines = new Set<number>()
  const usedEntries = new Set<number>()
  const take = (m: Match) => {
    matches.push(m)
    for (const id of m.lines) usedLines.add(id)
    for (const id of m.entries) usedEntries.add(id)
  }
  const one = (l: OpenLine, ids: number[], by: Match['by'], sure: boolean, score: number, why: string, difference = 0) =>
    take({ lines: [l.id], entries: ids, by, sure, score, why, difference })
  const openLines = () => lines.filter((l) => !usedLines.has(l.id)).sort(byDay)
  const openEntries = () => entries.filter((e) => !usedEntries.has(e.id)).sort(byDay)

  // By number and amount.
  const numbered = groupedBy(entries.filter((e) => e.check).sort(byDay), (e) => `${e.check} ${e.amount}`)
  for (const l of openLines()) {
    if (!l.check) continue
    const fits = (numbered.get(`${l.check} ${l.amount}`) ?? []).filter((e) => !usedEntries.has(e.id))
    const e = fits.find((x) => x.day <= addDays(l.day, rules.near)) ?? fits[0]
    if (!e) continue
    const days = daysBetween(e.day, l.day)
    const early = days < -rules.near
    const why = `Check ${l.check} and its amount${days > rules.stale ? `, cashed ${counted(days, 'day')} after it was written` : ''}${early ? ', but paid before its date in the book' : ''}` // prettier-ignore
    one(l, [e.id], 'number and amount', !early && fits.length === 1, early ? 75 : fits.length === 1 ? 100 : 80, fits.length > 1 ? `${why}; the book has ${fits.length} such` : why) // prettier-ignore
  }

  for (const as of settledAs) if (as === 'alone' || entries.some((e) => e.settlement)) nearDays(units(as))
  otherNumbers()
  const gaveUp = sums()
  later()
  return { matches, gaveUp }

  function units(as: (typeof settledAs)[number]): Unit[] {
    const all = openEntries()
    const settled = as === 'alone' ? [] : all.filter((e) => e.settlement)
    const open = settled.length ? all.filter((e) => !e.settlement) : all
    const settlements = [...groupedBy(settled, (e) => e.settlement!)].map(([, own]) =>
      as === 'less its fees' ? own : own.filter((e) => e.amount > 0),
    )
    const bySheet = groupedBy(open.filter((e) => e.sheet), (e) => e.sheet) // prettier-ignore
    const whole = new Map<string, number>()
    for (const e of entries) if (e.sheet) whole.set(e.sheet, (whole.get(e.sheet) ?? 0) + 1)
    const alone = open.filter((e) => !e.sheet || whole.get(e.sheet) === 1)
    const one = (own: readonly OpenEntry[], is: Unit['settled']): Unit => ({ ids: own.map((e) => e.id), day: own.at(-1)!.day, amount: own.reduce((n, e) => n + e.amount, 0), check: '', sheet: true, settled: is, text: own.map((e) => e.text).join(' ').slice(0, 300) }) // prettier-ignore
    return [
      ...alone.map((e): Unit => ({ ids: [e.id], day: e.day, amount: e.amount, check: e.check, sheet: false, settled: '', text: `${e.text} ${e.reference}` })),
      // What the bank moved for a settlement it moved when the last of it was settled.
      ...settlements.filter((own) => own.length > 1).map((own) => one(own, as === 'less its fees' ? as : 'without its fees')),
      // A sheet of which a part is matched already is no longer one movement.
      ...[...bySheet]
        .filter(([sheet, own]) => own.length > 1 && own.length === whole.get(sheet))
        .map(([, own]) => ({ ...one(own, ''), day: own[0]!.day })),
    ].sort(byDay) // prettier-ignore
  }

  function nearDays(among: readonly Unit[]) {
    const unitsBy = groupedBy(among, (u) => u.amount)
    for (const [amount, own] of groupedBy(openLines(), (l) => l.amount)) {
      const us = unitsBy.get(amount)
      if (!us) continue
      const [plainLines, checkLines] = [own.filter((l) => !l.check), own.filter((l) => l.check)]
      const [plainUnits, checkUnits] = [us.filter((u) => !u.check), us.filter((u) => u.check)]
      const within = <T extends { day: Day }>(list: readonly T[], day: Day): [number, number] => [firstAt(list, addDays(day, -rules.near)), firstAt(list, addDays(day, rules.near + 1))] // prettier-ignore
      const count = (list: readonly { day: Day }[], day: Day) => {
        const [lo, hi] = within(list, day)
        return hi - lo
      }
      // Numbers on both sides were compared before: here a line with one goes with what has none.
      const unitsOf = (l: OpenLine) => count(plainUnits, l.day) + (l.check ? 0 : count(checkUnits, l.day))
      const linesOf = (u: Unit) => count(plainLines, u.day) + (u.check ? 0 : count(checkLines, u.day))
      const free = new Set(us)
      const wordsOf = (l: OpenLine, u: Unit, alike: number) =>
        `${u.sheet ? `The ${counted(u.ids.length, 'entry', 'entries')} of one ${u.settled ? `card settlement, ${u.settled}` : 'sheet'}` : 'The amount'}, ${apart(daysBetween(u.day, l.day))}${alike > 1 ? `; ${alike} are alike` : ''}`
      const rest: OpenLine[] = []
      for (const l of own) {
        const list = [plainUnits, ...(l.check ? [] : [checkUnits])].find((x) => count(x, l.day) > 0)
        const u = unitsOf(l) === 1 && list ? list[within(list, l.day)[0]]! : null
        if (u && linesOf(u) === 1) {
          free.delete(u)
          one(l, u.ids, u.sheet ? 'sheet' : 'amount and day', true, u.sheet ? 95 : u.check || l.check ? 85 : 90, wordsOf(l, u, 1))
        } else if (u || unitsOf(l) > 1) rest.push(l)
      }
      // Several are alike: paired by what words they share, else in the order of their days, and left for a person to say.
      for (const from of [plainUnits, checkUnits]) {
        const left = from.filter((u) => free.has(u))
        let at = 0
        for (const l of rest) {
          if (usedLines.has(l.id) || (l.check && from === checkUnits)) continue
          while (at < left.length && (!free.has(left[at]!) || left[at]!.day < addDays(l.day, -rules.near))) at += 1
          let u: Unit | undefined
          let shared = -1
          for (const x of left.slice(at, at + 50)) {
            if (x.day > addDays(l.day, rules.near)) break
            const n = free.has(x) ? wordsShared(l.text, x.text) : -1
            if (n > shared) [u, shared] = [x, n]
          }
          if (!u) continue
          free.delete(u)
          const alike = Math.max(unitsOf(l), linesOf(u))
          one(l, u.ids, u.sheet ? 'sheet' : 'amount and day', false, 70, wordsOf(l, u, alike))
        }
      }
    }
  }

  function otherNumbers() {
    const byNumber = groupedBy(openEntries().filter((e) => e.check), (e) => `${e.check} ${e.amount > 0}`) // prettier-ignore
    for (const l of openLines().filter((x) => x.check)) {
      const e = byNumber.get(`${l.check} ${l.amount > 0}`)?.find((x) => !usedEntries.has(x.id))
      if (e) one(l, [e.id], 'number, other amount', false, 50, `Check ${l.check}, but the amounts differ`, l.amount - e.amount)
    }
    const byAmount = groupedBy(openEntries().filter((e) => e.check), (e) => e.amount) // prettier-ignore
    for (const l of openLines().filter((x) => x.check)) {
      const list = (byAmount.get(l.amount) ?? []).filter((e) => !usedEntries.has(e.id))
      const e = list.slice(0, 200).find((x) => Math.abs(daysBetween(x.day, l.day)) <= 6 * rules.near)
      if (e) one(l, [e.id], 'amount, other number', false, 40, `The amount, but check ${l.check} at the bank and ${e.check} in the book`)
    }
  }

  /** One line that several entries make up, or one entry that the bank moved in several lines. */
  function sums(): number[] {
    let all = rules.allSteps
    const gave: number[] = []
    const search = (target: Cents, among: readonly { id: number; amount: Cents }[]): { found: number[][]; early: boolean } => {
      const list = [...among].sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount)).slice(0, 40)
      const size = list.map((x) => Math.abs(x.amount))
      const tail = size.map((_, i) => size.slice(i).reduce((a, b) => a + b, 0))
      const found: number[][] = []
      let steps = Math.min(rules.steps, all)
      const begun = steps
      const walk = (at: number, left: Cents, chosen: number[]): void => {
        if (found.length > 1 || steps <= 0) return
        steps -= 1
        if (left === 0) {
          if (chosen.length > 1) found.push(chosen)
          return
        }
        if (at >= list.length || chosen.length >= 8 || tail[at]! < left) return
        if (size[at]! <= left) walk(at + 1, left - size[at]!, [...chosen, list[at]!.id])
        walk(at + 1, left, chosen)
      }
      walk(0, Math.abs(target), [])
      all -= begun - steps
      return { found, early: found.length < 2 && (steps <= 0 || among.length > list.length) }
    }
    const near = <T extends { day: Day; amount: Cents }>(list: readonly T[], day: Day, positive: boolean) => {
      const lo = firstAt(list, addDays(day, -rules.near))
      return list.slice(lo, Math.min(firstAt(list, addDays(day, rules.near + 1)), lo + 400)).filter((x) => x.amount > 0 === positive)
    }
    const several = (
      alone: { id: number; day: Day; amount: Cents },
      among: readonly { id: number; day: Day; amount: Cents }[],
      asLine: boolean,
    ) => {
      const candidates = near(among, alone.day, alone.amount > 0).filter((x) => !(asLine ? usedEntries : usedLines).has(x.id) && Math.abs(x.amount) < Math.abs(alone.amount)) // prettier-ignore
      if (candidates.length < 2) return
      const { found, early } = search(alone.amount, candidates)
      if (early && !found.length && asLine) gave.push(alone.id)
      const [ids] = found
      if (!ids) return
      const why = `${asLine ? counted(ids.length, 'entry', 'entries') : `${counted(ids.length, 'line')} of the bank`} make it up${found.length > 1 ? '; others would, too' : early ? '; not all were looked through' : ''}` // prettier-ignore
      take({ lines: asLine ? [alone.id] : ids, entries: asLine ? ids : [alone.id], by: 'several', sure: false, score: found.length > 1 ? 45 : 65, why, difference: 0 }) // prettier-ignore
    }
    const entriesByDay = openEntries()
    for (const l of openLines()) if (all > 0) several(l, entriesByDay, true)
    else gave.push(l.id) // prettier-ignore
    const linesByDay = openLines()
    for (const e of openEntries()) if (all > 0) several(e, linesByDay, false)
    return gave
  }

  /** Payments that took their time, where nothing else has the amount. */
  function later() {
    const byAmount = groupedBy(
      openEntries().filter((e) => !e.sheet),
      (e) => e.amount,
    )
    const linesBy = groupedBy(openLines(), (l) => l.amount)
    for (const [amount, own] of linesBy) {
      const list = byAmount.get(amount) ?? []
      if (own.length !== 1 || list.length !== 1) continue
      const [l, e] = [own[0]!, list[0]!]
      const days = daysBetween(e.day, l.day)
      if (days < 0 || days > rules.stale || (l.check && e.check)) continue
      one(l, [e.id], 'amount, later', false, 55, `The amount alone, ${apart(days)}`)
    }
  }
}

/** A rule of the firm: lines of the bank with these words are booked to this account. */
export interface BookingRule {
  id: number
  words: string
  /** Only what comes in, or only what goes out. */
  way: 'in' | 'out'
  /** Only this amount; null for any. */
  amount: Cents | null
}
/** The first rule that fits a line: all of its words stand in the line's text, whatever their case. */
export function ruleFor<R extends BookingRule>(line: Pick<OpenLine, 'amount' | 'text' | 'reference'>, rules: readonly R[]): R | null {
  const text = `${line.text} ${line.reference}`.toLowerCase()
  const fits = (r: R) => {
    const words = r.words.toLowerCase().split(/\s+/).filter(Boolean)
    return words.length > 0 && words.every((w) => text.includes(w)) && line.amount > 0 === (r.way === 'in') && (r.amount === null || Math.abs(line.amount) === r.amount) // prettier-ignore
  }
  return rules.find(fits) ?? null
}
