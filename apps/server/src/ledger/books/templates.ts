import type { JournalTemplateIn } from '@heron/contract'
import { addDays, addMonths, addYears, dayOf, daysInMonth, parts, showDay } from '@heron/core/calendar'
import { nextOfMonth } from '@heron/core/costs'
import { LessThanOrEqual } from 'typeorm'
import type { Base } from '../../platform/area'
import { audit } from '../../platform/audit'
import { actorOf } from '../../platform/auth'
import type { Ctx } from '../../platform/context'
import { insertRow, locked, touched, work } from '../../platform/database'
import { errno, fieldFault, notFound, Problem } from '../../platform/problem'
import { enterJournal } from './journals'
import { JournalTemplate } from './entities'
import { linesOf, lockedTemplate } from './journal-queries'

/** Journals that are caught up at once, where the server stood still. */
const mostAtOnce = 24

/** Keeps a journal as a template; one that recurs is tried at once, so that what would be refused each time is refused now. */
export const keepTemplate = (ctx: Ctx, input: JournalTemplateIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const today = ctx.clock.today()
    const r = input.recurs
    if (r && r.firstOn < addDays(today, -62)) throw fieldFault('recurs.firstOn', 'It may begin two months back at most')
    if (r && r.firstOn > addYears(today, 2)) throw fieldFault('recurs.firstOn', 'It may begin two years ahead at most')
    if (r?.until && r.until < r.firstOn) throw fieldFault('recurs.until', 'It would end before it begins')
    await m.query('SAVEPOINT tried')
    await enterJournal({ ...ctx, tx: m }, { day: today, memo: input.memo, lines: input.lines })
    await m.query('ROLLBACK TO SAVEPOINT tried')
    const first = r ? nextOfMonth(addDays(r.firstOn, -1), r.dayOfMonth) : null
    const nextOn = r?.until && first && first > r.until ? null : first
    let id: number
    try {
      const madeId = await insertRow(m, JournalTemplate, {
        name: input.name,
        memo: input.memo,
        lineList: JSON.stringify(input.lines),
        dayOfMonth: r?.dayOfMonth ?? null,
        everyMonths: r?.everyMonths ?? null,
        nextOn,
        until: r?.until ?? null,
        madeBy: ctx.actor.id,
      })
      id = madeId
    } catch (error) {
      if (errno(error) === 1062) throw fieldFault('name', `There is a template called ${input.name} already`)
      throw error
    }
    await audit(m, ctx, { kind: 'set up', text: `Journal template ${input.name} kept${nextOn ? `, by itself from ${showDay(nextOn)}` : ''}`, subject: 'account' }) // prettier-ignore
    return { id }
  })

export const removeTemplate = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const t = await m.findOne(JournalTemplate, { select: { name: true, id: true }, where: { id }, ...locked(m) })
    if (!t) throw notFound('template')
    await m.delete(JournalTemplate, { id })
    await audit(m, ctx, { kind: 'set up', text: `Journal template ${t.name} removed`, subject: 'account' })
  })

/** Posts one that is due, on its day, and says when the next is; whoever comes second finds it moved on. */
const postDue = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    const t = await lockedTemplate(m, id)
    if (!t?.nextOn || t.nextOn > ctx.clock.today()) return false
    await enterJournal({ ...ctx, tx: m }, { day: t.nextOn, memo: t.memo, lines: linesOf(t) })
    const [year, month] = parts(addMonths(dayOf(parts(t.nextOn)[0], parts(t.nextOn)[1], 1), t.everyMonths ?? 1))
    const next = dayOf(year, month, Math.min(t.dayOfMonth ?? 1, daysInMonth(year, month)))
    await m.update(JournalTemplate, { id }, { nextOn: t.until && next > t.until ? null : next, fault: '' })
    return true
  })

/** Posts what is due of all journals that recur, for whoever let them; what is refused says why, where they are listed. */
export async function postAllDue(base: Base): Promise<void> {
  const m = base.db.manager
  for (const due of await m.find(JournalTemplate, {
    select: { id: true, madeBy: true },
    where: { nextOn: LessThanOrEqual(base.clock.today()) },
    order: { nextOn: 'ASC', id: 'ASC' },
    take: 1000,
  })) {
    const actor = await actorOf(m, due.madeBy)
    const told = (fault: string) => touched(m.update(JournalTemplate, { id: due.id }, { fault: fault.slice(0, 300) }))
    if (!actor) {
      await told('Who let it recur has left. Remove it, and keep it anew.')
      continue
    }
    try {
      for (let n = 0; n < mostAtOnce && (await postDue({ ...base, actor }, due.id)); n++);
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      await told(error.message)
    }
  }
}
