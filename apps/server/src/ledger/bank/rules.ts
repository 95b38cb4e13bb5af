import { ruleFor } from '@heron/core/bank'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { touched, lockRow, work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { judgeByHand } from '../books/journals'
import { requireBank } from './apart'
import { bookLine } from './booking'
import { lineOut, linesByIds, openLines, accountForRule, addRule, changeRule, countRules, rulesOf } from './queries'
import { BankRule } from './entities'

/** How many rules there may be, and lines are looked at. */
const most = { rules: 200, lines: 3_000 }
export const saveRule = (
  ctx: Ctx,
  r: { id: number | null; words: string; way: 'in' | 'out'; amount: number | null; accountId: number; memo: string },
) =>
  work(ctx, async (m) => {
    await judgeByHand(m, [r], () => 'accountId')
    const account = await accountForRule(m, r.accountId)
    if (!account || account.bank || !['income', 'expense'].includes(account.kind))
      throw fieldFault('accountId', 'Choose an account of income or expense')
    const values = [r.words, r.way, r.amount, r.accountId, r.memo]
    let id = r.id
    if (id) {
      if (!(await lockRow(m, BankRule, id))) throw notFound('rule')
      await changeRule(m, values, id)
    } else {
      const n = await countRules(m)
      if (n!.n >= most.rules) throw refused('too-much', `There are ${most.rules} rules already. Take one out first.`)
      const made = (await addRule(m, ctx, values)) as { insertId: number }
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
