import { addDays, faultOfPast, type Day } from '@heron/core/calendar'
import { sum } from '@heron/core/money'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import type { EntityManager } from 'typeorm'
import { fieldFault, notFound } from '../../platform/problem'
import { move } from '../door'
import type { Paging } from '../queries'
import { chart } from './sums'
import { linesOfAccount, moved } from './sum-queries'
import {
  accountsByHand,
  journalBank,
  journalHead,
  journalLedgers,
  journalLines,
  operatingAccounts,
  pageOfLines,
  sumBefore,
} from './journal-queries'

/** Kinds of journals that are reversed as a whole; everything else has an act of its own that also mends what hangs on it. */
export const reversible: ReadonlySet<string> = new Set(['general', 'deposit', 'moved', 'firm money', 'trust interest', 'bank'])

/** The general ledger of one account in a span of days: what it began with, its lines with the balance after each, what it ends with. */
export async function accountLines(ctx: Ctx, id: number, f: Paging & { from?: Day | undefined; to: Day }) {
  const m = ctx.db.manager
  const head = (await chart(m)).find((a) => a.id === id)
  if (!head) throw notFound('account')
  const at = async (to: Day) => (await moved(m, { to, accountId: id }))[0]?.balance ?? 0
  const opening = f.from ? await at(addDays(f.from, -1)) : 0
  const span = `l.account_id = ? AND l.day <= ? AND l.day >= ?`
  const first = f.from ?? ('1000-01-01' as Day)
  const values = [id, f.to, first]
  const all = await linesOfAccount(m, id, first, f.to)
  const skipped = (f.page - 1) * f.size
  const before = skipped ? await sumBefore(m, span, skipped, values) : { n: 0 }
  const list = await pageOfLines(m, ctx, span, f, values)
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
  const head = await journalHead(m, ctx, id)
  if (!head) throw notFound('journal')
  const lines = await journalLines(m, ctx, id)
  const bank = await journalBank(m, id)
  const ledgers = await journalLedgers(m, ctx, id)
  return {
    ...head,
    reversible: reversible.has(head.kind) && !head.reversedBy && !head.reverses,
    lines: lines.map((l) => ({ account: l.account, debit: Math.max(l.amount, 0), credit: Math.max(-l.amount, 0), matter: l.matter })),
    bank,
    ledgers,
  }
}
/** Accounts to which a hand posts: of the chart, not closed, not of trust, and not those that only their own acts move. */
export async function judgeByHand(m: EntityManager, parts: readonly { accountId: number }[], at: (i: number) => string): Promise<void> {
  const ids = [...new Set(parts.map((p) => p.accountId))]
  const known = await accountsByHand(m, ids)
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
    const banks = await operatingAccounts(m)
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
