import { instant, isoOf, type Ctx } from '../platform/context'
import { StandingCheck } from './entities'
import { checkLast, type CheckResult, compare } from './check-queries'

/**
 * Compares what is kept as separate records: the bank book, the liability account, the client ledgers and their
 * closing balances; and that every journal balances and is posted. Keeps the result with its time.
 */
export async function runStandingCheck(ctx: Pick<Ctx, 'db' | 'clock'>): Promise<CheckResult> {
  return ctx.db.transaction('REPEATABLE READ', async (m) => {
    const { ok, ...detail } = await compare(m)
    const at = instant(ctx.clock.now())
    await m.insert(StandingCheck, { at, ok, detail: JSON.stringify(detail) })
    return { at: isoOf(at), ok, ...detail }
  })
}

export async function lastCheck(ctx: Pick<Ctx, 'db' | 'clock'>): Promise<CheckResult> {
  const last = await checkLast(ctx)
  // Before the first check was kept: as it stands now, with no time to show.
  if (!last) return { at: null, ...(await ctx.db.transaction('REPEATABLE READ', compare)) }
  const detail = JSON.parse(last.detail) as Pick<CheckResult, 'unbalancedJournals' | 'accounts'> & Partial<Pick<CheckResult, 'firmMoney'>>
  return { at: isoOf(last.at), ok: Boolean(last.ok), firmMoney: { ledgers: 0, account: 0 }, ...detail }
}
