import { addYears, isDay, showDay, type Day } from './dates'

/** The years in which dates of the work may lie: everything that counts, lists or shows days stays linear in them. */
export const earliestDay: Day = '1900-01-01'
export const latestDay: Day = '2200-12-31'
/** The most units that a period may count, and that a sum in a date field may add. */
export const mostUnits = 3650

/** True for an existing date within the years in which dates of the work may lie. */
export const isSensibleDay = (text: string): boolean => isDay(text) && text >= earliestDay && text <= latestDay

/** A period whose count or end is out of bounds; its message says so in words. */
export class OutOfBounds extends RangeError {}

/** The day itself. Throws OutOfBounds where it lies outside the years in which dates of the work may lie. */
export function withinYears(day: Day): Day {
  if (day < earliestDay || day > latestDay || day.length !== 10)
    throw new OutOfBounds(`That leads out of the years ${earliestDay.slice(0, 4)} to ${latestDay.slice(0, 4)}`)
  return day
}

/** How many years back something may be said to have happened, and how many a book date may lie back. */
const yearsBack = { life: 120, work: 60, books: 10 }

/**
 * What is wrong with a day on which something is said to have happened, in words; null where nothing is. It may not lie
 * ahead of today, nor longer ago than is usual: a matter's opening within 60 years, a book date (of money, time, costs,
 * bills) within 10.
 */
export function faultOfPast(day: Day, today: Day, of: keyof typeof yearsBack = 'books'): string | null {
  if (day > today) return `${showDay(day)} lies ahead. Give today or an earlier day`
  if (day < addYears(today, -yearsBack[of])) return `${showDay(day)} lies more than ${yearsBack[of]} years back. Check the year`
  return null
}
