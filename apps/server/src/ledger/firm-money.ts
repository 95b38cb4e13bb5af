import { bankKinds } from '@heron/core/ledger'
import { faultOfPast, type Day } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { bankAccount, ensureLedger, operatingBank } from './ledgers'
import { move } from './door'
import { accountFor } from './posting'

/** Puts firm money for bank charges into a trust account; it has a ledger of its own there. */
export function depositFirmMoney(
  ctx: Ctx,
  bankAccountId: number,
  day: Day,
  amount: number,
  operatingAccountId: number | null = null,
): Promise<{ journalId: number }> {
  return work(ctx, async (m) => {
    const trust = await bankAccount(m, bankAccountId)
    const wrongDay = faultOfPast(day, ctx.clock.today())
    if (wrongDay) throw fieldFault('day', wrongDay)
    if (!bankKinds[trust.kind].trust) throw fieldFault('bankAccountId', 'Choose a trust account')
    const operating = await operatingBank(m, operatingAccountId)
    const account = await accountFor(m)
    const ledgerId = await ensureLedger(m, bankAccountId, { kind: 'firm' })
    const text = 'Firm money for bank charges'
    const journalId = await move(
      m,
      ctx,
      { day, kind: 'firm money', memo: text },
      {
        lines: [
          { account: trust.glAccountId, amount },
          { account: trust.liabilityAccountId!, amount: -amount },
          { account: account('firm money in trust'), amount },
          { account: operating.glAccountId, amount: -amount },
        ],
        bank: [
          { bankAccountId, amount, kind: 'transfer', text },
          { bankAccountId: operating.id, amount: -amount, kind: 'transfer', text },
        ],
        ledgers: [{ ledgerId, bankAccountId, amount, text }],
      },
    )
    await audit(m, ctx, {
      kind: 'posted',
      text: `${text}: ${showMoney(amount)} into ${trust.name}`,
      subject: 'journal',
      subjectId: journalId,
    })
    return { journalId }
  })
}
