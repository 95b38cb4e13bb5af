import type { Day } from '@heron/core/calendar'
import { type AccountKind, fiscalYear, keptByActs } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope, nameFor } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { row, rows } from '../../platform/database'
import { Firm } from '../../platform/shared-entities'
import { limit, type Paging } from '../queries'
import { balances } from './sums'

/** Every account as of a day; on request as the books stood before the closing of its year. */
export async function trialBalance(ctx: Ctx, asOf: Day, closing = true) {
  const m = ctx.db.manager
  const firm = await m.findOne(Firm, { select: { yearEnd: true, id: true }, where: { id: 1 } })
  const byHand = new Set((await rows<{ id: number }>(m, `SELECT id FROM account WHERE NOT closed AND NOT ${movedByActs}`, [keptByActs])).map((a) => a.id)) // prettier-ignore
  const found = await balances(m, { to: asOf, without: closing ? undefined : fiscalYear(asOf, firm!.yearEnd).to })
  const list = found.map(({ balance, id, code, name, kind, closed }) => ({
    id,
    code,
    name,
    kind,
    closed,
    byHand: byHand.has(id),
    debit: Math.max(balance, 0),
    credit: Math.max(-balance, 0),
  }))
  return { rows: list, debit: sum(list.map((a) => a.debit)), credit: sum(list.map((a) => a.credit)) }
}

// A matter that the reader is screened from leaves no name behind, only the figure.
const matterName = (ctx: Ctx) =>
  `CASE WHEN m.id IS NULL THEN NULL WHEN ${matterScope(ctx.actor)} THEN CONCAT(m.number, ' ', m.short_name) END`

/** Whether a journal tells of a matter, of whatever ledger or bill it moves, that is closed to the reader; as SQL on alias j. */
export const keptFrom = (ctx: Ctx) => `(
  EXISTS (SELECT 1 FROM journal_line jl JOIN matter m ON m.id = jl.matter_id WHERE jl.journal_id = j.id AND NOT ${matterScope(ctx.actor)})
  OR EXISTS (SELECT 1 FROM ledger_entry je JOIN client_ledger cl ON cl.id = je.ledger_id JOIN matter m ON m.id = cl.matter_id WHERE je.journal_id = j.id AND NOT ${matterScope(ctx.actor)})
  OR (j.subject = 'pre-bill' AND EXISTS (SELECT 1 FROM pre_bill pb JOIN matter m ON m.id = pb.matter_id WHERE pb.id = j.subject_id AND NOT ${matterScope(ctx.actor)})))`

/** What the lines before a page come to. */
export const sumBefore = (m: EntityManager, span: string, skipped: number, values: (number | Day)[]) =>
  row<{ n: number }>(
    m,
    `SELECT COALESCE(SUM(amount), 0) AS n FROM (SELECT l.amount FROM journal_line l WHERE ${span} ORDER BY l.day, l.id LIMIT ${Number(skipped)}) x`,
    values,
  )

/** A page of lines, chosen by their index before anything is joined. */
export const pageOfLines = (
  m: EntityManager,
  ctx: Ctx,
  span: string,
  f: Paging & { from?: Day | undefined; to: Day },
  values: (number | Day)[],
) =>
  rows<{ journalId: number; day: Day; memo: string; amount: number; matter: string | null }>(
    m,
    `SELECT j.id AS journalId, p.day, CASE WHEN ${keptFrom(ctx)} THEN j.kind ELSE j.memo END AS memo, p.amount, ${matterName(ctx)} AS matter
       FROM (SELECT l.id, l.day, l.amount, l.journal_id, l.matter_id FROM journal_line l WHERE ${span} ORDER BY l.day, l.id ${limit(f)}) p
       JOIN journal j ON j.id = p.journal_id LEFT JOIN matter m ON m.id = p.matter_id ORDER BY p.day, p.id`,
    values,
  )

/** A journal with who posted it and what took it back. */
export const journalHead = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{
    id: number
    day: Day
    kind: string
    memo: string
    subject: string
    subjectId: number | null
    who: string
    reverses: number | null
    reversedBy: number | null
  }>(
    m,
    `SELECT j.id, j.day, j.kind, j.memo, j.subject, j.subject_id AS subjectId, u.name AS who, r.journal_id AS reverses, rb.reversal_id AS reversedBy FROM journal j JOIN user_account u ON u.id = j.user_id
       LEFT JOIN journal_reversal r ON r.reversal_id = j.id LEFT JOIN journal_reversal rb ON rb.journal_id = j.id
      WHERE j.id = ? AND NOT ${keptFrom(ctx)}`,
    [id],
  )

