import type { PayerIn } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { Contact, contactsThere } from '../people'
import { change, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, work } from '../platform/database'
import { Matter } from '../platform/shared-entities'
import { MatterPayer } from './entities'
import { payersOf } from './team-queries'

export async function writePayers(m: EntityManager, matterId: number, payers: readonly PayerIn[]) {
  await m.delete(MatterPayer, { matterId })
  if (payers.length)
    await insertMany(
      m,
      'matter_payer',
      ['matter_id', 'ordinal', 'contact_id', 'fixed', 'basis_points'],
      payers.map((p, i) => [matterId, i + 1, p.contactId, p.fixed, p.basisPoints]),
    )
}

const inWords = (payers: readonly { name: string; share: string }[]) => payers.map((p) => `${p.name} ${p.share}`).join(', ')

/** Says whom to bill, and how bills are split where several pay. Pre-bills that wait keep the payers they were made with. */
export function setBilling(ctx: Ctx, { id, billToId, payers }: { id: number; billToId: number; payers: PayerIn[] }): Promise<void> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, id, 'money', change)
    const first = payers[0]?.contactId ?? billToId
    await contactsThere(m, ctx, [['billToId', first], ...payers.map((p, i) => [`payers.${i}.contactId`, p.contactId] as const)])
    const was = await payersOf(m, id)
    await m.update(Matter, id, { billToId: first })
    await writePayers(m, id, payers)
    const now = await payersOf(m, id)
    const who = await m.find(Contact, { select: { name: true, id: true }, where: { id: first } })
    await audit(m, ctx, {
      kind: 'changed',
      text: now.length ? `Bills are split: ${inWords(now)}` : `Bills go to ${who[0]!.name}`,
      matterId: id,
      subject: 'matter',
      subjectId: id,
      ...(was.length ? { detail: { was: { payers: inWords(was) }, became: { payers: inWords(now) } } } : {}),
    })
  })
}
