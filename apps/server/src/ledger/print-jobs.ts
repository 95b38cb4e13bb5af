import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { payeeOf, payeeOpen } from './payees'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, row, rows, run, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { PrintJob } from './check-entities'

/** Checks of trust accounts and of operating accounts are printed alike; what differs is where their payments stand. */
const books = {
  trust: {
    payment: 'payment_out',
    joins: 'JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN matter m ON m.id = l.matter_id',
    bank: 'l.bank_account_id',
    open: (ctx: Ctx) => `(l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`,
    /** Those that left the house, those of print jobs, and what both call the payment. */
    out: 'check_out',
    listed: 'print_job_check',
    id: 'payment_id',
    subject: 'payment out',
  },
  operating: {
    payment: 'firm_payment',
    joins: payeeOf('p'),
    bank: 'p.bank_account_id',
    open: (ctx: Ctx) => payeeOpen(ctx),
    out: 'firm_check_out',
    listed: 'print_job_firm_check',
    id: 'firm_payment_id',
    subject: 'vendor payment',
  },
} as const
export type CheckBook = keyof typeof books
export type PrintOutcome = 'printed' | 'spoiled' | 'again'

const printSql = (of: CheckBook) =>
  `SELECT p.id, p.check_no AS checkNo, p.day, p.payee_name AS payee, p.amount, b.name AS bank FROM ${books[of].payment} p ${books[of].joins} JOIN bank_account b ON b.id = ${books[of].bank}`
interface Printed {
  id: number
  checkNo: number
  day: Day
  payee: string
  amount: number
  bank: string
}
/** Posted checks that have not left the house and stand in no open print job: of one account, or of all of their kind. */
export const toPrint = (ctx: Ctx, of: CheckBook, bankAccountId: number | null) => {
  const k = books[of]
  return rows<Printed>(
    ctx.db.manager,
    `${printSql(of)} WHERE ${bankAccountId ? `${k.bank} = ? AND` : ''} p.method = 'check' AND p.state = 'posted' AND ${k.open(ctx)} AND NOT EXISTS (SELECT 1 FROM ${k.out} o WHERE o.${k.id} = p.id)
        AND NOT EXISTS (SELECT 1 FROM ${k.listed} x JOIN print_job j ON j.id = x.job_id AND j.closed_at IS NULL WHERE x.${k.id} = p.id) ORDER BY b.id, p.check_no LIMIT 500`,
    bankAccountId ? [bankAccountId] : [],
  )
}

/** Posted checks that have not left the house, held until the act ends; refuses where one has, or is being printed by anybody. */
async function lockWaiting(m: EntityManager, ctx: Ctx, of: CheckBook, ids: readonly number[]) {
  const k = books[of]
  await rows(m, `SELECT id FROM ${k.payment} WHERE id IN (?) ORDER BY id FOR UPDATE`, [ids])
  const found = await rows<{ id: number; bankId: number; checkNo: number; state: string; out: number; job: string | null }>(
    m,
    `SELECT p.id, ${k.bank} AS bankId, p.check_no AS checkNo, p.state, EXISTS (SELECT 1 FROM ${k.out} o WHERE o.${k.id} = p.id) AS \`out\`,
            (SELECT u.name FROM ${k.listed} x JOIN print_job j ON j.id = x.job_id AND j.closed_at IS NULL JOIN user_account u ON u.id = j.user_id WHERE x.${k.id} = p.id LIMIT 1) AS job
       FROM ${k.payment} p ${k.joins} WHERE p.id IN (?) AND p.method = 'check' AND ${k.open(ctx)} ORDER BY p.check_no`,
    [ids],
  )
  if (found.length !== ids.length) throw notFound('check')
  for (const p of found) {
    if (p.state !== 'posted') throw refused('not-a-check', 'Only a posted check can be printed.')
    if (p.out) throw refused('changed-meanwhile', `Check ${p.checkNo} has left the house already.`)
    if (p.job) throw refused('changed-meanwhile', `Check ${p.checkNo} stands in a print job of ${p.job}.`)
  }
  return found
}
const leave = (m: EntityManager, ctx: Ctx, of: CheckBook, id: number, how: 'printed' | 'by hand') =>
  run(m, `INSERT INTO ${books[of].out} (${books[of].id}, how, user_id, at) VALUES (?, ?, ?, ?)`, [id, how, ctx.actor.id, instant(ctx.clock.now())]) // prettier-ignore

export const writtenByHand = (ctx: Ctx, of: CheckBook, ids: readonly number[]): Promise<void> =>
  work(ctx, async (m) => {
    for (const p of await lockWaiting(m, ctx, of, ids)) {
      await leave(m, ctx, of, p.id, 'by hand')
      await audit(m, ctx, { kind: 'written', text: `Check ${p.checkNo} written by hand`, subject: books[of].subject, subjectId: p.id })
    }
  })

export const makePrintJob = (ctx: Ctx, of: CheckBook, ids: readonly number[]): Promise<{ id: number }> =>
  work(ctx, (m) => makePrintJobIn(m, ctx, of, ids))

