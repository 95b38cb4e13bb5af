import type { SettlementIn } from '@heron/contract'
import { addUpPreBill, settlementStatement, showFraction, type SettlementStatement } from '@heron/core/billing'
import { faultOfPast, showDayInWords, type Day } from '@heron/core/calendar'
import { showAmount, showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { ClientLedger, draftPaymentIn } from '../ledger'
import { change, requireMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertMany, lockRow, work } from '../platform/database'
import { footOf, headOf, makePdf } from '../platform/pdf'
import { letterheadOf, type FirmHead } from '../platform/queries'
import { fieldFault, notFound, refused } from '../platform/problem'
import { coreLines, dropPreBillIn, makePreBillIn, totalsOf, headOf as preBillHead } from './pre-bills'
import { addPortion, linesOf, payersOf, removePortion } from './pre-bill-queries'
import { termsOf } from './terms'
import {
  openOnMatter,
  settlementRow,
  settlementsOfMatter,
  unbilledLines,
  type SettlementRow,
  clientAddress,
  feeOfStage,
  lastPortion,
  madeLast,
  paidOut,
  preBillWithFee,
  sharesOfPayers,
} from './settlement-queries'
import { Matter } from '../platform/shared-entities'
import { Settlement, SettlementLien } from './entities'

interface Kept {
  firm: FirmHead
  matter: string
  client: string
  clientAddress: string
  from: string
  recoveredOn: Day
  gross: number
  lines: SettlementStatement['lines']
}

/** Works a recovery out as things stand: fee by the stage, costs and what else is owed, tax, liens, and the client's part. */
async function workOut(m: EntityManager, ctx: Ctx, matter: OpenMatter, input: SettlementIn) {
  const wrong = faultOfPast(input.recoveredOn, ctx.clock.today())
  if (wrong || input.recoveredOn > ctx.clock.today())
    throw fieldFault('recoveredOn', wrong ?? 'Give the day on which it was recovered; it cannot be ahead')
  const terms = await feeOfStage(m, input.stage, matter.id)
  if (!terms) throw fieldFault('stage', 'Choose a stage of the contingent fee. Its terms stand on the matter’s bills.')
  const open = await openOnMatter(m, matter.id)
  const { taxes } = await termsOf(m, matter.id, matter.clientId)
  const lines = coreLines(await unbilledLines(m, matter.id, input.recoveredOn), taxes)
  const costs = sum(lines.filter((l) => l.kind !== 'time' && l.kind !== 'flat').map((l) => l.charged))
  const besides = sum(lines.filter((l) => l.kind === 'time' || l.kind === 'flat').map((l) => l.charged))
  const payers = await sharesOfPayers(m, matter.id)
  const base = {
    gross: input.gross,
    costs: costs + open.costs,
    owed: besides + open.other,
    feeOf: terms.feeOf,
    fee: { numerator: terms.numerator, denominator: terms.denominator },
    liens: input.liens.map((l) => ({ name: `${l.payee}, ${l.text}`, amount: l.amount })),
  }
  try {
    const { fee } = settlementStatement({ ...base, owed: 0, liens: [] })
    const feeLine = { kind: 'flat' as const, worked: fee, charged: fee, noCharge: false, heldBack: false, taxRate: taxes.fees }
    const bill = addUpPreBill([...lines, feeLine], { amount: 0, basisPoints: 0 }, payers)
    return { terms, ...base, fee, billed: bill.total, tax: bill.tax, statement: settlementStatement({ ...base, tax: bill.tax }) }
  } catch (error) {
    if (error instanceof RangeError) throw fieldFault('gross', `${error.message}. Look at the amounts, or agree with those who are owed.`)
    throw error
  }
}

export async function previewSettlement(ctx: Ctx, input: SettlementIn) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, input.matterId, 'money', change)
  const { statement, billed } = await workOut(m, ctx, matter, input)
  return { ...statement, billed }
}

/**
 * Closes a contingent fee: keeps the statement, and makes the pre-bill of the fee with what is unbilled. The money moves by the
 * ways that all money takes: the bill is issued and paid from trust, and what goes to others and to the client is drafted.
 */
