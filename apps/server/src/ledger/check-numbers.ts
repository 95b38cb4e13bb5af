import type { Day } from '@heron/core/calendar'
import { LessThanOrEqual, type EntityManager } from 'typeorm'
import { instant, type Ctx } from '../platform/context'
import { lockRow, row } from '../platform/database'
import { errno, refused } from '../platform/problem'
import { BankAccount, CheckNumber } from './entities'

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
      ? ((await m.query(`UPDATE bank_account SET next_check = LAST_INSERT_ID(next_check) + 1 WHERE id = ?`, [bankAccountId])) as {
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

/** The day on which a check that was spoiled is voided and written anew: its own, or today where that is in what is closed. */
export async function dayOfAnew(m: EntityManager, ctx: Ctx, bankAccountId: number, own: Day): Promise<Day> {
  const closed = await row(
    m,
    `SELECT 1 FROM firm f WHERE f.books_closed_to >= ? UNION SELECT 1 FROM bank_closed r WHERE r.bank_account_id = ? AND r.to_day >= ?`,
    [own, bankAccountId, own],
  )
  return closed ? ctx.clock.today() : own
}
