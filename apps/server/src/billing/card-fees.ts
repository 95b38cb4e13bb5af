import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { accountFor, move, operatingBank } from '../ledger'
import type { Ctx } from '../platform/context'

/** Books what the processor kept of a payment by link, out of the operating account that it settles into; tells the journal. */
export async function bookCardFee(
  m: EntityManager,
  ctx: Ctx,
  day: Day,
  charge: { id: string; method: 'card' | 'bank' },
  fee: number,
  on: { words: string; subject: 'bill' | 'call'; subjectId: number },
): Promise<number> {
  const account = await accountFor(m)
  const bank = await operatingBank(m, null)
  const text = `${charge.method === 'bank' ? 'Fee of a bank debit' : 'Card fee'} on ${on.words}, ${charge.id}`
  return move(
    m,
    ctx,
    { day, kind: 'card fee', memo: text, subject: on.subject, subjectId: on.subjectId },
    {
      lines: [
        { account: account('bank charges'), amount: fee },
        { account: bank.glAccountId, amount: -fee },
      ],
      bank: [{ bankAccountId: bank.id, amount: -fee, kind: 'charge', reference: charge.id, text }],
    },
  )
}
