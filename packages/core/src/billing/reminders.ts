import { daysBetween, type Day } from '../calendar'

/** Most steps of reminders, each with a letter of its own. */
export const mostReminders = 3

/** Reads the days after the due day on which reminders may go out, such as `7, 21, 45`; null unless one to three that rise. */
export function readReminderDays(text: string): number[] | null {
  const days = text.split(/[,;]/).map((d) => d.trim()).filter(Boolean).map(Number) // prettier-ignore
  const rises = days.every((d, i) => Number.isInteger(d) && d >= 1 && d <= 365 && (i === 0 || d > days[i - 1]!))
  return days.length >= 1 && days.length <= mostReminders && rises ? days : null
}

/**
 * Which reminder is due (1 to 3), by the days past due, and not sooner after the last one than the steps lie apart; null where
 * none is. `sent` is the last step that went out, 0 for none.
 */
export function nextReminder(steps: readonly number[], sent: number, daysPastDue: number, last: Day | null, today: Day): number | null {
  const due = steps[sent]
  if (due === undefined || daysPastDue < due) return null
  const apart = sent > 0 ? due - steps[sent - 1]! : 0
  return last && daysBetween(last, today) < apart ? null : sent + 1
}