async function makePrintJobIn(m: EntityManager, ctx: Ctx, of: CheckBook, ids: readonly number[]): Promise<{ id: number }> {
  const list = await lockWaiting(m, ctx, of, ids)
  if (new Set(list.map((p) => p.bankId)).size > 1) throw fieldFault('paymentIds', 'Print the checks of one account at a time')
  const madeId = await insertRow(m, PrintJob, { bankAccountId: list[0]!.bankId, userId: ctx.actor.id, madeAt: instant(ctx.clock.now()) }) // prettier-ignore
  for (const p of list) await run(m, `INSERT INTO ${books[of].listed} (job_id, ${books[of].id}) VALUES (?, ?)`, [madeId, p.id])
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
  const set = await row<{ at: number }>(m, `SELECT print_at_once AS at FROM bank_account WHERE id = ?`, [bankId])
  return set?.at ? (await makePrintJobIn(m, ctx, of, ids)).id : null
}

/** A print job is whoever's who made it; nobody else sees or closes it. */
async function ownJob(m: EntityManager, ctx: Ctx, of: CheckBook, id: number, lock = ''): Promise<{ closedAt: string | null }> {
  const job = await row<{ closedAt: string | null }>(
    m,
    `SELECT j.closed_at AS closedAt FROM print_job j WHERE j.id = ? AND j.user_id = ? AND EXISTS (SELECT 1 FROM ${books[of].listed} x WHERE x.job_id = j.id) ${lock}`,
    [id, ctx.actor.id],
  )
  if (!job) throw notFound('print job')
  return job
}
export async function printJobs(ctx: Ctx, of: CheckBook) {
  const m = ctx.db.manager
  const k = books[of]
  const jobs = await rows<{ id: number; bank: string; madeAt: string }>(
    m,
    `SELECT j.id, b.name AS bank, j.made_at AS madeAt FROM print_job j JOIN bank_account b ON b.id = j.bank_account_id WHERE j.user_id = ? AND j.closed_at IS NULL AND b.kind ${of === 'trust' ? '<>' : '='} 'operating' ORDER BY j.id LIMIT 50`,
    [ctx.actor.id],
  )
  if (!jobs.length) return []
  const list = await rows<Printed & { jobId: number; outcome: PrintOutcome | null }>(
    m,
    `${printSql(of).replace('SELECT ', 'SELECT x.job_id AS jobId, x.outcome, ')} JOIN ${k.listed} x ON x.${k.id} = p.id WHERE x.job_id IN (?) AND ${k.open(ctx)} ORDER BY p.check_no`,
    [jobs.map((j) => j.id)],
  )
  return jobs.map((j) => ({ ...j, madeAt: isoOf(j.madeAt), checks: list.filter((c) => c.jobId === j.id) }))
}
/** The payments of a job that are still to be printed, or again. */
export async function jobPayments(ctx: Ctx, of: CheckBook, id: number): Promise<number[]> {
  await ownJob(ctx.db.manager, ctx, of, id)
  const k = books[of]
  return (await rows<{ id: number }>(ctx.db.manager, `SELECT ${k.id} AS id FROM ${k.listed} WHERE job_id = ? AND (outcome IS NULL OR outcome = 'again') ORDER BY ${k.id}`, [id])).map((p) => p.id) // prettier-ignore
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
    const k = books[of]
    const job = await ownJob(m, ctx, of, id, 'FOR UPDATE')
    if (job.closedAt) throw refused('changed-meanwhile', 'This print job was closed before.')
    const replaced: { paymentId: number; checkNo: number }[] = []
    for (const o of outcomes) {
      // What is written anew holds its bills and payment in its own order.
      const own = await row<{ outcome: string | null; state: string; checkNo: number }>(m, `SELECT x.outcome, p.state, p.check_no AS checkNo FROM ${k.listed} x JOIN ${k.payment} p ON p.id = x.${k.id} WHERE x.job_id = ? AND x.${k.id} = ? ${o.outcome === 'spoiled' ? '' : 'FOR UPDATE'}`, [id, o.paymentId]) // prettier-ignore
      if (!own) throw notFound('check of this job')
      if (own.outcome === 'printed' || own.outcome === 'spoiled')
        throw refused('changed-meanwhile', `Of check ${own.checkNo} it was told before how it came out.`)
      if (own.state === 'posted' && o.outcome === 'printed') await leave(m, ctx, of, o.paymentId, 'printed')
      if (own.state === 'posted' && o.outcome === 'spoiled') replaced.push(await anew(m, ctx, o.paymentId))
      await run(m, `UPDATE ${k.listed} SET outcome = ? WHERE job_id = ? AND ${k.id} = ?`, [
        own.state === 'posted' ? o.outcome : 'spoiled',
        id,
        o.paymentId,
      ])
    }
    // What is not open to its owner any more is not theirs to tell of: it goes back to those that wait.
    const waits = await row(
      m,
      `SELECT 1 FROM ${k.listed} x JOIN ${k.payment} p ON p.id = x.${k.id} ${k.joins} WHERE x.job_id = ? AND (x.outcome IS NULL OR x.outcome = 'again') AND ${k.open(ctx)} LIMIT 1`,
      [id],
    )
    if (waits && !outcomes.length) throw fieldFault('outcomes', 'Say how the checks came out')
    if (!waits) await m.update(PrintJob, { id }, { closedAt: instant(ctx.clock.now()) })
    return { closed: !waits, replaced }
  })
