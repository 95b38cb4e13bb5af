import type { RecurringIn } from '@heron/contract'
import { nextOfMonth, markedUp, priceOfUnits, showUnits } from '@heron/core/costs'
import { addDays, addYears, faultOfPast, showDay, type Day } from '@heron/core/calendar'
import { requireMatter } from '../platform/access'
import { actorOf } from '../platform/auth'
import type { Base } from '../platform/area'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { RecurringCost } from './entities'
import { priceCost } from './pricing'
import { dueRecurring, recurringRows } from './queries'
import { recordCostIn } from './service'

/** Months that are caught up at once, where the server stood still. */
const mostAtOnce = 24

export const recurringCosts = async (ctx: Ctx) =>
  (await recurringRows(ctx)).map(({ units, unitRate, amount, markup, ...r }) => ({
    ...r,
    amount: markedUp(units !== null && unitRate !== null ? priceOfUnits(units, unitRate) : (amount ?? 0), markup),
  }))

export const makeRecurring = (ctx: Ctx, input: RecurringIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, input.matterId)
    if (matter.closedOn) throw refused('closed', `${matter.number} is closed. Reopen it first.`)
    const wrong = faultOfPast(input.firstOn, ctx.clock.today())
    if (wrong) throw fieldFault('firstOn', wrong)
    if (input.firstOn < addDays(ctx.clock.today(), -62)) throw fieldFault('firstOn', 'It may begin two months back at most')
    if (input.firstOn > addYears(ctx.clock.today(), 2)) throw fieldFault('firstOn', 'It may begin two years ahead at most')
    if (input.until && input.until < input.firstOn) throw fieldFault('until', 'It would end before it begins')
    const priced = await priceCost(m, { ...input, markup: null })
    if (priced.kind?.hard && !input.payee) throw fieldFault('payee', 'Say to whom it is paid')
    const nextOn = nextOfMonth(addDays(input.firstOn, -1), input.dayOfMonth)
    const id = await insertRow(m, RecurringCost, {
      matterId: input.matterId,
      kindId: input.kindId,
      text: input.text,
      units: priced.units,
      amount: priced.units === null ? priced.paid : null,
      payee: input.payee,
      paidFrom: input.paidFrom,
      dayOfMonth: input.dayOfMonth,
      nextOn: input.until && nextOn > input.until ? null : nextOn,
      until: input.until,
      fault: '',
      madeBy: ctx.actor.id,
    })
    await audit(m, ctx, { kind: 'recorded', text: `Cost that recurs each month from ${showDay(nextOn)}: ${input.text}`, matterId: matter.id, subject: 'cost', subjectId: id }) // prettier-ignore
    return { id }
  })

export const endRecurring = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const r = await m.findOneBy(RecurringCost, { id })
    if (!r) throw notFound('cost that recurs')
    await requireMatter(m, ctx, r.matterId)
    await m.update(RecurringCost, id, { nextOn: null })
    await audit(m, ctx, { kind: 'changed', text: `Cost recurs no more: ${r.text}`, matterId: r.matterId, subject: 'cost', subjectId: id })
  })

/** Records one that is due, on its day, and says when the next is; done twice, the unique key of its day refuses the second. */
const recordDue = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    const r = await m.createQueryBuilder(RecurringCost, 'r').where({ id }).setLock('pessimistic_write').getOne()
    if (!r?.nextOn || r.nextOn > ctx.clock.today()) return false
    const day = r.nextOn as Day
    await recordCostIn(m, ctx, r.matterId, {
      day,
      kindId: r.kindId,
      kind: 'hard cost',
      text: r.text,
      units: r.units === null ? '' : showUnits(Number(r.units)),
      amount: r.units === null ? Number(r.amount) : null,
      payee: r.payee,
      billable: null,
      taxable: null,
      markup: null,
      paidFrom: r.paidFrom,
      receiptId: null,
      ledgerId: null,
      method: 'check',
      payeeAddress: '',
    }, r.id) // prettier-ignore
    const next = nextOfMonth(day, r.dayOfMonth)
    await m.update(RecurringCost, id, { nextOn: r.until && next > r.until ? null : next, fault: '' })
    return true
  })

/** Records what is due of all costs that recur, each for whoever let it recur; what is refused says why, where they are listed. */
export async function recordAllDue(base: Base): Promise<void> {
  for (const due of await dueRecurring(base.db.manager, base.clock.today())) {
    const actor = await actorOf(base.db.manager, due.madeBy)
    const told = (fault: string) => base.db.manager.update(RecurringCost, due.id, { fault: fault.slice(0, 300) })
    if (!actor) {
      await told('Who let it recur has left. End it, and let it recur anew.')
      continue
    }
    try {
      for (let n = 0; n < mostAtOnce && (await recordDue({ ...base, actor }, due.id)); n++);
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      await told(error.message)
    }
  }
}
