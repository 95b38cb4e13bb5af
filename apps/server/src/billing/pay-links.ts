import { randomBytes } from 'node:crypto'
import { IsNull, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { locked, work } from '../platform/database'
import { notFound, refused } from '../platform/problem'
import { processorInUse } from '../platform/processor'
import { siteAddress } from '../platform/site'
import { PayLink } from './card-entities'
import { billOf, hashed, linkMade } from './card-queries'

async function linkTo(m: EntityManager, ctx: Ctx, bill: { id: number; number: string; matterId: number }, origin: string) {
  const token = randomBytes(24).toString('base64url')
  await m.insert(PayLink, {
    billId: bill.id,
    tokenHash: hashed(token),
    origin: origin.slice(0, 200),
    madeBy: ctx.actor.id,
    madeAt: instant(ctx.clock.now()),
  })
  const { id } = (await linkMade(m))!
  await audit(m, ctx, { kind: 'shared', text: `Link to pay bill ${bill.number} made`, matterId: bill.matterId, subject: 'bill', subjectId: bill.id }) // prettier-ignore
  return { id, url: `${origin}/pay/${token}` }
}

export const makePayLink = (ctx: Ctx, billId: number, origin: string): Promise<{ id: number; url: string }> =>
  work(ctx, async (m) => {
    const bill = await billOf(m, ctx, billId)
    if (!processorInUse()) throw refused('no-processor', 'No card processor is set up for this server.')
    if (bill.open <= 0) throw refused('nothing-open', `Bill ${bill.number} leaves nothing open.`)
    return linkTo(m, ctx, bill, origin)
  })

/** A link for a letter that is about to go out; none where the bill cannot be paid by one. */
export async function linkInLetter(m: EntityManager, ctx: Ctx, billId: number): Promise<string> {
  const bill = await billOf(m, ctx, billId)
  return processorInUse() && bill.open > 0 ? (await linkTo(m, ctx, bill, siteAddress())).url : ''
}

export const endPayLink = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const link = await m.findOne(PayLink, { select: { billId: true, id: true }, where: { id }, ...locked(m) })
    if (!link) throw notFound('link')
    const bill = await billOf(m, ctx, link.billId!)
    await m.update(PayLink, { id, endedAt: IsNull() }, { endedAt: instant(ctx.clock.now()) })
    await audit(m, ctx, { kind: 'shared', text: `Link to pay bill ${bill.number} ended`, matterId: bill.matterId, subject: 'bill', subjectId: bill.id }) // prettier-ignore
  })
