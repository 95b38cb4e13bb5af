import { counted } from '../words'
import { divideHalfUp, type Cents } from '../money'
import type { Day } from '../calendar'
import { isActivityCode, isExpenseCode, isTaskCode } from './utbms'

/** One line of an electronic bill. Amounts in cents; what was given off a line, and what is not charged, is its adjustment. */
export interface LedesLine {
  kind: 'fee' | 'expense'
  day: Day
  /** Minutes of a fee; thousandths of units of an expense; null for one of something at its price. */
  units: number | null
  unitCost: Cents
  total: Cents
  task: string
  activity: string
  expense: string
  keeper: { id: string; name: string; classification: LedesClass }
  text: string
}
export type LedesClass = 'PT' | 'AS' | 'OC' | 'LA' | 'OT'
export interface LedesInvoice {
  number: string
  day: Day
  from: Day
  to: Day
  description: string
  /** How the client calls itself and the matter, and the firm's own numbers. */
  clientId: string
  clientMatterId: string
  matterId: string
  firmId: string
  lines: readonly LedesLine[]
}

/** The fields of LEDES 1998B in their order, as the first line of a file names them. */
export const ledesFields = [
  'INVOICE_DATE',
  'INVOICE_NUMBER',
  'CLIENT_ID',
  'LAW_FIRM_MATTER_ID',
  'INVOICE_TOTAL',
  'BILLING_START_DATE',
  'BILLING_END_DATE',
  'INVOICE_DESCRIPTION',
  'LINE_ITEM_NUMBER',
  'EXP/FEE/INV_ADJ_TYPE',
  'LINE_ITEM_NUMBER_OF_UNITS',
  'LINE_ITEM_ADJUSTMENT_AMOUNT',
  'LINE_ITEM_TOTAL',
  'LINE_ITEM_DATE',
  'LINE_ITEM_TASK_CODE',
  'LINE_ITEM_EXPENSE_CODE',
  'LINE_ITEM_ACTIVITY_CODE',
  'TIMEKEEPER_ID',
  'LINE_ITEM_DESCRIPTION',
  'LAW_FIRM_ID',
  'LINE_ITEM_UNIT_COST',
  'TIMEKEEPER_NAME',
  'TIMEKEEPER_CLASSIFICATION',
  'CLIENT_MATTER_ID',
] as const

const day = (d: Day) => d.replaceAll('-', '')
const money = (cents: Cents) =>
  `${cents < 0 ? '-' : ''}${Math.floor(Math.abs(cents) / 100)}.${String(Math.abs(cents) % 100).padStart(2, '0')}`
/** Bars and ends of lines part fields and rows; brackets end a row. They are no part of a text, and neither is what ASCII has not. */
const plain = (text: string, most: number) =>
  text
    .replace(/[‘’]/g, "'")
    .replace(/[“”]/g, '"')
    .replace(/[–—−]/g, '-')
    .replaceAll('…', '...')
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{ASCII}]/gu, '?')
    .replaceAll('|', '/')
    .replaceAll('[]', '( )')
    .replace(/\p{Cc}/gu, ' ')
    .trim()
    .slice(0, most)

/** Units to the hundredth, in which the line is reckoned: hours of a fee, or what was counted. */
function hundredths(l: LedesLine): number {
  if (l.units === null) return 100
  return l.kind === 'fee' ? divideHalfUp(l.units * 100, 60) : divideHalfUp(l.units, 10)
}

/**
 * What a bill in LEDES 1998B still needs, in words, the first of each kind with its line: numbers by which the client knows itself
 * and the matter, the firm's number, and a task, activity or expense code of UTBMS on each line. Empty where it can be sent.
 */
