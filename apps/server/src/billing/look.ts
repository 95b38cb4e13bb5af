import type { BillLookIn } from '@heron/contract'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { Firm } from '../platform/shared-entities'

export const changeBillLook = (ctx: Ctx, input: BillLookIn): Promise<void> =>
  work(ctx, async (m) => {
    await m.updateAll(Firm, { billGroup: input.group, billSummary: input.summary, billTrust: input.trust, billSlip: input.slip })
    await audit(m, ctx, { kind: 'set up', text: 'What bills show changed', subject: 'fee', subjectId: 0 })
  })
