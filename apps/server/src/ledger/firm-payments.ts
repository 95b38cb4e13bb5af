import type { Day } from '@heron/core/calendar'
import type { JournalLine } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, lockRow } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { requireUnmatched } from './acts/reversal'
import { checksPdf, firmChecks, lockedFirmPayment } from './payment-queries'
import { useCheckNumber } from './check-numbers'
import { move, reverse } from './door'
import type { BankHead } from './ledgers'
import { FirmPayment as FirmPaymentRow } from './check-entities'
import { BankAccount } from './entities'

export interface FirmPayment {
  payeeId: number
  payeeName: string
  payeeAddress: string
  method: 'check' | 'transfer'
  day: Day
  amount: number
  memo: string
  /** What is paid by it; together the amount, the other side of the bank. */
  lines: readonly JournalLine[]
}

/** Pays somebody out of an operating account: a check under the account's next number, or a transfer. Nothing of it changes afterwards. */
export async function payFromOperating(
  m: EntityManager,
  ctx: Ctx,
  bank: BankHead,
  p: FirmPayment,
): Promise<{ id: number; checkNo: number | null }> {
  const { lines, ...own } = p
  const id = await insertRow(m, FirmPaymentRow, {
    bankAccountId: bank.id,
    payeeId: own.payeeId,
    method: own.method,
    day: own.day,
    payeeName: own.payeeName.slice(0, 160),
    payeeAddress: own.payeeAddress,
    amount: own.amount,
    memo: own.memo.slice(0, 200),
    createdBy: ctx.actor.id,
    createdAt: instant(ctx.clock.now()),
  })
  const checkNo = own.method === 'check' ? await useCheckNumber(m, ctx, bank.id, { firmPaymentId: id }, null) : null
  const text = `${checkNo ? `Check ${checkNo}` : 'Transfer'}, ${own.payeeName}${own.memo ? `: ${own.memo}` : ''}`
  const journalId = await move(
    m,
    ctx,
    { day: own.day, kind: 'vendor payment', memo: text, subject: 'vendor payment', subjectId: id },
    {
      lines: [...lines, { account: bank.glAccountId, amount: -own.amount }],
      bank: [{ bankAccountId: bank.id, amount: -own.amount, kind: own.method, reference: checkNo ? String(checkNo) : '', text }],
    },
  )
  await m.update(FirmPaymentRow, { id }, { state: 'posted', journalId, checkNo })
  await audit(m, ctx, { kind: 'paid', text: `${checkNo ? `Check ${checkNo}` : 'Transfer'}: ${showMoney(own.amount)} to ${own.payeeName}`, subject: 'vendor payment', subjectId: id }) // prettier-ignore
  return { id, checkNo }
}

/** Takes a payment back by a mirrored entry, where no line of the bank shows it. */
export async function voidFirmPayment(m: EntityManager, ctx: Ctx, id: number, day: Day, reason: string): Promise<void> {
  const p = await lockedFirmPayment(m, id)
  if (!p) throw notFound('payment')
  if (p.state !== 'posted') throw refused('not-posted', 'This payment was voided already.')
  if (day > ctx.clock.today()) throw fieldFault('day', 'It cannot be voided on a day ahead')
  // Whoever matches lines of the bank holds the account.
  await lockRow(m, BankAccount, p.bankId)
  const what = p.checkNo ? `Check ${p.checkNo}` : 'This transfer'
  await requireUnmatched(m, p.journalId, what)
  await reverse(m, ctx, p.journalId, day, reason, { subject: 'vendor payment', subjectId: id })
  await m.update(FirmPaymentRow, { id }, { state: 'void' })
  await audit(m, ctx, { kind: 'voided', text: `${what} of ${showMoney(p.amount)} to ${p.payee} voided: ${reason}`, subject: 'vendor payment', subjectId: id }) // prettier-ignore
}

/** The posted checks among some payments, a page each, in order of their numbers. */
export async function firmChecksPdf(ctx: Ctx, ids: readonly number[]): Promise<{ data: Buffer; name: string }> {
  if (!ids.length) throw refused('not-a-check', 'Nothing of this is to be printed any more.')
  const list = await firmChecks(ctx, ids)
  if (!list.length) throw refused('not-a-check', 'Only a posted check can be printed.')
  const name = list.length === 1 ? `check-${list[0]!.checkNo}` : `checks-${list[0]!.checkNo}-${list.at(-1)!.checkNo}`
  return { data: await checksPdf(ctx, list, name), name: `${name}.pdf` }
}
