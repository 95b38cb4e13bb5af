import { In } from 'typeorm'
import { change, requireMatter, requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, lockRow, work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { Matter, UserAccount } from '../platform/shared-entities'
import { MatterFeeShare } from './entities'
import { feeSharesOf } from './issue-queries'

export async function feeShares(ctx: Ctx, matterId: number) {
  await requireMatter(ctx.db.manager, ctx, matterId, 'money')
  const staff = await ctx.db.manager.find(UserAccount, {
    select: { id: true, name: true },
    where: { active: true },
    order: { name: 'ASC' },
  })
  return { shares: await feeSharesOf(ctx.db.manager, matterId), staff }
}

/** Sets who shares the fees of bills from now on; what is issued keeps the shares that it was issued with. */
export const setFeeShares = (ctx: Ctx, matterId: number, shares: readonly { userId: number; basisPoints: number }[]) =>
  work(ctx, async (m) => {
    await requireOpenMatter(m, ctx, matterId, 'money')
    await requireMatter(m, ctx, matterId, 'money', change)
    await lockRow(m, Matter, matterId)
    const ids = shares.map((s) => s.userId)
    if (new Set(ids).size < ids.length) throw fieldFault('shares', 'Name each person once')
    const known = ids.length ? await m.find(UserAccount, { select: { id: true, name: true }, where: { id: In(ids) } }) : []
    if (known.length < ids.length) throw fieldFault('shares', 'Choose people of the firm')
    if (shares.length && shares.reduce((n, s) => n + s.basisPoints, 0) !== 10_000)
      throw fieldFault('shares', 'The parts make 100 % together')
    await m.delete(MatterFeeShare, { matterId })
    if (shares.length)
      await insertMany(m, 'matter_fee_share', ['matter_id', 'user_id', 'basis_points'], shares.map((s) => [matterId, s.userId, s.basisPoints])) // prettier-ignore
    const nameOf = new Map(known.map((k) => [k.id, k.name]))
    const told = shares.map((s) => `${nameOf.get(s.userId)} ${s.basisPoints / 100} %`).join(', ')
    await audit(m, ctx, { kind: 'changed', text: told ? `Fixed fees are shared: ${told}` : 'Fixed fees are shared by recorded value', matterId, subject: 'pre-bill', subjectId: matterId }) // prettier-ignore
  })
