import { LessThanOrEqual, type EntityManager } from 'typeorm'
import { instant, type Ctx } from '../platform/context'
import { lockRow } from '../platform/database'
import { errno, refused } from '../platform/problem'
import { BankAccount, CheckNumber } from './entities'
import { takeNumber } from './payment-queries'

/** Takes the next number of the account, or the one typed; a number once used is never used again. */
export async function useCheckNumber(
  m: EntityManager,
  ctx: Ctx,
  bankAccountId: number,
  of: { paymentId: number } | { firmPaymentId: number },
  typed: number | null,
): Promise<number> {
  // Whoever takes a number holds the account until the act ends.
  const taken =
    typed === null
      ? ((await takeNumber(m, bankAccountId)) as {
          insertId: number
        })
      : null
  if (typed !== null) await lockRow(m, BankAccount, bankAccountId)
  const number = typed ?? taken!.insertId
  try {
    const { paymentId, firmPaymentId } = { paymentId: null, firmPaymentId: null, ...of }
    await m.insert(CheckNumber, { bankAccountId, number, paymentId, firmPaymentId, usedAt: instant(ctx.clock.now()) }) // prettier-ignore
  } catch (error) {
    if (errno(error) === 1062) throw refused('check-number-used', `Check ${number} of this account was used before. Take another number.`)
    throw error
  }
  if (typed !== null) await m.update(BankAccount, { id: bankAccountId, nextCheck: LessThanOrEqual(number) }, { nextCheck: number + 1 })
  return number
}
