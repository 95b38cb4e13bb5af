import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { type Ctx, instant, isoOf } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { notFound } from '../platform/problem'
import { payeeOf, payeeOpen } from './payees'

/** Checks of trust accounts and of operating accounts are printed alike; what differs is where their payments stand. */
export const books = {
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

/** Checks that wait to be printed, of the trust accounts or of the firm's own. */
export const printSql = (of: CheckBook) =>
  `SELECT p.id, p.check_no AS checkNo, p.day, p.payee_name AS payee, p.amount, b.name AS bank FROM ${books[of].payment} p ${books[of].joins} JOIN bank_account b ON b.id = ${books[of].bank}`

export interface Printed {
  id: number
  checkNo: number
  day: Day
  payee: string
  amount: number
  bank: string
}

/** Payments of a print job, locked in the order of their ids. */
export const lockPayments = (m: EntityManager, of: CheckBook, ids: readonly number[]) =>
  rows(m, `SELECT id FROM ${books[of].payment} WHERE id IN (?) ORDER BY id FOR UPDATE`, [ids])

/** How these payments stand once they are locked. */
export function waitingPayments(m: EntityManager, ctx: Ctx, of: CheckBook, ids: readonly number[]) {
  const k = books[of]
  return rows<{ id: number; bankId: number; checkNo: number; state: string; out: number; job: string | null }>(
    m,
    `SELECT p.id, ${k.bank} AS bankId, p.check_no AS checkNo, p.state, EXISTS (SELECT 1 FROM ${k.out} o WHERE o.${k.id} = p.id) AS \`out\`,
            (SELECT u.name FROM ${k.listed} x JOIN print_job j ON j.id = x.job_id AND j.closed_at IS NULL JOIN user_account u ON u.id = j.user_id WHERE x.${k.id} = p.id LIMIT 1) AS job
       FROM ${k.payment} p ${k.joins} WHERE p.id IN (?) AND p.method = 'check' AND ${k.open(ctx)} ORDER BY p.check_no`,
    [ids],
  )
}

/** A check left, and how. */
export const noteOut = (m: EntityManager, ctx: Ctx, of: CheckBook, id: number, how: 'printed' | 'by hand') =>
  run(m, `INSERT INTO ${books[of].out} (${books[of].id}, how, user_id, at) VALUES (?, ?, ?, ?)`, [
    id,
    how,
    ctx.actor.id,
    instant(ctx.clock.now()),
  ])

/** A payment is on a print job. */
export const listForPrint = (m: EntityManager, of: CheckBook, madeId: number, id: number) =>
  run(m, `INSERT INTO ${books[of].listed} (job_id, ${books[of].id}) VALUES (?, ?)`, [madeId, id])

/** Whether checks of an account are printed as they are posted. */
export const printsAtOnce = (m: EntityManager, bankId: number) =>
  row<{ at: number }>(m, `SELECT print_at_once AS at FROM bank_account WHERE id = ?`, [bankId])

/** A print job is whoever's who made it; nobody else sees or closes it. */
export async function ownJob(m: EntityManager, ctx: Ctx, of: CheckBook, id: number, lock = ''): Promise<{ closedAt: string | null }> {
  const job = await row<{ closedAt: string | null }>(
    m,
    `SELECT j.closed_at AS closedAt FROM print_job j WHERE j.id = ? AND j.user_id = ? AND EXISTS (SELECT 1 FROM ${books[of].listed} x WHERE x.job_id = j.id) ${lock}`,
    [id, ctx.actor.id],
  )
  if (!job) throw notFound('print job')
  return job
}

/** Printing that somebody began and has not said the outcome of, so that no number is lost. */
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

/** How a check of a job came out, so far. */
export function outcomeOf(m: EntityManager, of: CheckBook, jobId: number, o: { paymentId: number; outcome: PrintOutcome }) {
  const k = books[of]
  return row<{ outcome: string | null; state: string; checkNo: number }>(
    m,
    `SELECT x.outcome, p.state, p.check_no AS checkNo FROM ${k.listed} x JOIN ${k.payment} p ON p.id = x.${k.id} WHERE x.job_id = ? AND x.${k.id} = ? ${o.outcome === 'spoiled' ? '' : 'FOR UPDATE'}`,
    [jobId, o.paymentId],
  )
}

/** How it came out. */
export const keepOutcome = (m: EntityManager, of: CheckBook, jobId: number, paymentId: number, outcome: PrintOutcome) =>
  run(m, `UPDATE ${books[of].listed} SET outcome = ? WHERE job_id = ? AND ${books[of].id} = ?`, [outcome, jobId, paymentId])

/** Whether anything of a job is to be told yet. */
export function leftOnJob(m: EntityManager, ctx: Ctx, of: CheckBook, jobId: number) {
  const k = books[of]
  return row(
    m,
    `SELECT 1 FROM ${k.listed} x JOIN ${k.payment} p ON p.id = x.${k.id} ${k.joins} WHERE x.job_id = ? AND (x.outcome IS NULL OR x.outcome = 'again') AND ${k.open(ctx)} LIMIT 1`,
    [jobId],
  )
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
