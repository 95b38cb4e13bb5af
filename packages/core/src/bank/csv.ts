import Papa from 'papaparse'
import { isDay, type Day } from '../calendar'
import type { Cents } from '../money'
import { checkNumber, emptyStatement, fault, mostOfStatement, odd, oneText, ownDifference, readCents, type Statement } from './statement'

/** Which column of a bank's CSV is what, by place from 0; remembered for an account once it was set. */
export interface CsvMatch {
  /** Rows before the first line: names of the columns, and whatever a bank writes above them. */
  skip: number
  day: number
  /** In which order a date of figures stands. */
  order: 'mdy' | 'dmy' | 'ymd'
  /** One column with a sign, or one for money in and one for money out. */
  amount: number | null
  moneyIn: number | null
  moneyOut: number | null
  /** A column that says in a word whether the amount came in or went out: `CREDIT`, `DR`, `Haben`. */
  direction?: number | null | undefined
  decimal: '.' | ','
  /** A bank that writes what goes out without a sign, and what comes in with a minus. */
  turned: boolean
  check: number | null
  reference: number | null
  bankId: number | null
  text: number[]
  balance: number | null
}

const monthsByName = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
/** A date of a CSV: figures with any separator in the order given, `20261103`, or with the month in letters. Two figures of a year are of 2000 to 2099. */
export function csvDay(text: string, order: CsvMatch['order']): Day | null {
  const t = text
    .slice(0, 40)
    .trim()
    .toLowerCase()
    .split(/[t ]\d{1,2}:/)[0]!
    .trim()
  const made = (y: string, m: string | number, d: string) => {
    const day = `${y.length === 2 ? `20${y}` : y}-${String(m).padStart(2, '0')}-${d.padStart(2, '0')}`
    return isDay(day) ? day : null
  }
  if (/^\d{8}$/.test(t))
    return order === 'ymd' ? made(t.slice(0, 4), t.slice(4, 6), t.slice(6)) : order === 'mdy' ? made(t.slice(4), t.slice(0, 2), t.slice(2, 4)) : made(t.slice(4), t.slice(2, 4), t.slice(0, 2)) // prettier-ignore
  const p = t.split(/[^\da-z]+/).filter(Boolean)
  if (p.length !== 3) return null
  const [a, b, c] = p as [string, string, string]
  const named = (word: string) => monthsByName.indexOf(word.slice(0, 3)) + 1
  if (/^[a-z]/.test(a)) return /^\d{1,2}$/.test(b) && /^\d{2}(\d{2})?$/.test(c) && named(a) ? made(c, named(a), b) : null
  if (/^[a-z]/.test(b)) {
    if (!named(b)) return null
    return /^\d{4}$/.test(a) ? made(a, named(b), c) : /^\d{2}(\d{2})?$/.test(c) ? made(c, named(b), a) : null
  }
  if (![a, b, c].every((x) => /^\d{1,4}$/.test(x))) return null
  // A year of four figures says itself where it stands.
  if (a.length === 4) return made(a, b, c)
  if (c.length !== 4 && c.length !== 2) return null
  return order === 'ymd' ? (a.length === 2 ? made(a, b, c) : null) : order === 'mdy' ? made(c, a, b) : made(c, b, a)
}

