import { ruleFor, type BookingRule } from '@heron/core/bank'
import type { EntityManager } from 'typeorm'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { touched, lockRow, row, rows, run, work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { judgeByHand } from '../books/journals'
import { requireBank } from './apart'
import { bookLine } from './booking'
import { lineOut, linesByIds, openLines } from './queries'
import { BankRule } from './entities'

export interface Rule extends BookingRule {
  accountId: number
  account: string
  memo: string
}
/** How many rules there may be, and lines are looked at. */
const most = { rules: 200, lines: 3_000 }

/** The firm's own rules in the order in which they are tried. */
export const rulesOf = (m: EntityManager) =>
  rows<Rule>(
    m,
    `SELECT r.id, r.words, r.way, r.amount, r.account_id AS accountId, CONCAT(a.code, ' ', a.name) AS account, r.memo FROM bank_rule r JOIN account a ON a.id = r.account_id ORDER BY r.id`,
  )
export const saveRule = (
  ctx: Ctx,
  r: { id: number | null; words: string; way: 'in' | 'out'; amount: number | null; accountId: number; memo: string },
) =>
  work(ctx, async (m) => {
    await judgeByHand(m, [r], () => 'accountId')
    const account = await row<{ kind: string; bank: number }>(m, `SELECT a.kind, EXISTS (SELECT 1 FROM bank_account b WHERE a.id IN (b.gl_account_id, b.liability_account_id)) AS bank FROM account a WHERE a.id = ? AND NOT a.closed`, [r.accountId]) // prettier-ignore
    if (!account || account.bank || !['income', 'expense'].includes(account.kind))
      throw fieldFault('accountId', 'Choose an account of income or expense')
    const values = [r.words, r.way, r.amount, r.accountId, r.memo]
    let id = r.id
    if (id) {
      if (!(await lockRow(m, BankRule, id))) throw notFound('rule')
      await run(m, `UPDATE bank_rule SET words = ?, way = ?, amount = ?, account_id = ?, memo = ? WHERE id = ?`, [...values, id])
    } else {
      const n = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM bank_rule`)
      if (n!.n >= most.rules) throw refused('too-much', `There are ${most.rules} rules already. Take one out first.`)
      const made = (await m.query(`INSERT INTO bank_rule (words, way, amount, account_id, memo, made_by) VALUES (?, ?, ?, ?, ?, ?)`, [...values, ctx.actor.id])) as { insertId: number } // prettier-ignore
      id = made.insertId
    }
    await audit(m, ctx, { kind: 'changed', text: `Rule for lines of the bank with “${r.words}” kept`, subject: 'account', subjectId: id })
    return { id }
  })
export const removeRule = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    if (!(await touched(m.delete(BankRule, { id })))) throw notFound('rule')
    await audit(m, ctx, { kind: 'changed', text: 'Rule for lines of the bank taken out', subject: 'account', subjectId: id })
  })

/** Open lines of an operating account that a rule fits, each with the first that does. */
export async function linesByRules(ctx: Ctx, bankId: number) {
  const m = ctx.db.manager
  const bank = await requireBank(m, bankId)
  if (bank.kind !== 'operating') return []
  const rules = await rulesOf(m)
  if (!rules.length) return []
  return (await openLines(m, bankId, most.lines)).flatMap((l) => {
    const rule = ruleFor(l, rules)
    return rule ? [{ line: lineOut(l), ruleId: rule.id, account: rule.account, memo: rule.memo }] : []
  })
}
/** Books lines by the rules that fit them now, all or none; each is matched with what was booked. */
export const bookByRules = (ctx: Ctx, bankId: number, lineIds: readonly number[]) =>
  work(ctx, async (m) => {
    const rules = await rulesOf(m)
    const ids = [...new Set(lineIds)].sort((a, b) => a - b)
    const lines = (await linesByIds(m, ids)).filter((l) => l.bankId === bankId)
    if (lines.length < ids.length) throw notFound('line')
    for (const line of lines) {
      const rule = ruleFor(line, rules)
      if (!rule) throw refused('changed-meanwhile', 'No rule fits one of these lines any more. Look again.')
      await bookLine({ ...ctx, tx: m }, { id: line.id, memo: rule.memo, parts: [{ accountId: rule.accountId, amount: line.amount }] })
    }
    return { booked: lines.length }
  })