/** Its lines with their accounts. */
export const journalLines = (m: EntityManager, ctx: Ctx, id: number) =>
  rows<{ account: string; amount: number; matter: string | null }>(
    m,
    `SELECT CONCAT(a.code, ' ', a.name) AS account, l.amount, ${matterName(ctx)} AS matter FROM journal_line l JOIN account a ON a.id = l.account_id LEFT JOIN matter m ON m.id = l.matter_id WHERE l.journal_id = ? ORDER BY l.id`,
    [id],
  )

/** What it moved in banks. */
export const journalBank = (m: EntityManager, id: number) =>
  rows<{ account: string; amount: number; text: string }>(
    m,
    `SELECT b.name AS account, e.amount, e.text FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = ? ORDER BY e.id`,
    [id],
  )

/** What it moved on ledgers. */
export const journalLedgers = (m: EntityManager, ctx: Ctx, id: number) =>
  rows<{ ledgerId: number; name: string; amount: number }>(
    m,
    `SELECT e.ledger_id AS ledgerId, COALESCE(${nameFor(ctx.actor)}, l.kind) AS name, e.amount FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id LEFT JOIN contact c ON c.id = l.client_id WHERE e.journal_id = ? ORDER BY e.id`,
    [id],
  )

/** Accounts that only their own acts move: those of trust, and what core keeps by acts; wants their roles. */
const movedByActs = `(id IN (SELECT gl_account_id FROM bank_account WHERE kind <> 'operating') OR id IN (SELECT liability_account_id FROM bank_account WHERE liability_account_id IS NOT NULL)
  OR COALESCE(role IN (?), FALSE))`

/** Accounts of a journal made by hand, and which of them only acts move. */
export const accountsByHand = (m: EntityManager, ids: number[]) =>
  rows<{ id: number; name: string; byActs: number }>(
    m,
    `SELECT id, name, ${movedByActs} AS byActs FROM account WHERE id IN (?) AND NOT closed`,
    [keptByActs, ids],
  )

/** The operating banks by their accounts in the books. */
export const operatingAccounts = (m: EntityManager) =>
  rows<{ id: number; gl: number }>(m, `SELECT id, gl_account_id AS gl FROM bank_account WHERE kind = 'operating'`)

interface Kept {
  id: number
  name: string
  memo: string
  lineList: string
  dayOfMonth: number | null
  everyMonths: number | null
  nextOn: Day | null
  until: Day | null
  fault: string
}

const columns = `id, name, memo, line_list AS lineList, day_of_month AS dayOfMonth, every_months AS everyMonths, next_on AS nextOn, until, fault`

/** The lines that a template of a journal keeps. */
export const linesOf = (t: Pick<Kept, 'lineList'>) => JSON.parse(t.lineList) as { accountId: number; amount: number }[]

/** Templates of journals by name. */
export const journalTemplates = async (ctx: Ctx) =>
  (await rows<Kept>(ctx.db.manager, `SELECT ${columns} FROM journal_template ORDER BY name LIMIT 500`)).map(({ lineList, ...t }) => ({
    ...t,
    lines: linesOf({ lineList }),
  }))

/** A template, locked while what is due of it is posted. */
export const lockedTemplate = (m: EntityManager, id: number) =>
  row<Kept>(m, `SELECT ${columns} FROM journal_template WHERE id = ? FOR UPDATE`, [id])

export interface Line {
  id: number
  day: Day
  memo: string
  subject: string
  subjectId: number | null
  bill: string | null
  code: string
  name: string
  kind: AccountKind
  amount: number
  matter: string | null
  client: string | null
  who: string | null
}

/** So many journals at once, so that nobody else waits while they are written. */
export const atOnce = 2_000

/** All journals up to a day by their days. */
export const journalsInOrder = (m: EntityManager, to: Day) =>
  rows<{ id: number }>(m, `SELECT j.id FROM journal j WHERE j.day <= ? ORDER BY j.day, j.id`, [to])

/** Journals with the documents behind them. */
export const journalsWithDocuments = (m: EntityManager, ctx: Ctx, ids: { id: number }[], at: number) =>
  rows<Line>(
    m,
    `SELECT j.id, j.day, CASE WHEN ${keptFrom(ctx)} THEN j.kind ELSE j.memo END AS memo, j.subject, j.subject_id AS subjectId, b.number AS bill, a.code, a.name, a.kind, l.amount,
              IF(${matterScope(ctx.actor)}, m.number, NULL) AS matter, IF(${matterScope(ctx.actor)}, ${nameFor(ctx.actor)}, NULL) AS client, u.name AS who
         FROM journal j JOIN journal_line l ON l.journal_id = j.id JOIN account a ON a.id = l.account_id LEFT JOIN matter m ON m.id = l.matter_id LEFT JOIN contact c ON c.id = m.client_id
         LEFT JOIN bill b ON b.id = l.bill_id LEFT JOIN user_account u ON u.id = l.timekeeper_id
        WHERE j.id IN (?) ORDER BY j.day, j.id, l.id`,
    [ids.slice(at, at + atOnce).map((j) => j.id)],
  )
