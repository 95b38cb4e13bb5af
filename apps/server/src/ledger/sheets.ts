import type { SheetIn } from '@heron/contract'
import { capital, faultOfPast } from '@heron/core/calendar'
import { feeOfReceipt } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { touchMatter } from '../platform/access'
import { areas } from '../platform/area'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, locked, nextNumber, work } from '../platform/database'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { DepositReceipt, DepositSheet } from './entities'
import { bankAccount, ensureLedger } from './ledgers'
import { clearingDay } from './ledger-queries'
import { requireOwner } from './owners'
import { receiptFee } from './queries'
import { move } from './door'
import type { BankLeg } from './posting'
import type { LedgerLeg } from './posting-queries'
import { hiddenOnSheet, receiptNumbers } from './account-queries'

/** A sheet as it is handed in; the fee of a receipt is charged unless it is left out. */
type Sheet = Omit<SheetIn, 'receipts'> & { receipts: readonly (Omit<SheetIn['receipts'][number], 'fee'> & { fee?: boolean })[] }

async function judgeSheet(m: EntityManager, ctx: Ctx, input: Sheet) {
  const bank = await bankAccount(m, input.bankAccountId)
  if (bank.kind === 'operating') throw fieldFault('bankAccountId', 'Choose a trust account')
  const wrongDay = faultOfPast(input.day, ctx.clock.today())
  if (wrongDay) throw fieldFault('day', wrongDay)
  for (const [i, r] of input.receipts.entries()) await requireOwner(m, ctx, r, `receipts.${i}.`)
}

async function writeReceipts(m: EntityManager, sheetId: number, input: Sheet) {
  // Receipt numbers stay with their line; a number that falls away shows as missing in the series.
  const numbers = await receiptNumbers(m, sheetId)
  await m.delete(DepositReceipt, { sheetId })
  const { amount: set } = await receiptFee(m)
  for (const [i, { fee, ...r }] of input.receipts.entries())
    await m.insert(DepositReceipt, {
      ...r,
      fee: feeOfReceipt(set, { wanted: fee ?? true, matterId: r.matterId }),
      sheetId,
      ordinal: i + 1,
      receiptNo: numbers[i]?.n ?? (await nextNumber(m, 'receipt')),
    })
}