export function settle(ctx: Ctx, input: SettlementIn & { toClient: number }): Promise<{ id: number; preBillId: number }> {
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, input.matterId, 'money', change)
    if (matter.closedOn) throw refused('matter-closed', `${matter.number} is closed. Reopen it first.`)
    await lockRow(m, Matter, matter.id)
    const w = await workOut(m, ctx, matter, input)
    if (w.statement.toClient !== input.toClient)
      throw refused('changed-meanwhile', 'What is unbilled or open on this matter changed since the statement was shown. Look again.')
    const people = (await clientAddress(m, matter.clientId))!
    const part = showFraction(w.terms)
    const label = `Contingent fee, ${part} of ${showMoney(w.feeOf === 'gross' ? w.gross : w.gross - w.costs)}`
    let portionId: number | null = null
    if (w.fee) {
      const last = await lastPortion(m, matter.id)
      await addPortion(m, matter.id, { after: last!.n, label, amount: w.fee, earnedOn: input.recoveredOn })
      portionId = (await madeLast(m))!.id
    }
    const pre = await makePreBillIn(m, ctx, matter.id, input.recoveredOn, { settlement: true })
    const billed = totalsOf(await preBillHead(m, ctx, pre.id), await linesOf(m, pre.id), await payersOf(m, pre.id))
    if (billed.total !== w.billed)
      throw refused('changed-meanwhile', 'The bill of this settlement does not come to what the statement says. Look again.')
    const kept: Kept = {
      firm: await letterheadOf(m),
      matter: `${matter.number} ${matter.name}`,
      client: people.client,
      clientAddress: people.address,
      from: input.fromWhom,
      recoveredOn: input.recoveredOn,
      gross: w.gross,
      lines: w.statement.lines,
    }
    await m.insert(Settlement, {
      matterId: matter.id,
      recoveredOn: input.recoveredOn,
      fromWhom: input.fromWhom,
      gross: w.gross,
      feeOf: w.feeOf,
      stage: w.terms.label,
      numerator: w.terms.numerator,
      denominator: w.terms.denominator,
      fee: w.fee,
      costs: w.costs,
      owed: w.owed,
      tax: w.tax,
      toClient: w.statement.toClient,
      billed: w.billed,
      snapshot: JSON.stringify(kept),
      portionId,
      madeBy: ctx.actor.id,
      madeAt: instant(ctx.clock.now()),
    })
    const id = (await madeLast(m))!.id
    if (input.liens.length)
      await insertMany(
        m,
        'settlement_lien',
        ['settlement_id', 'ordinal', 'payee', 'address', 'text', 'amount'],
        input.liens.map((l, i) => [id, i + 1, l.payee, l.address, l.text, l.amount]),
      )
    await audit(m, ctx, {
      kind: 'billed',
      text: `Settled: ${showMoney(w.gross)} recovered of ${input.fromWhom}, fee ${showMoney(w.fee)}, ${showMoney(w.statement.toClient)} to the client`,
      matterId: matter.id,
      subject: 'matter',
      subjectId: matter.id,
    })
    return { id, preBillId: pre.id }
  })
}

async function lockSettlement(m: EntityManager, ctx: Ctx, id: number): Promise<SettlementRow> {
  await lockRow(m, Settlement, id)
  const s = await settlementRow(m, id)
  if (!s) throw notFound('settlement')
  await requireMatter(m, ctx, s.matterId, 'money', change)
  if (s.withdrawnOn) throw refused('settlement-withdrawn', 'This settlement was withdrawn.')
  return s
}

export async function settlements(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  await requireMatter(m, ctx, matterId, 'money')
  return (await settlementsOfMatter(m, matterId)).map(({ snapshot, portionId: _, ...s }) => ({
    ...s,
    lines: (JSON.parse(snapshot) as Kept).lines,
    liens: s.liens.map(({ address: __, ordinal: ___, ...l }) => l),
  }))
}

/** Takes a settlement back while its bill is not issued and nothing of it is paid: the fee goes, and what was unbilled stays so. */
export function withdrawSettlement(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const s = await lockSettlement(m, ctx, id)
    if (s.billed) throw refused('billed-already', 'The fee of this settlement is billed. Void the bill first.')
    const paid = await paidOut(m, s.clientPaymentId, id)
    if (paid) throw refused('payments-drafted', 'Payments of this settlement are drafted or posted. Drop or void them first.')
    const pre = await preBillWithFee(m, s.portionId)
    if (pre) await dropPreBillIn(m, ctx, pre.id)
    if (s.portionId) await removePortion(m, s.portionId)
    await m.update(Settlement, { id }, { withdrawnOn: ctx.clock.today() })
    await audit(m, ctx, { kind: 'changed', text: `Settlement of ${showMoney(s.gross)} withdrawn`, matterId: s.matterId, subject: 'matter', subjectId: s.matterId }) // prettier-ignore
  })
}

