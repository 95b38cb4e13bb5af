import { addCourtDays, addDays, type CourtCalendar, type Day } from '../calendar'
import type { Weight } from './rule-set'

/** Court days before a date on which its people are reminded, unless changed; 0 is the day itself. */
export const usualLeads: readonly number[] = [10, 5, 1, 0]

/** What a firm sets: the days for whoever chose none, and those of strict dates, which everyone gets. */
export interface FirmLeads {
  usual: readonly number[]
  strict: readonly number[]
}

/**
 * The court days before a date on which one person is reminded of it: what was chosen for this date, else the person's own
 * choice, else the firm's usual ones. Reminders of a strict date cannot be turned off, only added to.
 */
export function leadsFor(
  weight: Weight,
  ofEntry: readonly number[] | null,
  ofPerson: readonly number[] | null,
  firm: FirmLeads = { usual: usualLeads, strict: usualLeads },
): number[] {
  const chosen = ofEntry ?? ofPerson ?? firm.usual
  const all = weight === 'strict' ? [...chosen, ...firm.strict] : chosen
  return [...new Set(all)].filter((n) => Number.isInteger(n) && n >= 0 && n <= 60).sort((a, b) => b - a)
}

export interface DueReminder {
  lead: number
  /** The day on which it should go out. */
  on: Day
  /** It goes out after that day, or after the date itself. */
  late: boolean
}

/**
 * Reminders of a date that should have gone out by today. A date that came on the docket after the day of a reminder is not
 * reminded of on that account: whoever docketed it has just seen it. What is more than 30 days past is let be.
 */
export function remindersDue(
  entry: { day: Day; placedOn: Day },
  leads: readonly number[],
  today: Day,
  calendar: CourtCalendar,
): DueReminder[] {
  if (entry.day < addDays(today, -30)) return []
  return leads
    .map((lead) => ({ lead, on: lead ? addCourtDays(calendar, entry.day, -lead) : entry.day }))
    .filter((r) => r.on <= today && r.on >= entry.placedOn)
    .map((r) => ({ ...r, late: r.on < today }))
}