/** Cents of a CSV's cell: with a sign of money, groups of three, brackets or a minus behind for what goes out, `CR` and `DR`. */
export function csvAmount(text: string, decimal: '.' | ','): Cents | null {
  let t = text
    .slice(0, 60)
    .trim()
    .replace(/[$€£\u00a0\u202f ]/gu, '')
    .replace(/^USD?(?=[\d(+.\u2212\u2013-])|(?<=[\d).-])USD$/u, '')
    .replace(/[\u2212\u2013]/gu, '-')
    .replace(/\u2019/gu, "'")
  let sign = 1
  const word = /(cr|dr)$/i.exec(t)
  if (word) {
    t = t.slice(0, -2)
    if (word[0].toLowerCase() === 'dr') sign = -1
  }
  if (t.startsWith('(') && t.endsWith(')')) {
    sign = -1
    t = t.slice(1, -1)
  } else if (t.endsWith('-')) {
    sign = -1
    t = t.slice(0, -1)
  }
  if (/^[+-]/.test(t) && sign < 0) return null
  const group = decimal === '.' ? ',' : '.'
  const [whole = '', rest, ...more] = t.split(decimal)
  if (more.length) return null
  const groups = whole.replace(/^[+-]/, '').split(/[,.']/)
  if (groups.length > 1) {
    const used = [...new Set(whole.match(/[,.']/g))]
    if (used.length > 1 || (used[0] !== group && used[0] !== "'") || !/^\d{1,3}$/.test(groups[0]!) || groups.slice(1).some((g) => !/^\d{3}$/.test(g))) return null // prettier-ignore
  }
  const cents = readCents(`${whole.startsWith('-') ? '-' : ''}${groups.join('')}${rest === undefined ? '' : `.${rest}`}`)
  return cents === null ? null : cents === 0 ? 0 : sign * cents
}

const wordsIn = new Set(
  'credit cr c crdt cred credito crédito deposit in + haben h abono haber ingreso'.split(' ').concat('money in', 'paid in'),
)
const wordsOut = new Set('debit dr d dbit deb db debito débito withdrawal payment check fee charge out - soll s cargo debe'.split(' ').concat('money out', 'paid out')) // prettier-ignore
/** 1 for what came in by a bank's own word for it, -1 for what went out; null where the word is no such. */
export function csvDirection(word: string): 1 | -1 | null {
  const t = word
    .slice(0, 40)
    .trim()
    .toLowerCase()
    .replace(/^[\u2212\u2013]$/u, '-')
  return wordsIn.has(t) ? 1 : wordsOut.has(t) ? -1 : null
}

const rowsOf = (text: string, most: number) =>
  Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', delimitersToGuess: [',', ';', '\t', '|'], preview: most + 1 }).data

/** A bank's CSV by its columns. Balances, where there is a column of them, give opening and closing; the order of days is found out. */
export function readCsvStatement(text: string, match: CsvMatch): Statement {
  const s = emptyStatement('CSV')
  const rows = rowsOf(text, mostOfStatement.lines + match.skip)
  if (rows.length > mostOfStatement.lines + match.skip) {
    fault(s, 'This file has too many lines.')
    return s
  }
  // What keeps a spreadsheet from taking a cell for a number or a sum is no part of it.
  const cell = (r: readonly string[], i: number | null) =>
    i === null
      ? ''
      : (r[i] ?? '')
          .trim()
          .replace(/^'(?=[=+\-@])/, '')
          .replace(/^="([^"]{0,200})"$/, '$1')
  const balances: (Cents | null)[] = []
  const body = rows.slice(match.skip)
  const dated = body.findLastIndex((r) => /\d/.test(cell(r, match.day)))
  for (const [i, r] of body.entries()) {
    const said = `Row ${i + match.skip + 1}`
    const dayText = cell(r, match.day)
    const [one, inn, out] = [cell(r, match.amount), cell(r, match.moneyIn), cell(r, match.moneyOut)]
    // Rows without a day and without an amount are a bank's own headings and sums.
    if (!dayText && !one && !inn && !out) continue
    // A bank's sums below its last line, and its rows of a balance alone, are no movements; they are told, for a person to judge.
    if (dated >= 0 && i > dated && !/\d/.test(dayText)) {
      odd(s, `${said} below the last date was left out: ${oneText(r.join(' ')).slice(0, 80)}.`)
      continue
    }
    if (!one && !inn && !out && match.balance !== null && csvAmount(cell(r, match.balance), match.decimal) !== null) {
      odd(s, `${said} states a balance alone and was left out.`)
      continue
    }
    const day = csvDay(dayText, match.order)
    if (!day) {
      fault(s, `${said}: “${dayText.slice(0, 30)}” is no date of this order.`)
      continue
    }
    let amount: Cents | null
    if (match.amount !== null && typeof match.direction === 'number') {
      const sign = csvDirection(cell(r, match.direction))
      if (sign === null) {
        fault(s, `${said}: “${cell(r, match.direction).slice(0, 30)}” does not say whether the money came in or went out.`)
        continue
      }
      const read = csvAmount(one, match.decimal)
      // A minus that says the same again changes nothing; one that says the opposite is not read.
      amount = read === null || (read < 0 && sign > 0) ? null : read === 0 ? 0 : sign * Math.abs(read)
    } else if (match.amount !== null) amount = csvAmount(one, match.decimal)
    else {
      const [a, b] = [inn ? csvAmount(inn, match.decimal) : 0, out ? csvAmount(out, match.decimal) : 0]
      // Money out stands with or without a minus, and is money out either way.
      amount = a === null || b === null || (a !== 0 && b !== 0) || a < 0 ? null : a !== 0 ? a : -Math.abs(b)
    }
    if (amount === null) {
      fault(s, `${said}: the amount “${(one || [inn, out].filter(Boolean).join(' and ')).slice(0, 40)}” cannot be read with certainty.`)
      continue
    }
    if (match.turned && typeof match.direction !== 'number') amount = amount === 0 ? 0 : -amount
    if (amount === 0) {
      odd(s, 'Lines of nothing were left out.')
      continue
    }
    const check = checkNumber(cell(r, match.check))
    s.lines.push({
      day,
      amount,
      bankId: cell(r, match.bankId).slice(0, 255),
      check,
      reference: (cell(r, match.reference) || (check ? '' : cell(r, match.check))).slice(0, 60),
      kind: '',
      text: oneText(...match.text.map((t) => cell(r, t))),
      details: [],
    })
    balances.push(match.balance === null ? null : csvAmount(cell(r, match.balance), match.decimal))
  }
  if (s.lines.length) {
    const days = s.lines.map((l) => l.day).sort()
    s.from = days[0]!
    s.to = days.at(-1)!
    if (match.balance !== null) byBalances(s, balances)
  }
  return s
}

/** Opening and closing by the column of balances, in whichever order the rows run; where they do not follow from the amounts, neither. */
function byBalances(s: Statement, balances: readonly (Cents | null)[]) {
  const n = s.lines.length
  const amount = (i: number) => s.lines[i]!.amount
  const follows = (down: boolean) =>
    balances.every(
      (b, i) => b !== null && (i === 0 || (down ? b - balances[i - 1]! === amount(i) : balances[i - 1]! - b === amount(i - 1))),
    )
  const down = n === 1 ? true : s.lines[0]!.day <= s.lines[n - 1]!.day ? follows(true) || !follows(false) : !follows(false) && follows(true)
  if (!follows(down)) {
    odd(s, 'The column of balances does not follow from the amounts; it gives neither opening nor closing.')
    return
  }
  s.opening = down ? balances[0]! - amount(0) : balances[n - 1]! - amount(n - 1)
  s.closing = down ? balances[n - 1]! : balances[0]!
  if (ownDifference(s) !== 0) odd(s, 'The column of balances does not follow from the amounts.')
}

const meanings: [keyof CsvMatch, RegExp][] = [
  ['balance', /balance|saldo/],
  ['moneyOut', /withdraw|debit|paid out|money out|payments?$|cargo|debe$/],
  ['moneyIn', /deposit|credit|paid in|money in|receipts?$|abono|haber$|ingreso/],
  ['amount', /amount|betrag|importe|value$/],
  ['check', /che(?:ck|que)|chk/],
  ['bankId', /transaction id|fitid|unique|trans(?:action)? no|^id$/],
  ['day', /post(?:ed|ing)?.{0,10}date|booking date|^date|transaction date|date$|fecha/],
  ['reference', /ref/],
  ['text', /description|details|memo|narrative|payee|name|particulars|text/],
]
/** What the columns of a bank's CSV seem to be, by their names and the first rows; a person looks at it before it is used. */
export function guessCsv(text: string): { match: CsvMatch; columns: string[]; sample: string[][] } {
  const rows = rowsOf(text.slice(0, 200_000), 60)
  // The head is the first row that names a day and an amount.
  const names = (r: readonly string[]) => r.map((c) => c.trim().toLowerCase())
  const isHead = (r: readonly string[]) => {
    const own = names(r)
    const has = (key: keyof CsvMatch) => own.some((c) => c.length < 40 && meanings.find(([k]) => k === key)![1].test(c))
    return has('day') && (has('amount') || has('moneyIn') || has('moneyOut'))
  }
  const at = rows.findIndex(isHead)
  const head = at < 0 ? (rows[0] ?? []).map((_, i) => `Column ${i + 1}`) : rows[at]!
  const match: CsvMatch = { skip: at + 1, day: 0, order: 'mdy', amount: null, moneyIn: null, moneyOut: null, decimal: '.', turned: false, check: null, reference: null, bankId: null, text: [], balance: null } // prettier-ignore
  const taken = new Set<number>()
  // A column of nothing but words for in and out is that, unless its name says that it is something else.
  const said = (i: number) => rows.slice(match.skip).flatMap((r) => (r[i] ?? '').trim() || [])
  const free = (name: string) => !meanings.some(([key, re]) => /^(?:text|check|reference|bankId|balance|day)$/.test(key) && re.test(name))
  const direction = at < 0 ? -1 : names(head).findIndex((n, i) => free(n) && said(i).length > 0 && said(i).every((w) => csvDirection(w) !== null)) // prettier-ignore
  if (direction >= 0) taken.add(direction)
  if (at >= 0)
    for (const [key, wanted] of meanings)
      for (const [i, c] of names(head).entries()) {
        if (taken.has(i) || !wanted.test(c)) continue
        if (key === 'text') match.text.push(i)
        else if (key !== 'day' && match[key] !== null) continue
        else Object.assign(match, { [key]: i })
        taken.add(i)
        if (key !== 'text') break
      }
  // One column with a sign goes before two.
  if (match.amount !== null) match.moneyIn = match.moneyOut = null
  const body = rows.slice(match.skip)
  // Amounts that bear their sign need no word for it.
  const { amount } = match
  if (direction >= 0 && amount !== null && !said(amount).some((a) => /^[$€£\s]*[(+\u2212\u2013-]|-$|[cd]r$/iu.test(a)))
    match.direction = direction
  const days = body.map((r) => (r[match.day] ?? '').trim()).filter(Boolean)
  const amounts = body.flatMap((r) => [match.amount, match.moneyIn, match.moneyOut].flatMap((i) => (i === null ? [] : [(r[i] ?? '').trim()]))).filter(Boolean) // prettier-ignore
  const readsAs = (decimal: '.' | ',') => amounts.filter((a) => csvAmount(a, decimal) !== null).length
  match.decimal = readsAs(',') > readsAs('.') ? ',' : '.'
  // Where days can be read either way, the day stands first with whoever writes 3.11.2026 or puts a comma before the cents.
  const reads = (order: CsvMatch['order']) => days.filter((d) => csvDay(d, order)).length
  const first = match.decimal === ',' || (days.length > 0 && days.every((d) => /^\d{1,2}\.\d{1,2}\./.test(d))) ? 'dmy' : 'mdy'
  match.order = ([first, 'mdy', 'dmy', 'ymd'] as const).reduce((best, o) => (reads(o) > reads(best) ? o : best), first)
  return { match, columns: head.map((c, i) => c.trim() || `Column ${i + 1}`), sample: body.slice(0, 8) }
}
