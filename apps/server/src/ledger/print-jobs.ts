import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { PrintJob } from './check-entities'
import {
  books,
  type CheckBook,
  printsAtOnce,
  keepOutcome,
  leftOnJob,
  listForPrint,
  lockPayments,
  noteOut,
  outcomeOf,
  ownJob,
  type PrintOutcome,
  waitingPayments,
} from './print-queries'

/** Posted checks that have not left the house, held until the act ends; refuses where one has, or is being printed by anybody. */
async function lockWaiting(m: EntityManager, ctx: Ctx, of: CheckBook, ids: readonly number[]) {
  await lockPayments(m, of, ids)
  const found = await waitingPayments(m, ctx, of, ids)
  if (found.length !== ids.length) throw notFound('check')
  for (const p of found) {
    if (p.state !== 'posted') throw refused('not-a-check', 'Only a posted check can be printed.')
    if (p.out) throw refused('changed-meanwhile', `Check ${p.checkNo} has left the house already.`)
    if (p.job) throw refused('changed-meanwhile', `Check ${p.checkNo} stands in a print job of ${p.job}.`)
  }
  return found
}

export const writtenByHand = (ctx: Ctx, of: CheckBook, ids: readonly number[]): Promise<void> =>
  work(ctx, async (m) => {
    for (const p of await lockWaiting(m, ctx, of, ids)) {
      await noteOut(m, ctx, of, p.id, 'by hand')
      await audit(m, ctx, { kind: 'written', text: `Check ${p.checkNo} written by hand`, subject: books[of].subject, subjectId: p.id })
    }
  })

export const makePrintJob = (ctx: Ctx, of: CheckBook, ids: readonly number[]): Promise<{ id: number }> =>
  work(ctx, (m) => makePrintJobIn(m, ctx, of, ids))

async function makePrintJobIn(m: EntityManager, ctx: Ctx, of: CheckBook, ids: readonly number[]): Promise<{ id: number }> {
  const list = await lockWaiting(m, ctx, of, ids)
  if (new Set(list.map((p) => p.bankId)).size > 1) throw fieldFault('paymentIds', 'Print the checks of one account at a time')
  const madeId = await insertRow(m, PrintJob, { bankAccountId: list[0]!.bankId, userId: ctx.actor.id, madeAt: instant(ctx.clock.now()) }) // prettier-ignore
  for (const p of list) await listForPrint(m, of, madeId, p.id)
  return { id: madeId }
}

/** Where the account is set so, checks that were just posted go into a print job of whoever posted them. */
export async function printAtOnce(
  m: EntityManager,
  ctx: Ctx,
  of: CheckBook,
  bankId: number,
  ids: readonly number[],
): Promise<number | null> {
  if (!ids.length) return null
  const set = await printsAtOnce(m, bankId)
  return set?.at ? (await makePrintJobIn(m, ctx, of, ids)).id : null
}

/** Voids a check that was spoiled, and writes it anew under the next number, within the act that tells of it. */
export type Anew = (m: EntityManager, ctx: Ctx, id: number) => Promise<{ paymentId: number; checkNo: number }>

/**
 * How checks of a job came out. What was spoiled is voided and written anew under the next number, which then waits to be printed;
 * what is to be printed again stays. The job ends when nothing of it waits.
 */
export const tellOutcomes = (
  ctx: Ctx,
  of: CheckBook,
  id: number,
  outcomes: readonly { paymentId: number; outcome: PrintOutcome }[],
  anew: Anew,
): Promise<{ closed: boolean; replaced: { paymentId: number; checkNo: number }[] }> =>
  work(ctx, async (m) => {
    const job = await ownJob(m, ctx, of, id, 'FOR UPDATE')
    if (job.closedAt) throw refused('changed-meanwhile', 'This print job was closed before.')
    const replaced: { paymentId: number; checkNo: number }[] = []
    for (const o of outcomes) {
      // What is written anew holds its bills and payment in its own order.
      const own = await outcomeOf(m, of, id, o)
      if (!own) throw notFound('check of this job')
      if (own.outcome === 'printed' || own.outcome === 'spoiled')
        throw refused('changed-meanwhile', `Of check ${own.checkNo} it was told before how it came out.`)
      if (own.state === 'posted' && o.outcome === 'printed') await noteOut(m, ctx, of, o.paymentId, 'printed')
      if (own.state === 'posted' && o.outcome === 'spoiled') replaced.push(await anew(m, ctx, o.paymentId))
      await keepOutcome(m, of, id, o.paymentId, own.state === 'posted' ? o.outcome : 'spoiled')
    }
    // What is not open to its owner any more is not theirs to tell of: it goes back to those that wait.
    const waits = await leftOnJob(m, ctx, of, id)
    if (waits && !outcomes.length) throw fieldFault('outcomes', 'Say how the checks came out')
    if (!waits) await m.update(PrintJob, { id }, { closedAt: instant(ctx.clock.now()) })
    return { closed: !waits, replaced }
  })
