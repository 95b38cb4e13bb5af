import { createHash, randomBytes } from 'node:crypto'
import { IsNull, type EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { locked, row, rows, work } from '../platform/database'
import { openOf } from '../platform/figures'
import { notFound, refused } from '../platform/problem'
import { processorInUse } from '../platform/processor'
import { siteAddress } from '../platform/site'
import { PayLink } from './card-entities'

/** What is kept of the secret of a link. */
export const hashed = (secret: string) => createHash('sha256').update(secret).digest('hex')

async function billOf(m: EntityManager, ctx: Ctx, id: number) {
  const bill = await row<{ id: number; number: string; matterId: number; open: number }>(
    m,
    `SELECT b.id, b.number, b.matter_id AS matterId, ${openOf('b')} AS open FROM bill b JOIN matter m ON m.id = b.matter_id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  )
  if (!bill) throw notFound('bill')
  return bill
}

export async function payLinksOf(ctx: Ctx, billId: number) {
  const m = ctx.db.manager
  await billOf(m, ctx, billId)
  const links = await rows<{ id: number; by: string; madeAt: string; endedAt: string | null }>(
    m,
    `SELECT l.id, u.name AS \`by\`, l.made_at AS madeAt, l.ended_at AS endedAt FROM pay_link l JOIN user_account u ON u.id = l.made_by WHERE l.bill_id = ? ORDER BY l.id DESC LIMIT 20`,
    [billId],
  )
  const charges =
    await rows<{ id: string; amount: number; state: 'begun' | 'refused' | 'paid' | 'disputed'; method: 'card' | 'bank'; fee: number | null; fault: string; at: string }> // prettier-ignore
    (m, `SELECT id, amount, state, method, fee, fault, begun_at AS at FROM card_charge WHERE bill_id = ? ORDER BY begun_at DESC LIMIT 50`, [
      billId,
    ])
  return {
    offered: processorInUse() !== null,
    links: links.map((l) => ({ ...l, madeAt: isoOf(l.madeAt), endedAt: l.endedAt && isoOf(l.endedAt) })),
    charges: charges.map((c) => ({ ...c, at: isoOf(c.at) })),
  }
}

async function linkTo(m: EntityManager, ctx: Ctx, bill: { id: number; number: string; matterId: number }, origin: string) {
  const token = randomBytes(24).toString('base64url')
  await m.insert(PayLink, {
    billId: bill.id,
    tokenHash: hashed(token),
    origin: origin.slice(0, 200),
    madeBy: ctx.actor.id,
    madeAt: instant(ctx.clock.now()),
  })
  const { id } = (await row<{ id: number }>(m, `SELECT LAST_INSERT_ID() AS id`))!
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
