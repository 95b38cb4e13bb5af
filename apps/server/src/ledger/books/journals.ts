import { addDays, faultOfPast, type Day } from '@heron/core/calendar'
import { fiscalYear, keptByActs } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import { matterScope, nameFor } from '../../platform/access'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { row, rows, work } from '../../platform/database'
import type { EntityManager } from 'typeorm'
import { fieldFault, notFound } from '../../platform/problem'
import { move } from '../door'
import { limit, type Paging } from '../queries'
import { balances, chart, moved } from './sums'
import { Firm } from '../../platform/shared-entities'

/** Kinds of journals that are reversed as a whole; everything else has an act of its own that also mends what hangs on it. */
export const reversible: ReadonlySet<string> = new Set(['general', 'deposit', 'moved', 'firm money', 'trust interest', 'bank'])

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

/** The general ledger of one account in a span of days: what it began with, its lines with the balance after each, what it ends with. */
export async function accountLines(ctx: Ctx, id: number, f: Paging & { from?: Day | undefined; to: Day }) {
  const m = ctx.db.manager
  const head = (await chart(m)).find((a) => a.id === id)
  if (!head) throw notFound('account')
  const at = async (to: Day) => (await moved(m, { to, accountId: id }))[0]?.balance ?? 0
  const opening = f.from ? await at(addDays(f.from, -1)) : 0
  const span = `l.account_id = ? AND l.day <= ? AND l.day >= ?`
  const values = [id, f.to, f.from ?? '1000-01-01']
  const all = await row<{ n: number; debit: number; credit: number }>(m, `SELECT COUNT(*) AS n, COALESCE(SUM(GREATEST(l.amount, 0)), 0) AS debit, COALESCE(-SUM(LEAST(l.amount, 0)), 0) AS credit FROM journal_line l WHERE ${span}`, values) // prettier-ignore
  const skipped = (f.page - 1) * f.size
  const before = skipped ? await row<{ n: number }>(m, `SELECT COALESCE(SUM(amount), 0) AS n FROM (SELECT l.amount FROM journal_line l WHERE ${span} ORDER BY l.day, l.id LIMIT ${Number(skipped)}) x`, values) : { n: 0 } // prettier-ignore
  const list = await rows<{ journalId: number; day: Day; memo: string; amount: number; matter: string | null }>(
    m,
    `SELECT j.id AS journalId, p.day, CASE WHEN ${keptFrom(ctx)} THEN j.kind ELSE j.memo END AS memo, p.amount, ${matterName(ctx)} AS matter
       FROM (SELECT l.id, l.day, l.amount, l.journal_id, l.matter_id FROM journal_line l WHERE ${span} ORDER BY l.day, l.id ${limit(f)}) p
       JOIN journal j ON j.id = p.journal_id LEFT JOIN matter m ON m.id = p.matter_id ORDER BY p.day, p.id`,
    values,
  )
  let balance = opening + before!.n
  return {
    code: head.code,
    name: head.name,
    opening,
    rows: list.map((l) => ({ ...l, balance: (balance += l.amount) })),
    total: all!.n,
    debit: all!.debit,
    credit: all!.credit,
    closing: opening + all!.debit - all!.credit,
  }
}

export async function journal(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const head = await row<{
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
  if (!head) throw notFound('journal')
  const lines = await rows<{ account: string; amount: number; matter: string | null }>(
    m,
    `SELECT CONCAT(a.code, ' ', a.name) AS account, l.amount, ${matterName(ctx)} AS matter FROM journal_line l JOIN account a ON a.id = l.account_id LEFT JOIN matter m ON m.id = l.matter_id WHERE l.journal_id = ? ORDER BY l.id`,
    [id],
  )
  const bank = await rows<{ account: string; amount: number; text: string }>(
    m,
    `SELECT b.name AS account, e.amount, e.text FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = ? ORDER BY e.id`,
    [id],
  )
  const ledgers = await rows<{ ledgerId: number; name: string; amount: number }>(
    m,
    `SELECT e.ledger_id AS ledgerId, COALESCE(${nameFor(ctx.actor)}, l.kind) AS name, e.amount FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id LEFT JOIN contact c ON c.id = l.client_id WHERE e.journal_id = ? ORDER BY e.id`,
    [id],
  )
  return {
    ...head,
    reversible: reversible.has(head.kind) && !head.reversedBy && !head.reverses,
    lines: lines.map((l) => ({ account: l.account, debit: Math.max(l.amount, 0), credit: Math.max(-l.amount, 0), matter: l.matter })),
    bank,
    ledgers,
  }
}

/** Accounts that only their own acts move: those of trust, and what core keeps by acts; wants their roles. */
const movedByActs = `(id IN (SELECT gl_account_id FROM bank_account WHERE kind <> 'operating') OR id IN (SELECT liability_account_id FROM bank_account WHERE liability_account_id IS NOT NULL)
  OR COALESCE(role IN (?), FALSE))`
/** Accounts to which a hand posts: of the chart, not closed, not of trust, and not those that only their own acts move. */
export async function judgeByHand(m: EntityManager, parts: readonly { accountId: number }[], at: (i: number) => string): Promise<void> {
  const ids = [...new Set(parts.map((p) => p.accountId))]
  const known = await rows<{ id: number; name: string; byActs: number }>(
    m,
    `SELECT id, name, ${movedByActs} AS byActs FROM account WHERE id IN (?) AND NOT closed`,
    [keptByActs, ids],
  )
  for (const [i, p] of parts.entries()) {
    const account = known.find((k) => k.id === p.accountId)
    if (!account) throw fieldFault(at(i), 'Choose an account of the chart')
    if (account.byActs) throw fieldFault(at(i), `${account.name} is posted to only by its own acts`)
  }
}

/** A journal entered by hand. Trust accounts are closed to it: their money moves only with its client ledger. */
export function enterJournal(
  ctx: Ctx,
  input: { day: Day; memo: string; lines: { accountId: number; amount: number }[] },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const wrongDay = faultOfPast(input.day, ctx.clock.today())
    if (wrongDay) throw fieldFault('day', wrongDay)
    await judgeByHand(m, input.lines, (i) => `lines.${i}.accountId`)
    const off = sum(input.lines.map((l) => l.amount))
    if (off !== 0) throw fieldFault('lines', 'Debits and credits must be the same')
    if (input.lines.some((l) => l.amount === 0)) throw fieldFault('lines', 'Every line needs an amount')
    const banks = await rows<{ id: number; gl: number }>(m, `SELECT id, gl_account_id AS gl FROM bank_account WHERE kind = 'operating'`)
    const id = await move(
      m,
      ctx,
      { day: input.day, kind: 'general', memo: input.memo },
      {
        lines: input.lines.map((l) => ({ account: l.accountId, amount: l.amount })),
        bank: input.lines.flatMap((l) =>
          banks
            .filter((b) => b.gl === l.accountId)
            .map((b) => ({ bankAccountId: b.id, amount: l.amount, kind: 'general', text: input.memo })),
        ),
      },
    )
    await audit(m, ctx, { kind: 'posted', text: `Journal ${id}: ${input.memo}`, subject: 'journal', subjectId: id })
    return { id }
  })
}