/** Drafts what goes to lien holders and to the client out of a ledger of the matter, under every rule of trust money. */
export function draftSettlementPayments(
  ctx: Ctx,
  { id, ledgerId, day }: { id: number; ledgerId: number; day: Day },
): Promise<{ drafted: number }> {
  return work(ctx, async (m) => {
    const s = await lockSettlement(m, ctx, id)
    const own = await m.findOne(ClientLedger, { select: { id: true }, where: { id: ledgerId, matterId: s.matterId } })
    if (!own) throw fieldFault('ledgerId', 'Choose a ledger of this matter')
    const kept = JSON.parse(s.snapshot) as Kept
    const memo = `Settlement, ${kept.matter}`.slice(0, 200)
    const draft = (payeeName: string, payeeAddress: string, amount: number, text: string) =>
      draftPaymentIn(m, ctx, {
        ledgerId,
        day,
        method: 'check',
        payeeName,
        payeeAddress,
        amount,
        memo: text,
        checkNo: null,
        overrideReason: '',
      })
    let drafted = 0
    for (const l of s.liens) {
      if (l.state === 'draft' || l.state === 'posted') continue
      const paymentId = await draft(l.payee, l.address, l.amount, l.text || memo)
      await m.update(SettlementLien, { settlementId: id, ordinal: l.ordinal }, { paymentId })
      drafted += 1
    }
    if (s.toClient > 0 && s.clientState !== 'draft' && s.clientState !== 'posted') {
      const paymentId = await draft(kept.client, kept.clientAddress, s.toClient, memo)
      await m.update(Settlement, { id }, { clientPaymentId: paymentId })
      drafted += 1
    }
    if (!drafted) throw refused('nothing-to-draft', 'Everything that this settlement pays out is drafted or posted.')
    return { drafted }
  })
}

const right = (text: string, extra: object = {}) => ({ text, alignment: 'right', ...extra })

/** The settlement statement as it was kept, for client and lawyer to sign. */
export async function settlementPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const m = ctx.db.manager
  const s = await settlementRow(m, id)
  if (!s) throw notFound('settlement')
  await requireMatter(m, ctx, s.matterId, 'money')
  const kept = JSON.parse(s.snapshot) as Kept
  const data = await makePdf({
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    info: { title: `Settlement statement, ${kept.matter}`, author: kept.firm.name },
    foot: footOf(kept.firm, `Settlement statement · page {page} of {pages}`),
    content: [
      { columns: [headOf(kept.firm), { stack: [right('Settlement statement', { style: 'title' }), right(showDayInWords(kept.recoveredOn), { style: 'small' })] }] }, // prettier-ignore
      { text: `${kept.client}\n${kept.clientAddress}`, margin: [0, 26, 0, 18] },
      { text: kept.matter, style: 'total', margin: [0, 0, 0, 8] },
      {
        table: {
          widths: ['*', 100],
          body: [
            [{ text: `Recovered of ${kept.from}`, style: 'total' }, right(showMoney(kept.gross), { style: 'total' })],
            ...kept.lines.slice(0, -1).map((l) => [l.text, right(showAmount(l.amount))]),
            [{ text: kept.lines.at(-1)!.text, style: 'total' }, right(showMoney(kept.lines.at(-1)!.amount), { style: 'total' })],
          ],
        },
        layout: 'lightHorizontalLines',
      },
      {
        text: s.withdrawnOn
          ? 'This statement was withdrawn.'
          : 'What stands above adds up to what was recovered. I have read it and agree.',
        margin: [0, 18, 0, 40],
      },
      {
        columns: [kept.client, kept.firm.name].map((who) => ({
          stack: ['_______________________________', { text: who, style: 'small' }],
        })),
      },
    ],
  } as never)
  return { data, name: `settlement-${kept.recoveredOn}.pdf` }
}
