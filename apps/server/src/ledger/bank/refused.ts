import type { EntityManager } from 'typeorm'
import { instant, type Ctx } from '../../platform/context'
import { insertNew, work } from '../../platform/database'
import { sha256 } from '../../platform/files'
import { notFound } from '../../platform/problem'
import { requireBank } from './apart'
import { linesByIds } from './queries'
import { BankRefused } from './entities'

/** A pair of lines and entries, however they are listed. */
export const pairHash = (lineIds: readonly number[], entryIds: readonly number[]) =>
  sha256(`${[...lineIds].sort((a, b) => a - b).join(',')} ${[...entryIds].sort((a, b) => a - b).join(',')}`)
export const refusedPairs = async (m: EntityManager, bankId: number) =>
  new Set((await m.find(BankRefused, { select: { pair: true, bankAccountId: true }, where: { bankAccountId: bankId } })).map((r) => r.pair))
/** A proposal that is refused is not made again, until the refusal is taken back. */
export const refusePair = (ctx: Ctx, bankId: number, p: { lineIds: readonly number[]; entryIds: readonly number[]; refused: boolean }) =>
  work(ctx, async (m) => {
    await requireBank(m, bankId)
    const lines = (await linesByIds(m, p.lineIds)).filter((l) => l.bankId === bankId)
    if (lines.length < p.lineIds.length) throw notFound('line')
    const pair = pairHash(p.lineIds, p.entryIds)
    if (p.refused)
      await insertNew(m, BankRefused, { bankAccountId: bankId, pair, userId: ctx.actor.id, at: instant(ctx.clock.now()) }) // prettier-ignore
    else await m.delete(BankRefused, { bankAccountId: bankId, pair })
  })
