import { faultOfPast, type Day } from '@heron/core/calendar'
import { bankKinds } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import { counted } from '@heron/core/words'
import { bankAccount, lockLedger, operatingBank } from '../ledger'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, nextNumber, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { lockBills } from './allocations'
import { payFromTrustIn } from './payments'
import { TransferSheet } from './entities'

/**
 * Pays many issued bills from trust in one act: each bill in a journal of its own, by its own payer’s money, under every rule; both
 * banks see one movement, which is in transit on both sides until their statements show it.
 */
export const makeTransfer = (
  ctx: Ctx,
  input: {
    bankAccountId: number
    operatingAccountId: number | null
    day: Day
    parts: readonly { ledgerId: number; billId: number; amount: number }[]
  },
) =>
  work(ctx, async (m) => {
    const wrong = faultOfPast(input.day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    const bank = await bankAccount(m, input.bankAccountId)
    if (!bankKinds[bank.kind].trust) throw fieldFault('bankAccountId', 'Choose a trust account')
    const operating = await operatingBank(m, input.operatingAccountId)
    if (new Set(input.parts.map((p) => `${p.ledgerId} ${p.billId}`)).size !== input.parts.length)
      throw fieldFault('parts', 'Each bill stands here once for a ledger')
    // All bills before any ledger, as where one bill is paid, so that two sheets wait for each other and do not cross.
    await lockBills(m, ctx, [...new Set(input.parts.map((p) => p.billId))], input.day) // prettier-ignore
    for (const id of [...new Set(input.parts.map((p) => p.ledgerId))].sort((a, b) => a - b)) {
      const ledger = await lockLedger(m, ctx, id, true)
      if (ledger.bankAccountId !== bank.id)
        throw fieldFault(`parts.${input.parts.findIndex((p) => p.ledgerId === id)}.ledgerId`, `${ledger.name} lies in another account`)
    }
    const number = await nextNumber(m, 'transfer sheet')
    const total = sum(input.parts.map((p) => p.amount))
    for (const [i, part] of input.parts.entries()) {
      try {
        await payFromTrustIn(m, ctx, { ...part, day: input.day, overrideReason: '' }, { operating, reference: `Transfer sheet ${number}` })
      } catch (error) {
        if (error instanceof Error && 'code' in error && 'status' in error && error.status === 409)
          throw refused(error.code as never, `Row ${i + 1}: ${error.message}`)
        throw error
      }
    }
    const madeId = await insertRow(m, TransferSheet, {
      number,
      bankAccountId: bank.id,
      operatingAccountId: operating.id,
      day: input.day,
      total,
      bills: input.parts.length,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    await audit(m, ctx, { kind: 'transferred', text: `Transfer sheet ${number}: ${showMoney(total)} from ${bank.name} to ${operating.name} for ${counted(input.parts.length, 'bill')}`, subject: 'account', subjectId: bank.id }) // prettier-ignore
    return { id: madeId, number, total }
  })
