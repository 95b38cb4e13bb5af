import { dayOf, showDay, showTime as timeText, type Day } from '@heron/core/calendar'
import { showHours as hoursText } from '@heron/core/time'
import { useSession } from '../shell/session'

export { showAmount, showMoney, readMoney } from '@heron/core/money'
export { showCourtDays } from '@heron/core/calendar'
export { timeText }

/** Hours as they are read: `0.7`, `1,234.5`. */
export const showHours = (minutes: number): string =>
  hoursText(minutes).replace(/^(-?\d+)/, (whole) => Number(whole).toLocaleString('en-US'))

/** A date as the office reads it, with the year when it is not this one. */
export const dayText = (day: Day) => showDay(day, useSession().today)

/** `0:23:41` of a timer. */
export function clockText(seconds: number): string {
  const two = (n: number) => String(n).padStart(2, '0')
  return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`
}

/** An instant as a day and time of this computer. */
export function momentText(iso: string): string {
  const at = new Date(iso)
  const two = (n: number) => String(n).padStart(2, '0')
  return `${momentDay(iso)}, ${timeText(`${two(at.getHours())}:${two(at.getMinutes())}`)}`
}
/** The day of a moment where its reader is: an evening is not yet the next day, as it is in UTC. */
export function momentDay(iso: string): string {
  const at = new Date(iso)
  return dayText(dayOf(at.getFullYear(), at.getMonth() + 1, at.getDate()))
}

export { counted as plural } from '@heron/core/words'

/** `25 Nov`, where the weekday already stands. */
export const dateText = (day: Day) => dayText(day).slice(4)

/** `Nov 2026` of a month written `2026-11`. */
export const monthText = (month: string) => showDay(`${month}-01` as Day).slice(6)

const servedHow: Record<string, string> = {
  hand: 'by hand',
  electronic: 'electronically',
  mail: 'by mail',
  'mail-out-of-state': 'by mail out of state',
  overnight: 'by overnight carrier',
  clerk: 'by leaving with the clerk',
  agreed: 'by agreed means',
}
export const serviceText = (key: string) => servedHow[key] ?? `by ${key}`
