import type { BillLookIn } from '@heron/contract'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, run, work } from '../platform/database'

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
    await run(m, `UPDATE firm SET bill_group = ?, bill_summary = ?, bill_trust = ?, bill_slip = ?`, [
      input.group,
      input.summary,
      input.trust,
      input.slip,
    ])
    await audit(m, ctx, { kind: 'set up', text: 'What bills show changed', subject: 'fee', subjectId: 0 })
  })
