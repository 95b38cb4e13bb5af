import { faultOfPast, type Day } from '@heron/core/calendar'
import { bankKinds, shareOfLedgers } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import { counted } from '@heron/core/words'
import { bankAccount, ledgersAvailable, lockLedger, operatingBank } from '../ledger'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, nextNumber, row, rows, work } from '../platform/database'
import { openOf } from '../platform/figures'
import { fieldFault, refused } from '../platform/problem'
import { lockBills, unearnedOn } from './allocations'
import { payFromTrustIn } from './payments'
import { TransferSheet } from './entities'

/** How many bills are offered, and travel together at most. */
const most = 200

/** Open bills that money of their own payers in a trust account could pay on a day, the oldest due first, and how far it reaches. */
export async function transferAhead(ctx: Ctx, input: { bankAccountId: number; day: Day }) {
  const m = ctx.db.manager
  const firm = await row<{ notice: number }>(m, `SELECT trust_notice_days AS notice FROM firm`)
  const all = await rows<{
    ledgerId: number
    ledger: string
    billId: number
    number: string
    matter: string
    dueOn: Day
    open: number
    unearned: number
  }>(
    m,
    `SELECT l.id AS ledgerId, o.name AS ledger, b.id AS billId, b.number, CONCAT(m.number, ' ', m.short_name) AS matter, b.due_on AS dueOn, ${openOf('b')} AS open, ${unearnedOn('b')} AS unearned
       FROM client_ledger l JOIN contact o ON o.id = l.client_id
       JOIN (SELECT id, COALESCE(merged_into, id) AS root FROM contact) p ON p.root = COALESCE(o.merged_into, o.id)
       JOIN bill b ON b.payer_id = p.id AND (l.matter_id IS NULL OR l.matter_id = b.matter_id) JOIN matter m ON m.id = b.matter_id
      WHERE l.bank_account_id = ? AND l.kind = 'client' AND DATE_ADD(b.issued_on, INTERVAL ? DAY) <= ?
        AND ${matterScope(ctx.actor, 'm', 'trust')} AND ${matterScope(ctx.actor, 'm', 'money')}
        AND COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = l.id AND d.day <= ? ORDER BY d.day DESC LIMIT 1), 0) > 0
      HAVING open > 0 ORDER BY b.due_on, b.id, l.matter_id IS NULL LIMIT ${most}`,
    [input.day, input.bankAccountId, firm!.notice, input.day, input.day],
  )
  const available = await ledgersAvailable(ctx, [...new Set(all.map((f) => f.ledgerId))], input.day)
  const found = all.filter((f) => (available.get(f.ledgerId) ?? 0) > 0 && f.open > f.unearned)
  const shares = shareOfLedgers(
    found.map((f) => ({ ledgerId: f.ledgerId, billId: f.billId, owed: f.open - f.unearned })),
    available,
  )
  const list = found.map(({ unearned: _u, ...f }, i) => ({ ...f, available: available.get(f.ledgerId) ?? 0, amount: shares[i]! }))
  return { rows: list, total: sum(list.map((l) => l.amount)) }
}

/**
 * Pays many issued bills from trust in one act: each bill in a journal of its own, by its own payer’s money, under every rule; both
 * banks see one movement, which is in transit on both sides until their statements show it.
 */
export const makeTransfer = (
  ctx: Ctx,
  input: {
    bankAccountId: number
    operatingAccountId: number | null
    day: Day
    parts: readonly { ledgerId: number; billId: number; amount: number }[]
  },
) =>
  work(ctx, async (m) => {
    const wrong = faultOfPast(input.day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    const bank = await bankAccount(m, input.bankAccountId)
    if (!bankKinds[bank.kind].trust) throw fieldFault('bankAccountId', 'Choose a trust account')
    const operating = await operatingBank(m, input.operatingAccountId)
    if (new Set(input.parts.map((p) => `${p.ledgerId} ${p.billId}`)).size !== input.parts.length)
      throw fieldFault('parts', 'Each bill stands here once for a ledger')
    // All bills before any ledger, as where one bill is paid, so that two sheets wait for each other and do not cross.
    await lockBills(m, ctx, [...new Set(input.parts.map((p) => p.billId))], input.day) // prettier-ignore
    for (const id of [...new Set(input.parts.map((p) => p.ledgerId))].sort((a, b) => a - b)) {
      const ledger = await lockLedger(m, ctx, id, true)
      if (ledger.bankAccountId !== bank.id)
        throw fieldFault(`parts.${input.parts.findIndex((p) => p.ledgerId === id)}.ledgerId`, `${ledger.name} lies in another account`)
    }
    const number = await nextNumber(m, 'transfer sheet')
    const total = sum(input.parts.map((p) => p.amount))
    for (const [i, part] of input.parts.entries()) {
      try {
        await payFromTrustIn(m, ctx, { ...part, day: input.day, overrideReason: '' }, { operating, reference: `Transfer sheet ${number}` })
      } catch (error) {
        if (error instanceof Error && 'code' in error && 'status' in error && error.status === 409)
          throw refused(error.code as never, `Row ${i + 1}: ${error.message}`)
        throw error
      }
    }
    const madeId = await insertRow(m, TransferSheet, {
      number,
      bankAccountId: bank.id,
      operatingAccountId: operating.id,
      day: input.day,
      total,
      bills: input.parts.length,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    await audit(m, ctx, { kind: 'transferred', text: `Transfer sheet ${number}: ${showMoney(total)} from ${bank.name} to ${operating.name} for ${counted(input.parts.length, 'bill')}`, subject: 'account', subjectId: bank.id }) // prettier-ignore
    return { id: madeId, number, total }
  })

/** Transfer sheets, newest first, with which of the two banks has shown the movement. */
export async function transfers(ctx: Ctx, f: { page: number; size: number }) {
  const m = ctx.db.manager
  const shown = (bank: string) =>
    `NOT EXISTS (SELECT 1 FROM bank_entry e LEFT JOIN bank_match_entry k ON k.entry_id = e.id WHERE e.bank_account_id = ${bank} AND e.reference = CONCAT('Transfer sheet ', t.number) AND k.entry_id IS NULL)`
  const list = await rows<{
    id: number
    number: number
    day: Day
    from: string
    to: string
    bills: number
    total: number
    fromShown: number
    toShown: number
  }>(
    m,
    `SELECT t.id, t.number, t.day, a.name AS \`from\`, b.name AS \`to\`, t.bills, t.total, ${shown('t.bank_account_id')} AS fromShown, ${shown('t.operating_account_id')} AS toShown
       FROM transfer_sheet t JOIN bank_account a ON a.id = t.bank_account_id JOIN bank_account b ON b.id = t.operating_account_id ORDER BY t.day DESC, t.id DESC LIMIT ${Number(f.size)} OFFSET ${Number((f.page - 1) * f.size)}`,
  )
  return {
    rows: list.map((t) => ({ ...t, fromShown: Boolean(t.fromShown), toShown: Boolean(t.toShown) })),
    total: await m.count(TransferSheet),
  }
}
