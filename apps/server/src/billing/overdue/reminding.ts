import { readReminderDays } from '@heron/core/billing'
import { weekday } from '@heron/core/calendar'
import { overdue, remind } from '.'
import { audit } from '../../platform/audit'
import type { Base } from '../../platform/area'
import type { Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { fieldFault, Problem } from '../../platform/problem'
import { Firm } from '../../platform/shared-entities'
import { remindedToday, remindingAs } from './queries'

/** Overdue bills that are looked at in one morning. */
const mostBills = 2000

/** Sets the days of reminders, and whether they go out by themselves: then in the name of whoever says so. */
export const setReminderRule = (ctx: Ctx, input: { days: string; automatic: boolean }): Promise<void> =>
  work(ctx, async (m) => {
    const days = readReminderDays(input.days)
    if (!days) throw fieldFault('days', 'Give one to three days after the due day that rise, like 7, 21, 45')
    await m.updateAll(Firm, { reminderDays: days.join(','), remindBy: input.automatic ? ctx.actor.id : null })
    const text = `Reminders of bills after ${days.join(', ')} days${input.automatic ? `, by themselves in the name of ${ctx.actor.name}` : ''}`
    await audit(m, ctx, { kind: 'set up', text, subject: 'fee', subjectId: 0 })
  })

/** On the morning of a working day, once: sends what is due of all overdue bills, as whoever asked for it would. */
export async function remindAlone(base: Base, warn: (what: object, text: string) => void): Promise<number> {
  const m = base.db.manager
  const today = base.clock.today()
  const firm = await remindingAs(m)
  if (!firm?.actor || weekday(today) > 5 || base.clock.time() < firm.from) return 0
  // Whoever comes second on a day, another process say, finds it done.
  if (!(await remindedToday(m, today))) return 0
  const ctx: Ctx = { ...base, actor: firm.actor }
  let sent = 0
  for (let page = 1; page <= mostBills / 100; page++) {
    const { rows } = await overdue(ctx, { page, size: 100 })
    for (const b of rows.filter((r) => r.next !== null && r.email)) {
      try {
        sent += (await remind(ctx, [b.id])).sent
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        warn({ bill: b.number, why: error.message }, 'a reminder was not sent')
      }
    }
    if (rows.length < 100) break
  }
  return sent
}
