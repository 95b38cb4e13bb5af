import type { EntityManager } from 'typeorm'
import { instant, type Ctx } from '../../platform/context'
import { rows, run, work } from '../../platform/database'
import { sha256 } from '../../platform/files'
import { notFound } from '../../platform/problem'
import { requireBank } from './apart'
import { linesByIds } from './queries'

/** A pair of lines and entries, however they are listed. */
export const pairHash = (lineIds: readonly number[], entryIds: readonly number[]) =>
  sha256(`${[...lineIds].sort((a, b) => a - b).join(',')} ${[...entryIds].sort((a, b) => a - b).join(',')}`)
export const refusedPairs = async (m: EntityManager, bankId: number) =>
  new Set((await rows<{ pair: string }>(m, `SELECT pair FROM bank_refused WHERE bank_account_id = ?`, [bankId])).map((r) => r.pair))
/** A proposal that is refused is not made again, until the refusal is taken back. */
export const refusePair = (ctx: Ctx, bankId: number, p: { lineIds: readonly number[]; entryIds: readonly number[]; refused: boolean }) =>
  work(ctx, async (m) => {
    await requireBank(m, bankId)
    const lines = (await linesByIds(m, p.lineIds)).filter((l) => l.bankId === bankId)
    if (lines.length < p.lineIds.length) throw notFound('line')
    const pair = pairHash(p.lineIds, p.entryIds)
    if (p.refused)
      await run(m, `INSERT IGNORE INTO bank_refused (bank_account_id, pair, user_id, at) VALUES (?, ?, ?, ?)`, [bankId, pair, ctx.actor.id, instant(ctx.clock.now())]) // prettier-ignore
    else await run(m, `DELETE FROM bank_refused WHERE bank_account_id = ? AND pair = ?`, [bankId, pair])
  })
