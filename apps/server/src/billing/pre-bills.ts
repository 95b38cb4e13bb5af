import { counted } from '@heron/core/words'
import {
  addUpPreBill,
  discountTo,
  hasPortions,
  isFee,
  taxRateOf,
  type PayerShare,
  type PreBillLine as CoreLine,
  type TaxRates,
} from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { change, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertMany, insertRow, lockRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { PreBill, PreBillLine, PreBillPayer } from './entities'
import { termsOf } from './terms'
import { Matter } from '../platform/shared-entities'
import {
  linesOf,
  payersOf,
  payersOfMatter,
  portionsAhead,
  type PreLine,
  settlementOn,
  unbilledCostsUpTo,
  unbilledPortionsUpTo,
  mostLines,
  unbilledTimeUpTo,
  waitingPreBill,
  headRow,
  type PreBillHead,
} from './pre-bill-queries'

export async function headOf(m: EntityManager, ctx: Ctx, id: number, lock = false): Promise<PreBillHead> {
  if (lock) await lockRow(m, PreBill, id)
  const found = await headRow(m, ctx, lock, id)
  if (!found) throw notFound('pre-bill')
  const { taxFees, taxSoft, taxHard, ...head } = found
  return { ...head, taxes: { fees: taxFees, softCosts: taxSoft, hardCosts: taxHard } }
}

/** The lines as core computes on them. */
export type Amounts = Pick<PreLine, 'kind' | 'worked' | 'charged' | 'noCharge' | 'heldBack' | 'taxable'>
export const coreLines = (lines: readonly Amounts[], taxes: TaxRates): CoreLine[] =>
  lines.map((l) => ({
    kind: l.kind,
    worked: l.worked,
    charged: l.charged,
    noCharge: l.noCharge,
    heldBack: l.heldBack,
    taxRate: taxRateOf(l, taxes),
  }))

type Terms = Pick<PreBillHead, 'discountAmount' | 'discountBasisPoints' | 'taxes'>
export function totalsOf(head: Terms, lines: readonly Amounts[], payers: readonly PayerShare[] = []) {
  const discount = { amount: head.discountAmount, basisPoints: head.discountBasisPoints }
  return addUpPreBill(coreLines(lines, head.taxes), discount, payers)
}

/** A line as it is taken up from the record. */
type NewLine = Omit<PreLine, 'id' | 'timekeeper' | 'initials' | 'carries' | 'added'>

/** Makes a pre-bill of all posted, unbilled work of a matter up to a day. */
export const makePreBill = (ctx: Ctx, matterId: number, workTo: Day): Promise<{ id: number }> =>
  work(ctx, async (m) => ({ id: (await makePreBillIn(m, ctx, matterId, workTo)).id }))

export async function makePreBillIn(
  m: EntityManager,
  ctx: Ctx,
  matterId: number,
  workTo: Day,
  as: { settlement: boolean } = { settlement: false },
): Promise<{ id: number; lines: number; total: number }> {
  const matter = await requireMatter(m, ctx, matterId, 'money', change)
  if (matter.kind === 'practice') throw refused('practice-matter', `${matter.number} is for practice and stays out of the books.`)
  if (!matter.billToId) throw fieldFault('matterId', `${matter.number} has nobody to bill yet. Say whom to bill on its file.`)
  await lockRow(m, Matter, matterId)
  const before = await waitingPreBill(m, matterId)
  if (before?.waiting) throw refused('pre-bill-waits', `${matter.number} has a pre-bill already. Issue or drop that one first.`)
  const costs = await unbilledCostsUpTo(m, matterId, workTo)
  const portions = await unbilledPortionsUpTo(m, matterId, workTo)
  // Work that a fee covers is listed beside that fee: on a bill of costs alone it would be gone before the fee is charged.
  const noneToCome = async () => !(await portionsAhead(m, matterId))!.n
  const withFee = portions.length > 0 || (hasPortions(matter.billing) && (await noneToCome()))
  const time = await unbilledTimeUpTo(m, matterId, workTo, withFee)
  if (!time.length && !costs.some((c) => !c.told) && !portions.length)
    throw refused('nothing-to-bill', `${matter.number} has nothing unbilled up to that day.`)
  if (time.length + costs.length + portions.length > mostLines)
    throw fieldFault(
      'workTo',
      `${matter.number} has more than ${mostLines.toLocaleString('en-US')} entries up to that day, and no bill has more lines. Choose an earlier day, so that they go on several bills`,
    )
  const usual = { day: null, timekeeperId: null, minutes: null, rate: null, noCharge: false, heldBack: false, advanced: null, taxable: null, told: false } // prettier-ignore
  const lines: NewLine[] = [
    // What a fee covers is listed at nothing.
    ...time.map((t) => ({
      ...usual,
      kind: 'time' as const,
      sourceId: t.id,
      day: t.day,
      timekeeperId: t.userId,
      text: t.text,
      minutes: t.minutes,
      rate: t.rate,
      worked: t.amount,
      charged: t.covered ? 0 : t.amount,
      noCharge: t.charge === 'no charge',
    })),
    ...portions.map((p) => ({ ...usual, kind: 'flat' as const, sourceId: p.id, text: p.label, worked: p.amount, charged: p.amount })),
    ...costs.map((c) => ({
      ...usual,
      kind: c.kind,
      sourceId: c.id,
      day: c.day,
      text: c.told ? `${c.text} (paid from trust)`.slice(0, 300) : c.text,
      worked: c.amount,
      charged: c.told ? 0 : c.amount,
      noCharge: Boolean(c.told),
      advanced: c.told || c.kind === 'soft cost' ? 0 : c.paid,
      taxable: c.told ? false : c.taxable === null ? null : Boolean(c.taxable),
      told: Boolean(c.told),
    })),
  ]
  const payers = await payersOfMatter(m, matterId)
  const { taxes, discountBasisPoints } = await termsOf(m, matterId, matter.clientId)
  // A settlement shares out the fee as it was agreed; what is taken off other bills is not taken off that.
  const discount = as.settlement ? 0 : discountBasisPoints
  const { total } = totalsOf({ discountAmount: 0, discountBasisPoints: discount, taxes }, lines, payers)
  const id = await insertRow(m, PreBill, {
    matterId,
    payerId: matter.billToId,
    workTo,
    discountBasisPoints: discount,
    taxBasisPoints: taxes.fees,
    taxSoftBasisPoints: taxes.softCosts,
    taxHardBasisPoints: taxes.hardCosts,
    total,
    lineCount: lines.length,
    createdBy: ctx.actor.id,
    createdAt: instant(ctx.clock.now()),
  })
  await insertMany(m, 'pre_bill_payer', ['pre_bill_id', 'ordinal', 'contact_id', 'fixed', 'basis_points'], payers.map((p, i) => [id, i + 1, p.contactId, p.fixed, p.basisPoints])) // prettier-ignore
  await insertMany(
    m,
    'pre_bill_line',
    'pre_bill_id ordinal kind source_id day timekeeper_id text minutes rate worked charged no_charge advanced taxable told'.split(' '),
    lines.map((l, i) => [id, i + 1, l.kind, l.sourceId, l.day, l.timekeeperId, l.text, l.minutes, l.rate, l.worked, l.charged, l.noCharge, l.advanced, l.taxable, l.told]), // prettier-ignore
  )
  await audit(m, ctx, {
    kind: 'pre-bill',
    text: `Pre-bill of ${counted(lines.length, 'line')}, work to ${workTo}`,
    matterId,
    subject: 'pre-bill',
    subjectId: id,
  })
  return { id, lines: lines.length, total }
}

/** Keeps what a pre-bill comes to, and of how many lines. Called with every change of it. */
export async function retotal(m: EntityManager, ctx: Ctx, id: number): Promise<number> {
  const lines = await linesOf(m, id)
  const { total } = totalsOf(await headOf(m, ctx, id), lines, await payersOf(m, id))
  await m.update(PreBill, id, { total, lineCount: lines.length })
  return total
}

/** The same for a change that may leave less fees than the discount: refused at the field, and nothing is changed. */
export async function retotalWithin(m: EntityManager, ctx: Ctx, id: number, field: string): Promise<void> {
  try {
    await retotal(m, ctx, id)
  } catch (error) {
    if (error instanceof RangeError) throw fieldFault(field, 'The discount would be above the fees that are left. Lower it first.')
    throw error
  }
}

export async function inReview(m: EntityManager, ctx: Ctx, id: number): Promise<PreBillHead> {
  const head = await headOf(m, ctx, id, true)
  if (head.state === 'approved') throw refused('approved', 'This pre-bill is approved. Take it back for review to change it.')
  if (head.state === 'issued') throw refused('issued', 'This pre-bill is issued; the bill does not change.')
  return head
}

interface LineWords {
  text: string
  charged: number
  noCharge: boolean
  heldBack: boolean
}
type LineEdit = { lineId: number; seen?: LineWords | undefined } & { [K in keyof LineWords]?: LineWords[K] | undefined }

export function changeLine(ctx: Ctx, id: number, { lineId, seen, ...given }: LineEdit): Promise<void> {
  return work(ctx, async (m) => {
    const head = await inReview(m, ctx, id)
    const line = (await linesOf(m, id)).find((l) => l.id === lineId)
    if (!line) throw notFound('line')
    const was: LineWords = { text: line.text, charged: line.charged, noCharge: line.noCharge, heldBack: line.heldBack }
    const keys = (Object.keys(was) as (keyof LineWords)[]).filter((k) => given[k] !== undefined)
    // Two people review at once: neither writes over what they have not seen.
    if (seen && keys.some((k) => seen[k] !== was[k]))
      throw refused('changed-meanwhile', 'Somebody else changed this line while you looked at it. Nothing was written over.')
    const change = Object.assign({ ...was }, ...keys.map((k) => ({ [k]: given[k] }))) as LineWords
    if (line.told && (change.charged || !change.noCharge))
      throw fieldFault('noCharge', 'Trust money paid this; it stands here for information and is not billed again')
    if (change.charged > line.worked) throw fieldFault('charged', `At most ${showMoney(line.worked)}, the value as recorded`)
    if (!isFee(line.kind) && change.charged !== line.charged && line.kind === 'hard cost')
      throw fieldFault('charged', 'Money paid out for the client is billed as paid; hold it back instead')
    await m.update(PreBillLine, lineId, change)
    await retotalWithin(m, ctx, id, 'charged')
    await audit(m, ctx, {
      kind: 'changed',
      text: `Pre-bill line changed: ${change.text}`,
      matterId: head.matterId,
      subject: 'pre-bill',
      subjectId: id,
      detail: { was, became: change },
    })
  })
}

export function setDiscount(ctx: Ctx, id: number, input: { amount: number; basisPoints: number; target?: number | null }): Promise<void> {
  return work(ctx, async (m) => {
    const head = await inReview(m, ctx, id)
    const { basisPoints, target = null } = input
    let { amount } = input
    if (target !== null) {
      if (amount || basisPoints) throw fieldFault('target', 'Give an amount, a percentage, or the sum it is to come to')
      const off = discountTo(target, coreLines(await linesOf(m, id), head.taxes), await payersOf(m, id))
      if (off === null) throw fieldFault('target', 'No discount on the fees takes the bill to that sum')
      amount = off
    }
    if (amount && basisPoints) throw fieldFault('amount', 'Give an amount or a percentage, not both')
    const { fees } = totalsOf({ ...head, discountAmount: 0, discountBasisPoints: 0 }, await linesOf(m, id))
    if (amount > fees) throw fieldFault('amount', `At most the fees of ${showMoney(fees)}`)
    await m.update(PreBill, id, { discountAmount: amount, discountBasisPoints: basisPoints })
    await retotal(m, ctx, id)
    await audit(m, ctx, {
      kind: 'changed',
      text: `Discount ${amount ? showMoney(amount) : `${basisPoints / 100} %`}`,
      matterId: head.matterId,
      subject: 'pre-bill',
      subjectId: id,
    })
  })
}

/** The bill of a settlement comes to what its statement says: the client agreed to that, and is paid the rest by it. */
async function judgeSettlement(m: EntityManager, id: number, total: number) {
  const s = await settlementOn(m, id)
  if (s && s.billed !== total)
    throw refused(
      'settlement-differs',
      `The settlement statement says that this bill comes to ${showMoney(s.billed)}, and it comes to ${showMoney(total)}. Put its lines back, or withdraw the settlement and share the recovery anew.`,
    )
}

export function approve(ctx: Ctx, id: number, approved: boolean, seen?: number): Promise<void> {
  return work(ctx, async (m) => {
    const head = await headOf(m, ctx, id, true)
    if (head.state === 'issued') throw refused('issued', 'This pre-bill is issued.')
    const total = await retotal(m, ctx, id)
    if (approved && seen !== undefined && seen !== total)
      throw refused('changed-meanwhile', `This bill comes to ${showMoney(total)} by now, and not to ${showMoney(seen)}. Look at it again.`)
    if (approved) await judgeSettlement(m, id, total)
    await m.update(PreBill, id, {
      state: approved ? 'approved' : 'review',
      approvedBy: approved ? ctx.actor.id : null,
      stateSince: instant(ctx.clock.now()),
    })
    const text = approved ? `Pre-bill approved, ${showMoney(total)}` : 'Pre-bill taken back for review'
    await audit(m, ctx, { kind: approved ? 'approved' : 'changed', text, matterId: head.matterId, subject: 'pre-bill', subjectId: id })
  })
}

export const dropPreBill = (ctx: Ctx, id: number): Promise<void> => work(ctx, (m) => dropPreBillIn(m, ctx, id))

export async function dropPreBillIn(m: EntityManager, ctx: Ctx, id: number): Promise<void> {
  const head = await headOf(m, ctx, id, true)
  if (head.state === 'issued') throw refused('issued', 'This pre-bill is issued.')
  await m.delete(PreBillLine, { preBillId: id })
  await m.delete(PreBillPayer, { preBillId: id })
  await m.delete(PreBill, { id })
  await audit(m, ctx, {
    kind: 'dropped',
    text: 'Pre-bill dropped; its lines stay unbilled',
    matterId: head.matterId,
    subject: 'pre-bill',
    subjectId: id,
  })
}
