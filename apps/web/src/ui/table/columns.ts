import type { Day } from '@heron/core/calendar'
import { dayText, momentText, showHours, showMoney } from '../show'

/** A column of a list. What it shows, sorts by and writes to a file all come from its one value. */
export interface Column<R> {
  key: string
  text: string
  /** How its value reads: amounts in cents, time in minutes, days as ISO dates, `when` instants, shares in hundredths of a percent. */
  kind?: 'text' | 'money' | 'hours' | 'day' | 'number' | 'when' | 'share'
  /** Its value; the field of its key where nothing is said. */
  value?: (row: R) => string | number | null | undefined
  /** How the value reads where its kind does not say. */
  show?: (row: R) => string
  /** Width in pixels; text takes what is left, shared by `grow`. */
  size?: number
  grow?: number
  /** Sorted here, or by the server under that name. */
  sort?: boolean | string
  /** Not shown until someone chooses it. */
  hidden?: boolean
  /** Always shown. */
  fixed?: boolean
  /** As many lines as it needs, instead of one. */
  wrap?: boolean
  quiet?: boolean
  /** Its head is for readers only, as over a column of boxes to tick. */
  headless?: boolean
  strong?: boolean
  /** What stands under the column. */
  total?: string | undefined
  /** On a narrow screen: the line that names the row, a line under it, or left out. */
  narrow?: 'title' | 'line' | 'none'
}

/** A heading within the rows, with what stands under some of the columns beside it. */
export interface Group {
  text: string
  totals?: Record<string, string>
}

const usualSize = { text: 160, money: 116, hours: 72, day: 116, number: 84, when: 170, share: 84 } as const
/** Widths together. */
export function together(widths: readonly number[]): number {
  let all = 0
  for (const w of widths) all += w
  return all
}
export const isNumber = (c: Pick<Column<never>, 'kind'>) =>
  c.kind === 'money' || c.kind === 'hours' || c.kind === 'number' || c.kind === 'share'
/** An amount, or nothing where there is none. */
export const someMoney = (cents: number) => (cents ? showMoney(cents) : '')
/** What stands under each column: its sum, and a word for the sums, that of a column of words or else *Together* in the first of them. */
export function totalsOf<R>(columns: readonly Column<R>[]): (c: Column<R>) => string {
  const words = columns.filter((c) => !isNumber(c as Column<never>))
  const any = columns.some((c) => c.total)
  const word = words.some((c) => c.total) ? undefined : words[0]
  return (c) => c.total || (any && c === word ? 'Together' : '')
}
/** Width of a figure in bold, with the space around it: no sum is ever cut off. */
const roomFor = (text: string) => Math.ceil(text.length * 8.4) + 22
export const sizeOf = <R>(c: Column<R>) =>
  Math.max(c.size ?? usualSize[c.kind ?? 'text'], isNumber(c as Column<never>) && c.total ? roomFor(c.total) : 0)
export const growOf = <R>(c: Column<R>) => c.grow ?? (c.size || (c.kind ?? 'text') !== 'text' ? 0 : 1)

export function valueOf<R>(c: Column<R>, row: R): string | number | null {
  return (c.value ? c.value(row) : ((row as Record<string, unknown>)[c.key] as string | number | null | undefined)) ?? null
}

/** A day in a column: with its weekday in this year, with its year in others. */
export function tableDay(day: Day): string {
  const text = dayText(day)
  return /\d{4}$/.test(text) ? text.slice(4) : text
}

/** A share in hundredths of a percent, such as `83.4 %`. */
export const showShare = (share: number) => `${share < 0 ? '−' : ''}${(Math.abs(share) / 100).toFixed(1)} %`

/** A value as it is read; nothing for what is not there. */
export function shown<R>(c: Column<R>, row: R): string {
  if (c.show) return c.show(row)
  const v = valueOf(c, row)
  if (v === null || v === '') return ''
  if (c.kind === 'money') return showMoney(Number(v))
  if (c.kind === 'hours') return showHours(Number(v))
  if (c.kind === 'share') return showShare(Number(v))
  if (c.kind === 'day') return tableDay(String(v) as Day)
  if (c.kind === 'when') return momentText(String(v)).replace(/^\w{3} (?=\d{1,2} \w{3} \d{4},)/, '')
  return c.kind === 'number' ? Number(v).toLocaleString('en-US') : String(v)
}

/** A value as a file has it: amounts as plain numbers, days as ISO dates. */
export function plain<R>(c: Column<R>, row: R): string | number | null {
  const v = valueOf(c, row)
  if (v === null) return null
  if (c.kind === 'money') return Number(v) / 100
  if (c.kind === 'share') return Number(v) / 100
  if (c.kind === 'hours') return Math.round((Number(v) / 60) * 1000) / 1000
  return v
}
