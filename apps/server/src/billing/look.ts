import type { BillLookIn } from '@heron/contract'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, work } from '../platform/database'
import { Firm } from '../platform/shared-entities'

/** How the firm's bills look beyond the letterhead. */
export async function billLook(ctx: Ctx): Promise<BillLookIn> {
  const f = (await row<{ billGroup: BillLookIn['group']; summary: number; trust: number; slip: number }>(
    ctx.db.manager,
    `SELECT bill_group AS billGroup, bill_summary AS summary, bill_trust AS trust, bill_slip AS slip FROM firm`,
  ))!
  return { group: f.billGroup, summary: Boolean(f.summary), trust: Boolean(f.trust), slip: Boolean(f.slip) }
}
export const changeBillLook = (ctx: Ctx, input: BillLookIn): Promise<void> =>
  work(ctx, async (m) => {
    await m.updateAll(Firm, { billGroup: input.group, billSummary: input.summary, billTrust: input.trust, billSlip: input.slip })
    await audit(m, ctx, { kind: 'set up', text: 'What bills show changed', subject: 'fee', subjectId: 0 })
  })