export function makeSheet(ctx: Ctx, input: Sheet): Promise<{ id: number; number: number }> {
  return work(ctx, async (m) => {
    await judgeSheet(m, ctx, input)
    const number = await nextNumber(m, 'deposit sheet')
    const id = await insertRow(m, DepositSheet, {
      number,
      bankAccountId: input.bankAccountId,
      day: input.day,
      controlTotal: input.controlTotal,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    await writeReceipts(m, id, input)
    await audit(m, ctx, { kind: 'drafted', text: `Deposit sheet ${number} drafted`, subject: 'deposit sheet', subjectId: id })
    return { id, number }
  })
}

async function lockDraft(m: EntityManager, id: number) {
  const sheet = await m.findOne(DepositSheet, {
    select: { id: true, number: true, bankAccountId: true, day: true, controlTotal: true, state: true, version: true },
    where: { id },
    ...locked(m),
  })
  if (!sheet) throw notFound('deposit sheet')
  if (sheet.state !== 'draft')
    throw refused(
      'already-posted',
      `Deposit sheet ${sheet.number} is posted and does not change. A wrong line is mended by a correction: open the ledger it stands on and choose Correct at the entry.`,
    )
  return sheet
}

export function changeSheet(ctx: Ctx, id: number, input: Sheet, version?: number): Promise<void> {
  return work(ctx, async (m) => {
    const sheet = await lockDraft(m, id)
    if (version !== undefined && version !== sheet.version)
      throw refused(
        'changed-meanwhile',
        `Deposit sheet ${sheet.number} was changed after you opened it. Leave, look at it again, and change it then.`,
      )
    // What one may not see cannot be written anew by one: it would be lost.
    const hidden = await hiddenOnSheet(m, ctx, id)
    if (hidden!.n)
      throw new Problem(
        403,
        'part-not-open',
        `Deposit sheet ${sheet.number} has a receipt that is not open to you. Ask a colleague who keeps trust money to change it.`,
      )
    await judgeSheet(m, ctx, input)
    await m.update(DepositSheet, id, {
      bankAccountId: input.bankAccountId,
      day: input.day,
      controlTotal: input.controlTotal,
      version: sheet.version + 1,
    })
    await writeReceipts(m, id, input)
    await audit(m, ctx, { kind: 'changed', text: `Deposit sheet ${sheet.number} changed`, subject: 'deposit sheet', subjectId: id })
  })
}

/** What the bank shows by itself, and not within a deposit. */
export const standsAlone = (kind: string) => kind === 'wire' || kind === 'card' || kind === 'bank debit'

/** Posts a sheet when it meets its control total: trust bank up, what is owed to each client up. */
export function postSheet(ctx: Ctx, id: number): Promise<{ ok: true }> {
  return work(ctx, async (m) => {
    const sheet = await lockDraft(m, id)
    const receipts = await m.find(DepositReceipt, {
      select: {
        id: true,
        fee: true,
        receiptNo: true,
        clientId: true,
        matterId: true,
        depositor: true,
        kind: true,
        reference: true,
        text: true,
        amount: true,
      },
      where: { sheetId: id },
      order: { ordinal: 'ASC' },
    })
    const total = sum(receipts.map((r) => r.amount))
    if (total !== sheet.controlTotal) {
      const off = sheet.controlTotal - total
      throw refused(
        'control-total',
        `The receipts come to ${showMoney(total)}, the book says ${showMoney(sheet.controlTotal)}: ${showMoney(Math.abs(off))} ${off > 0 ? 'is missing' : 'too much'}.`,
      )
    }
    const bank = await bankAccount(m, sheet.bankAccountId)
    const ledgers: LedgerLeg[] = []
    for (const r of receipts) {
      const ledgerId = await ensureLedger(
        m,
        bank.id,
        r.clientId === null ? { kind: 'unidentified' } : { kind: 'client', clientId: r.clientId, matterId: r.matterId },
      )
      const text = `Receipt ${r.receiptNo}, ${r.depositor}${r.text ? `: ${r.text}` : ''}`
      ledgers.push({ ledgerId, bankAccountId: bank.id, amount: r.amount, clearsOn: await clearingDay(m, r.kind, sheet.day), text })
    }
    // The bank sees one deposit, and each wire by itself.
    const together = receipts.filter((r) => !standsAlone(r.kind))
    const bankLegs: BankLeg[] = receipts
      .filter((r) => standsAlone(r.kind))
      .map((r) => ({
        bankAccountId: bank.id,
        amount: r.amount,
        kind: r.kind,
        reference: r.reference,
        text: `${capital(r.kind)}, ${r.depositor}`,
      }))
    if (together.length)
      bankLegs.unshift({
        bankAccountId: bank.id,
        amount: sum(together.map((r) => r.amount)),
        kind: 'deposit',
        reference: `Sheet ${sheet.number}`,
        text: `Sheet ${sheet.number}, ${together.length} ${together.length === 1 ? 'receipt' : 'receipts'}`,
      })
    const journalId = await move(
      m,
      ctx,
      { day: sheet.day, kind: 'deposit', memo: `Deposit sheet ${sheet.number}`, subject: 'deposit sheet', subjectId: id },
      {
        lines: [
          { account: bank.glAccountId, amount: total },
          ...receipts.map((r) => ({ account: bank.liabilityAccountId!, amount: -r.amount, matterId: r.matterId })),
        ],
        bank: bankLegs,
        ledgers,
      },
    )
    await m.update(DepositSheet, id, { state: 'posted', journalId })
    const { owedTo } = await receiptFee(m)
    for (const { id: receiptId, receiptNo, matterId, fee } of receipts)
      if (fee && matterId)
        for (const own of areas()) await own.atReceipt?.(m, ctx, { receiptId, receiptNo, matterId, day: sheet.day, amount: fee, owedTo })
    for (const r of receipts)
      await audit(m, ctx, {
        kind: 'received',
        text: `Receipt ${r.receiptNo}: ${showMoney(r.amount)} into trust from ${r.depositor}`,
        matterId: r.matterId,
        subject: 'deposit sheet',
        subjectId: id,
      })
    for (const matterId of new Set(receipts.map((r) => r.matterId))) if (matterId) await touchMatter(m, ctx, matterId)
    return { ok: true as const }
  })
}
