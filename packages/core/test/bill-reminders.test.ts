import { expect, it } from 'vitest'
import { nextReminder, readReminderDays } from '../src/billing'

it('days of reminders rise, one to three', () => {
  expect([readReminderDays('7, 21,45'), readReminderDays('10')]).toEqual([[7, 21, 45], [10]])
  for (const wrong of ['', '0', '7, 7', '21, 7', '1,2,3,4', '7 days', '400']) expect(readReminderDays(wrong), wrong).toBeNull()
})
it('a reminder is due by the days past due, and not sooner after the last than the steps lie apart', () => {
  const steps = [7, 21, 45]
  expect(nextReminder(steps, 0, 6, null, '2026-11-23')).toBeNull()
  expect(nextReminder(steps, 0, 7, null, '2026-11-23')).toBe(1)
  // The first went out late: the second waits fourteen days from then.
  expect(nextReminder(steps, 1, 30, '2026-11-12', '2026-11-23')).toBeNull()
  expect(nextReminder(steps, 1, 33, '2026-11-09', '2026-11-23')).toBe(2)
  expect(nextReminder(steps, 3, 400, '2026-01-01', '2026-11-23')).toBeNull()
})
