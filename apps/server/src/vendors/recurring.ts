import type { VendorBillIn, VendorRecurringIn } from '@heron/contract'
import { addDays, addMonths, addYears, dayOf, daysInMonth, faultOfPast, parts, showDay, type Day } from '@heron/core/calendar'
import { nextOfMonth } from '@heron/core/costs'
import { sum } from '@heron/core/money'
import { actorOf } from '../platform/auth'
import type { Base } from '../platform/area'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertRow, locked, touched, work } from '../platform/database'
import { fieldFault, notFound, Problem } from '../platform/problem'
import { enterBillIn } from './bills'
import { dueRecurring, vendorOf } from './queries'
import { VendorRecurring } from './entities'

/** Bills that are caught up at once, where the server stood still. */
const mostAtOnce = 24

/** The next day after one, so many months on, at that date of the month or the month's last. */
function nextAfter(day: Day, dayOfMonth: number, everyMonths: number): Day {
  const [year, month] = parts(addMonths(dayOf(parts(day)[0], parts(day)[1], 1), everyMonths))
  return dayOf(year, month, Math.min(dayOfMonth, daysInMonth(year, month)))
}

export const makeRecurring = (ctx: Ctx, input: VendorRecurringIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const vendor = await vendorOf(m, ctx, input.vendorId)
    if (!vendor) throw fieldFault('vendorId', 'Choose someone on record')
    const today = ctx.clock.today()
    const wrong = faultOfPast(input.firstOn, today)
    if (wrong && input.firstOn < today) throw fieldFault('firstOn', wrong)
    if (input.firstOn < addDays(today, -62)) throw fieldFault('firstOn', 'It may begin two months back at most')
    if (input.firstOn > addYears(today, 2)) throw fieldFault('firstOn', 'It may begin two years ahead at most')
    if (input.until && input.until < input.firstOn) throw fieldFault('until', 'It would end before it begins')
    const nextOn = nextOfMonth(addDays(input.firstOn, -1), input.dayOfMonth)
    const id = await insertRow(m, VendorRecurring, {
      vendorId: vendor.id,
      memo: input.memo,
      dayOfMonth: input.dayOfMonth,
      everyMonths: input.everyMonths,
      dueDays: input.dueDays,
      lineList: JSON.stringify(input.lines),
      amount: sum(input.lines.map((l) => l.amount)),
      nextOn: input.until && nextOn > input.until ? null : nextOn,
      until: input.until,
      madeBy: ctx.actor.id,
    })
    // What would be refused each time is refused now: the first is tried, and taken back.
    await m.query('SAVEPOINT tried')
    await enterBillIn(m, ctx, billFor({ ...input, day: nextOn < today ? nextOn : today }), id)
    await m.query('ROLLBACK TO SAVEPOINT tried')
    await audit(m, ctx, { kind: 'entered', text: `Bill of ${vendor.name} that comes again from ${showDay(nextOn)}: ${input.memo}`, subject: 'vendor bill', subjectId: null }) // prettier-ignore
    return { id }
  })

const billFor = (r: { vendorId: number; memo: string; dueDays: number; lines: VendorBillIn['lines']; day: Day }): VendorBillIn => ({
  vendorId: r.vendorId,
  number: '',
  day: r.day,
  dueOn: addDays(r.day, r.dueDays),
  discountOn: null,
  discount: 0,
  memo: r.memo,
  lines: r.lines,
})

export const endRecurring = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const r = await m.findOne(VendorRecurring, {
      select: { vendorId: true, memo: true, id: true },
      where: { id },
      ...locked(m),
    })
    const vendor = r && (await vendorOf(m, ctx, r.vendorId))
    if (!r || !vendor) throw notFound('bill that comes again')
    await m.update(VendorRecurring, { id }, { nextOn: null })
    await audit(m, ctx, {
      kind: 'changed',
      text: `Bill of ${vendor.name} comes no more: ${r.memo}`,
      subject: 'vendor bill',
      subjectId: null,
    })
  })

/** Enters one that is due, on its day, and says when the next is; the unique key of its day refuses a second. */
const enterDue = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    const r = await m.findOne(VendorRecurring, {
      select: {
        vendorId: true,
        memo: true,
        dayOfMonth: true,
        everyMonths: true,
        dueDays: true,
        lineList: true,
        nextOn: true,
        until: true,
        id: true,
      },
      where: { id },
      ...locked(m),
    })
    if (!r?.nextOn || r.nextOn > ctx.clock.today()) return false
    await enterBillIn(m, ctx, billFor({ ...r, lines: JSON.parse(r.lineList) as VendorBillIn['lines'], day: r.nextOn }), id)
    const next = nextAfter(r.nextOn, r.dayOfMonth, r.everyMonths)
    await m.update(VendorRecurring, { id }, { nextOn: r.until && next > r.until ? null : next, fault: '' })
    return true
  })

/** Enters what is due of all bills that come again, for whoever let them; what is refused says why, where they are listed. */
export async function enterAllDue(base: Base): Promise<void> {
  for (const due of await dueRecurring(base.db.manager, base.clock.today())) {
    const actor = await actorOf(base.db.manager, due.madeBy)
    const told = (fault: string) => touched(base.db.manager.update(VendorRecurring, { id: due.id }, { fault: fault.slice(0, 300) }))
    if (!actor) {
      await told('Whoever set it up has left: set it up anew.')
      continue
    }
    try {
      for (let n = 0; n < mostAtOnce && (await enterDue({ ...base, actor }, due.id)); n++);
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      await told(error.message)
    }
  }
}
