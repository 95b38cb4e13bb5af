import { addDays, dayOf, daysInMonth, parts, weekday, type Day } from '../calendar'
import type { Cents } from '../money'

/** A week of the firm: seven days, of which the last is the firm's own last day of the week. */
export interface Week {
  from: Day
  to: Day
}

/** The week in which a day lies, where weeks end on a weekday (1 Monday to 7 Sunday). Throws RangeError for any other. */
export function weekOf(day: Day, endsOn: number): Week {
  if (!Number.isInteger(endsOn) || endsOn < 1 || endsOn > 7) throw new RangeError('A week ends on a day from 1 to 7')
  const to = addDays(day, (endsOn - weekday(day) + 7) % 7)
  return { from: addDays(to, -6), to }
}

/** The week of a day and those before it, the newest first; at most 60. */
export function weeksBack(day: Day, endsOn: number, count: number): Week[] {
  const last = weekOf(day, endsOn)
  return Array.from({ length: Math.min(60, Math.max(1, count)) }, (_, i) => ({
    from: addDays(last.from, -7 * i),
    to: addDays(last.to, -7 * i),
  }))
}

/** What someone is to reach from a day on; `collected` goals count money, the others value recorded. */
export interface Goal {
  from: Day
  basis: 'billable' | 'collected'
  weekly: Cents | null
  monthly: Cents | null
}

/** The goal in force on a day: the latest whose day has come; null where there is none. One that sets neither amount leaves the one before. */
export function goalOn<G extends Goal>(goals: readonly G[], day: Day): G | null {
  let best: G | null = null
  for (const g of goals) if ((g.weekly !== null || g.monthly !== null) && g.from <= day && (!best || g.from > best.from)) best = g
  return best
}

/**
 * The last day up to today on which something that goes out every week (on a weekday, 1 Monday to 7 Sunday) or month (on a date, the last
 * day where the month is shorter) was due.
 */
export function lastDue(every: 'week' | 'month', onDay: number, today: Day): Day {
  if (every === 'week') return addDays(today, -((weekday(today) - onDay + 7) % 7))
  const [y, m] = parts(today)
  const own = dayOf(y, m, Math.min(onDay, daysInMonth(y, m)))
  if (own <= today) return own
  const before = parts(addDays(dayOf(y, m, 1), -1))
  return dayOf(before[0], before[1], Math.min(onDay, daysInMonth(before[0], before[1])))
}

/** The month in which a day lies, first and last day. */
export function monthOf(day: Day): Week {
  const [y, m] = parts(day)
  return { from: dayOf(y, m, 1), to: dayOf(y, m, daysInMonth(y, m)) }
}

/**
 * What is to be reached in a week. The goal is the one in force on its last day. Where only a month's is set, the week has of it what
 * its working days are of those of the month in which it ends, rounded half up to the cent; `workDays` counts them.
 */
export function weeklyGoal(goal: Goal | null, week: Week, workDays: (from: Day, to: Day) => number): Cents | null {
  if (!goal) return null
  if (goal.weekly !== null) return goal.weekly
  if (goal.monthly === null) return null
  const month = monthOf(week.to)
  const all = workDays(month.from, month.to)
  return all ? Math.floor((2 * goal.monthly * workDays(week.from, week.to) + all) / (2 * all)) : null
}

/** What is to be reached in a month: its own goal, else the week's for each five working days of it, half up. */
export function monthlyGoal(goal: Goal | null, month: Week, workDays: (from: Day, to: Day) => number): Cents | null {
  if (!goal) return null
  if (goal.monthly !== null) return goal.monthly
  return goal.weekly === null ? null : Math.floor((2 * goal.weekly * workDays(month.from, month.to) + 5) / 10)
}

/** A share in hundredths of a percent, half up and below zero half away; null of nothing. */
export function shareOf(part: Cents, whole: Cents | null): number | null {
  if (!whole || whole < 0) return null
  const size = Math.floor((2 * Math.abs(part) * 10_000 + whole) / (2 * whole))
  return part < 0 ? -size : size
}

/** What someone usually records in a week: the median of the weeks in which anything was recorded, in minutes; null below four. */
export function usualMinutes(weeks: readonly number[]): number | null {
  const some = weeks.filter((m) => m > 0).sort((a, b) => a - b)
  if (some.length < 4) return null
  const middle = some.length >> 1
  return some.length % 2 ? some[middle]! : Math.round((some[middle - 1]! + some[middle]!) / 2)
}

export interface Recorded {
  /** Minutes of whole weeks that are over, newest first. */
  weeks: readonly number[]
  /** Minutes of the week that runs, and its working days that are over of all that it has. */
  now: number
  daysOver: number
  days: number
  /** Working days of the last whole week on which they were there; one who was away is not missed. */
  there: number
}

/**
 * Whether someone has stopped recording, against their own usual: the last whole week has less than half of it, or two working days
 * and more of this one are over without a minute. Null where nothing stands out, there is no usual yet, or they were away.
 */
export function stopped(r: Recorded): { usual: number; was: number; of: 'last week' | 'this week' } | null {
  const usual = usualMinutes(r.weeks.slice(1))
  if (usual === null || r.there === 0) return null
  const last = r.weeks[0] ?? 0
  if (last * 2 < Math.round((usual * r.there) / 5)) return { usual, was: last, of: 'last week' }
  return r.daysOver >= 2 && r.now === 0 && usual * r.daysOver >= r.days * 60 ? { usual, was: 0, of: 'this week' } : null
}
