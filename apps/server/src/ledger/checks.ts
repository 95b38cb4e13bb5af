import { faultOfPast, type Day } from '@heron/core/calendar'
import type { CheckLayout } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { errno, fieldFault, notFound, refused } from '../platform/problem'
import { BankAccount, CheckNumber } from './entities'
import { bankAccount } from './ledgers'
import { CheckLayout as CheckLayoutRow, CheckOut, Unclaimed } from './check-entities'
import { checksToMakeOut, firmChecksMadeOut, lockedUnclaimed } from './payment-queries'

/** A blank check that was torn or misprinted: its number is accounted for and never used. */
export const spoilNumber = (ctx: Ctx, input: { bankAccountId: number; number: number; reason: string }): Promise<void> =>
  work(ctx, async (m) => {
    const bank = await bankAccount(m, input.bankAccountId)
    try {
      await m.insert(CheckNumber, {
        bankAccountId: bank.id,
        number: input.number,
        paymentId: null,
        firmPaymentId: null,
        usedAt: instant(ctx.clock.now()),
        spoiled: input.reason,
      })
    } catch (error) {
      if (errno(error) === 1062) throw refused('check-number-used', `Check ${input.number} of this account is accounted for already.`)
      throw error
    }
    await m.update(BankAccount, { id: bank.id, nextCheck: input.number }, { nextCheck: input.number + 1 })
    await audit(m, ctx, {
      kind: 'spoiled',
      text: `Check ${input.number} of ${bank.name} spoiled: ${input.reason}`,
      subject: 'account',
      subjectId: bank.id,
    })
  })
export const setLayout = (ctx: Ctx, input: { bankAccountId: number; layout: CheckLayout; numbers: boolean }): Promise<void> =>
  work(ctx, async (m) => {
    const bank = await bankAccount(m, input.bankAccountId)
    await m.upsert(CheckLayoutRow, { bankAccountId: bank.id, layout: JSON.stringify(input.layout), numbers: input.numbers }, ['bankAccountId']) // prettier-ignore
    await audit(m, ctx, { kind: 'set up', text: `Layout of checks of ${bank.name} changed`, subject: 'account', subjectId: bank.id })
  })
async function lockUnclaimed(m: EntityManager, ctx: Ctx, id: number) {
  const found = await lockedUnclaimed(m, ctx, id)
  if (!found) throw notFound('unclaimed money')
  if (found.settledOn) throw refused('changed-meanwhile', 'It was settled before.')
  return found
}
export const noteContact = (ctx: Ctx, id: number, lastContact: Day | null, note: string): Promise<void> =>
  work(ctx, async (m) => {
    const wrong = lastContact ? faultOfPast(lastContact, ctx.clock.today()) : null
    if (wrong) throw fieldFault('lastContact', wrong)
    await lockUnclaimed(m, ctx, id)
    await m.update(Unclaimed, { paymentId: id }, { lastContact, note })
  })
export const settleUnclaimed = (ctx: Ctx, id: number, day: Day, words: string): Promise<void> =>
  work(ctx, async (m) => {
    const wrong = faultOfPast(day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    const u = await lockUnclaimed(m, ctx, id)
    await m.update(Unclaimed, { paymentId: id }, { settledOn: day, settled: words })
    await audit(m, ctx, { kind: 'settled', text: `Unclaimed ${showMoney(u.amount)} for ${u.payee}: ${words}`, matterId: u.matterId, subject: 'payment out', subjectId: id }) // prettier-ignore
  })

/** Checks up to a day that wait to be printed have left the house; for books that begin in the middle, such as the demo firm's. */
export async function makeBankChecksOut(ctx: Ctx, upTo: Day): Promise<void> {
  const waiting = await checksToMakeOut(ctx, upTo)
  await firmChecksMadeOut(ctx, upTo)
  for (const p of waiting) await ctx.db.manager.insert(CheckOut, { paymentId: p.id, how: 'printed', userId: ctx.actor.id, at: instant(ctx.clock.now()) }) // prettier-ignore
}
