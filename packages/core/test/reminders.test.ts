import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addCourtDays, addDays, type Day } from '../src/calendar'
import {
  calendarFor,
  explainDate,
  leadsFor,
  remindersDue,
  shippedHolidaySets,
  shippedRuleSets,
  usualLeads,
  workOutDates,
} from '../src/docket'

const federal = shippedRuleSets.find((s) => s.key === 'us-federal-civil')!
const court = calendarFor(federal, shippedHolidaySets, null)

describe('reminders', () => {
  it('come on the usual court days before, over weekends and holidays', () => {
    // Thu 10 Dec 2026: ten court days before is Wed 25 Nov, since Thanksgiving does not count.
    const entry = { day: '2026-12-10' as const, placedOn: '2026-10-01' as const }
    const on = (today: Day) => remindersDue(entry, usualLeads, today, court).filter((r) => r.on === today)
    expect(on('2026-11-25').map((r) => r.lead)).toEqual([10])
    expect(on('2026-12-03').map((r) => r.lead)).toEqual([5])
    expect(on('2026-12-09').map((r) => r.lead)).toEqual([1])
    expect(on('2026-12-10').map((r) => r.lead)).toEqual([0])
    expect(on('2026-11-26')).toEqual([])
  })
  it('are late after their day, even after the date itself', () => {
    const entry = { day: '2026-12-10' as const, placedOn: '2026-10-01' as const }
    expect(remindersDue(entry, [1, 0], '2026-12-14', court).map((r) => r.late)).toEqual([true, true])
    expect(remindersDue(entry, [1, 0], '2027-01-30', court)).toEqual([])
  })
  it('of a strict date cannot be turned off', () => {
    expect(leadsFor('rule', [], null)).toEqual([])
    expect(leadsFor('rule', null, [3, 1, 3])).toEqual([3, 1])
    expect(leadsFor('strict', [], null)).toEqual([...usualLeads])
    expect(leadsFor('strict', null, [])).toEqual([...usualLeads])
    expect(leadsFor('strict', [3], [7])).toEqual([10, 5, 3, 1, 0])
  })
  it('follow what the firm sets: usual days for whoever chose none, strict ones for all', () => {
    const firm = { usual: [3, 0], strict: [15, 1] }
    expect(leadsFor('rule', null, null, firm)).toEqual([3, 0])
    expect(leadsFor('rule', null, [], firm)).toEqual([])
    expect(leadsFor('strict', null, null, firm)).toEqual([15, 3, 1, 0])
    expect(leadsFor('strict', [], [4], firm)).toEqual([15, 1])
  })
  it('always come once, on the day counted, and never for a date that was docketed after it', () => {
    const day = fc.integer({ min: 0, max: 400 }).map((n) => addDays('2026-06-01', n))
    fc.assert(
      fc.property(day, day, fc.uniqueArray(fc.nat(20), { maxLength: 5 }), (due, placedOn, leads) => {
        const days = Array.from({ length: 60 }, (_, i) => addDays(due, i - 45))
        const went = days.flatMap((today) => remindersDue({ day: due, placedOn }, leads, today, court).filter((r) => !r.late))
        expect(went.map((r) => r.lead).sort()).toEqual(leads.filter((n) => (n ? addCourtDays(court, due, -n) : due) >= placedOn).sort())
      }),
    )
  })
})

describe('a date explained', () => {
  it('reads as a clerk would write it', () => {
    const [answers] = workOutDates({
      ruleSet: federal,
      calendar: court,
      trigger: 'interrogatories-served',
      date: '2026-10-30',
      service: 'mail',
      events: {},
      facts: [],
    })
    const text = explainDate(
      {
        ...answers!,
        day: answers!.date!,
        time: null,
        dayEnds: 'midnight',
        setBy: 'rule',
        ruleDay: null,
        reason: '',
        leftOut: false,
        mark: 'open',
      },
      { name: 'Gannet Ferry Cooperative v. Corvane Towing Co.', caseNumber: '2:26-cv-00381' },
    )
    expect(text).toContain('Answers to interrogatories\nGannet Ferry Cooperative v. Corvane Towing Co., No. 2:26-cv-00381')
    expect(text).toContain('Due Thursday, December 3, 2026, until midnight in the court’s time zone for electronic filing.')
    expect(text).toContain('Set by rule. Authority: Fed. R. Civ. P. 33(b)(2).')
    expect(text).toContain(
      '3. The court is closed on Sun 29 Nov 2026; rolls on to Mon 30 Nov 2026.\n4. Service by mail adds 3 calendar days: Thu 3 Dec 2026.',
    )
  })
})