export function faultsOfLedes(invoice: LedesInvoice): string[] {
  const faults: string[] = []
  if (!invoice.clientId) faults.push('The client’s own number (client ID) is missing')
  if (!invoice.clientMatterId) faults.push('The client’s number of the matter is missing')
  if (!invoice.firmId) faults.push('The firm’s number (tax ID) is missing')
  if (!invoice.lines.length) faults.push('There is nothing on it')
  const wrong = new Map<string, { first: number; count: number }>()
  const note = (what: string, line: number) => {
    const seen = wrong.get(what)
    if (seen) seen.count += 1
    else wrong.set(what, { first: line, count: 1 })
  }
  invoice.lines.forEach((l, i) => {
    if (!l.text.trim()) note('words', i + 1)
    if (l.kind === 'fee') {
      if (!isTaskCode(l.task)) note(l.task ? `a task code of the standard (${l.task} is none)` : 'a task code', i + 1)
      if (!isActivityCode(l.activity))
        note(l.activity ? `an activity code of the standard (${l.activity} is none)` : 'an activity code', i + 1)
      if (!l.keeper.id) note('a timekeeper', i + 1)
    } else if (!isExpenseCode(l.expense))
      note(l.expense ? `an expense code of the standard (${l.expense} is none)` : 'an expense code', i + 1)
  })
  for (const [what, { first, count }] of wrong)
    faults.push(`${count === 1 ? `Line ${first} needs` : `${counted(count, 'line')}, the first line ${first}, need`} ${what}`)
  return faults
}

/**
 * A bill as LEDES 1998B (ASCII, fields parted by bars, rows ended by `[]`). On each line units × unit cost + adjustment is the
 * line's total, and the lines add up to the invoice's total.
 */
export function writeLedes(invoice: LedesInvoice): string {
  const total = invoice.lines.reduce((n, l) => n + l.total, 0)
  const rows = invoice.lines.map((l, i) => {
    const units = hundredths(l)
    const adjustment = l.total - divideHalfUp(units * l.unitCost, 100)
    const fee = l.kind === 'fee'
    const cells: Record<(typeof ledesFields)[number], string> = {
      INVOICE_DATE: day(invoice.day),
      INVOICE_NUMBER: plain(invoice.number, 20),
      CLIENT_ID: plain(invoice.clientId, 20),
      LAW_FIRM_MATTER_ID: plain(invoice.matterId, 20),
      INVOICE_TOTAL: money(total),
      BILLING_START_DATE: day(invoice.from),
      BILLING_END_DATE: day(invoice.to),
      INVOICE_DESCRIPTION: plain(invoice.description, 15_000),
      LINE_ITEM_NUMBER: String(i + 1),
      'EXP/FEE/INV_ADJ_TYPE': fee ? 'F' : 'E',
      LINE_ITEM_NUMBER_OF_UNITS: money(units),
      LINE_ITEM_ADJUSTMENT_AMOUNT: money(adjustment),
      LINE_ITEM_TOTAL: money(l.total),
      LINE_ITEM_DATE: day(l.day),
      LINE_ITEM_TASK_CODE: fee ? plain(l.task, 20) : '',
      LINE_ITEM_EXPENSE_CODE: fee ? '' : plain(l.expense, 20),
      LINE_ITEM_ACTIVITY_CODE: fee ? plain(l.activity, 20) : '',
      TIMEKEEPER_ID: fee ? plain(l.keeper.id, 20) : '',
      LINE_ITEM_DESCRIPTION: plain(l.text, 15_000),
      LAW_FIRM_ID: plain(invoice.firmId, 20),
      LINE_ITEM_UNIT_COST: money(l.unitCost),
      TIMEKEEPER_NAME: fee ? plain(l.keeper.name, 30) : '',
      TIMEKEEPER_CLASSIFICATION: fee ? l.keeper.classification : '',
      CLIENT_MATTER_ID: plain(invoice.clientMatterId, 20),
    }
    return `${ledesFields.map((f) => cells[f]).join('|')}[]`
  })
  return ['LEDES1998B[]', `${ledesFields.join('|')}[]`, ...rows, ''].join('\r\n')
}
