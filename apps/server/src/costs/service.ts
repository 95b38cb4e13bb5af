import type { CostIn } from '@heron/contract'
import { splitCost } from '@heron/core/costs'
import { counted } from '@heron/core/words'
import { faultOfPast, showDay, type Day } from '@heron/core/calendar'
import { showMoney, sum } from '@heron/core/money'
import type { JournalLine } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { accountFor, draftPaymentIn, lockLedger, move, operatingBank, type Legs } from '../ledger'
import { change, mayPart, requireMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { watchingBudgets } from '../platform/budget'
import { instant, may, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { CostEntry } from './entities'
import { priceCost, type Priced } from './pricing'
import { lockMatters, onPreBill, paperOfMatter, stateOfPayment, vendorDebts } from './queries'

/** What is typed of a cost; what is left out is as usual. */
export type CostInput = Pick<CostIn, 'day' | 'text'> & Partial<CostIn>
/** As it is kept: also what was paid before the firm moved in. */
type WholeCost = Omit<CostIn, 'paidFrom'> & { paidFrom: CostIn['paidFrom'] | 'before' }
export const wholeCost = (input: CostInput): CostIn => ({
  kindId: null,
  kind: 'hard cost',
  units: '',
  amount: null,
  payee: '',
  billable: null,
  taxable: null,
  markup: null,
  paidFrom: 'operating',
  receiptId: null,
  ledgerId: null,
  method: 'check',
  payeeAddress: '',
  ...input,
})

function judgeMatter(matter: OpenMatter, path = 'matterId') {
  if (matter.closedOn) throw refused('closed', `${matter.number} is closed. Reopen it first.`)
  if (matter.kind === 'practice') throw refused('practice-matter', `${matter.number} is for practice and stays out of the books.`)
  return path
}
function judgeDay(ctx: Ctx, path: string, day: Day) {
  const wrong = faultOfPast(day, ctx.clock.today())
  if (wrong) throw fieldFault(path, wrong)
}

type Valued = Pick<CostEntry, 'matterId' | 'kind' | 'paid' | 'billable' | 'paidFrom' | 'settledOn' | 'payee' | 'text'>
/**
 * What money paid out for a client adds to the books: an asset until it is billed, or an expense of the firm where it is not to be;
 * against the bank, or against what is owed to the vendor. The firm's own costs, and what trust money paid, book nothing here.
 */
async function legsOf(m: EntityManager, costs: readonly Valued[], sign: 1 | -1, other: 'money' | 'none'): Promise<Legs> {
  const booked = costs.filter((c) => c.kind === 'hard cost' && c.paidFrom !== 'trust')
  const account = await accountFor(m)
  const bank = await operatingBank(m)
  const viaBank = (c: Valued) => c.paidFrom === 'operating' || c.settledOn !== null
  const lines = booked.flatMap((c): JournalLine[] => {
    const own = { matterId: c.matterId }
    const against = viaBank(c) ? bank.glAccountId : account(c.paidFrom === 'before' ? 'opening clearing' : 'payables')
    return [
      { account: account(c.billable ? 'costs advanced' : 'costs not recovered'), amount: sign * c.paid, ...own },
      ...(other === 'money' ? [{ account: against, amount: -sign * c.paid, ...own }] : []),
    ]
  })
  const paid = sum(booked.filter(viaBank).map((c) => c.paid))
  const first = booked.find(viaBank)
  if (other === 'none' || !first) return { lines }
  const text = `${first.payee}: ${first.text}`.slice(0, 300)
  return { lines, bank: [{ bankAccountId: bank.id, amount: -sign * paid, kind: 'cost', text }] }
}

const logged = (m: EntityManager, ctx: Ctx, c: { id: number; matterId: number }, kind: string, text: string, detail?: object) =>
  audit(m, ctx, { kind, text, matterId: c.matterId, subject: 'cost', subjectId: c.id, ...(detail ? { detail } : {}) })

type Source = Pick<CostEntry, 'kind' | 'billable' | 'taxable' | 'paidFrom' | 'payee'>
/** Whether it is the firm's own or paid to someone, and from where; judged by the kind that was chosen. */
function sourceOf(input: WholeCost, { kind }: Priced): Source {
  const hard = kind ? kind.hard : input.kind === 'hard cost'
  if (hard && !input.payee) throw fieldFault('payee', 'Say to whom it was paid')
  return {
    kind: hard ? 'hard cost' : 'soft cost',
    billable: input.paidFrom === 'trust' && hard ? false : (input.billable ?? kind?.billable ?? true),
    taxable: input.taxable ?? kind?.taxable ?? null,
    paidFrom: hard ? input.paidFrom : null,
    payee: input.payee,
  }
}

interface Extra {
  recurringId?: number
  journalId?: number | null
}
async function keep(m: EntityManager, ctx: Ctx, matterId: number, input: WholeCost, priced: Priced, source: Source, extra: Extra = {}) {
  const id = await insertRow(m, CostEntry, {
    matterId,
    day: input.day,
    kindId: priced.kind?.id ?? null,
    text: input.text,
    units: priced.units,
    unitRate: priced.unitRate,
    paid: priced.paid,
    amount: priced.amount,
    receiptId: input.receiptId,
    enteredBy: ctx.actor.id,
    createdAt: instant(ctx.clock.now()),
    ...source,
    ...extra,
  })
  const text = `Cost ${showMoney(priced.amount)}: ${input.text}${source.billable ? '' : source.paidFrom === 'trust' ? ', paid from trust' : ', not billed'}`
  await logged(m, ctx, { id, matterId }, 'recorded', text)
  await touchMatter(m, ctx, matterId)
  return id
}

/** Drafts the payment out of the matter's trust ledger by which a cost is paid; every rule of trust money holds for it. */
async function draftFromTrust(m: EntityManager, ctx: Ctx, matter: OpenMatter, input: WholeCost, amount: number): Promise<number> {
  if (!may(ctx.actor, 'trust.post')) throw fieldFault('paidFrom', 'Who pays out of trust records this')
  if (!input.ledgerId) throw fieldFault('ledgerId', 'Choose the ledger out of which it is paid')
  const { ledgerId, day, method, payeeAddress, payee, text } = input
  // One client's money never pays another's cost, nor one matter's that of another.
  const ledger = await lockLedger(m, ctx, ledgerId, true)
  const own = ledger.kind === 'client' && (ledger.matterId === null ? ledger.clientId === matter.clientId : ledger.matterId === matter.id)
  if (!own) throw fieldFault('ledgerId', 'Choose a ledger of this matter')
  return draftPaymentIn(m, ctx, { ledgerId, day, method, payeeName: payee, payeeAddress, amount, memo: text.slice(0, 200), checkNo: null, overrideReason: '' }) // prettier-ignore
}

/** Records a cost: hard costs are paid from operating, from trust, or owed to the vendor; soft ones are the firm's own. */
export const recordCost = (ctx: Ctx, matterId: number, input: CostInput): Promise<{ id: number }> =>
  work(ctx, async (m) => ({ id: await recordCostIn(m, ctx, matterId, wholeCost(input)) }))

export const recordCostIn = (m: EntityManager, ctx: Ctx, matterId: number, input: WholeCost, recurringId?: number): Promise<number> =>
  watchingBudgets(m, ctx, [matterId], () => recordOne(m, ctx, matterId, input, recurringId))

/** A cost that was paid out before the firm moved in and is not billed yet: an asset against opening clearing. */
export const openCost = (m: EntityManager, ctx: Ctx, asOf: Day, matterId: number, input: CostInput): Promise<number> =>
  recordOne(m, ctx, matterId, { ...wholeCost(input), billable: true, paidFrom: 'before' }, undefined, asOf)

async function recordOne(
  m: EntityManager,
  ctx: Ctx,
  matterId: number,
  input: WholeCost,
  recurringId?: number,
  movedInOn?: Day,
): Promise<number> {
  const matter = await requireMatter(m, ctx, matterId)
  judgeMatter(matter)
  judgeDay(ctx, 'day', input.day)
  const priced = await priceCost(m, input, recurringId !== undefined)
  const source = sourceOf(input, priced)
  await judgeReceipt(m, matterId, input.receiptId)
  const extra: Extra = recurringId === undefined ? {} : { recurringId }
  if (source.paidFrom === 'trust') {
    const paymentOutId = await draftFromTrust(m, ctx, matter, input, priced.paid)
    // What trust money paid is shown on the bill and never billed, so there is no markup on it.
    const id = await keep(m, ctx, matterId, input, { ...priced, amount: priced.paid }, source, extra)
    await m.update(CostEntry, id, { paymentOutId })
    return id
  }
  const cost = { ...source, matterId, paid: priced.paid, settledOn: null, text: input.text }
  const journalId =
    source.kind === 'hard cost'
      ? await move(
          m,
          ctx,
          { day: movedInOn ?? input.day, kind: movedInOn ? 'opening' : 'cost', memo: `${input.payee}: ${input.text}` },
          await legsOf(m, [cost], 1, 'money'),
        )
      : null
  return keep(m, ctx, matterId, input, priced, source, { ...extra, journalId })
}

async function judgeReceipt(m: EntityManager, matterId: number, receiptId: number | null) {
  if (receiptId !== null && !(await paperOfMatter(m, matterId, receiptId))) throw fieldFault('receiptId', 'Choose a paper of this matter')
}

type Split = Omit<CostInput, 'units' | 'receiptId'> & { amount: number; parts: readonly { matterId: number; amount: number | null }[] }
/** One payment for several matters: one entry for each, one movement of the bank; the parts add up to the cent. */
export const splitCosts = (ctx: Ctx, input: Split): Promise<{ ids: number[] }> =>
  work(ctx, async (m) => {
    const all = wholeCost(input)
    judgeDay(ctx, 'day', all.day)
    if (new Set(input.parts.map((p) => p.matterId)).size !== input.parts.length) throw fieldFault('parts', 'Each matter stands here once')
    let amounts: number[]
    try {
      amounts = splitCost(input.amount, input.parts.map((p) => p.amount)) // prettier-ignore
    } catch (error) {
      throw fieldFault('parts', `${(error as Error).message} of ${showMoney(input.amount)}`)
    }
    const costs: { matterId: number; priced: Priced; source: Source }[] = []
    for (const [i, part] of input.parts.entries()) {
      judgeMatter(await requireMatter(m, ctx, part.matterId))
      const priced = await priceCost(m, { ...all, amount: amounts[i]! })
      costs.push({ matterId: part.matterId, priced, source: sourceOf(all, priced) })
    }
    const valued = costs.map((c) => ({ ...c.source, matterId: c.matterId, paid: c.priced.paid, settledOn: null, text: all.text }))
    const journalId =
      valued[0]!.kind === 'hard cost'
        ? await move(m, ctx, { day: all.day, kind: 'cost', memo: `${all.payee}: ${all.text}` }, await legsOf(m, valued, 1, 'money'))
        : null
    const ids: number[] = []
    await watchingBudgets(
      m,
      ctx,
      costs.map((c) => c.matterId),
      async () => {
        for (const c of costs) ids.push(await keep(m, ctx, c.matterId, all, c.priced, c.source, { journalId }))
      },
    )
    return { ids }
  })

/** A cost that may be corrected: not billed, on no pre-bill. Matters are locked before it, as where pre-bills are made. */
async function lockCost(m: EntityManager, ctx: Ctx, id: number, alsoMatter?: number): Promise<CostEntry> {
  const at = await m.findOneBy(CostEntry, { id })
  if (!at) throw notFound('cost')
  await lockMatters(m, [at.matterId, alsoMatter ?? at.matterId])
  const cost = await m.createQueryBuilder(CostEntry, 'c').where({ id }).setLock('pessimistic_write').getOne()
  if (!cost || cost.matterId !== at.matterId) throw refused('changed-meanwhile', 'This cost has changed meanwhile. Look again.')
  await requireMatter(m, ctx, cost.matterId)
  const reviews = may(ctx.actor, 'bills.see') && (await mayPart(m, ctx, cost.matterId, 'money', change))
  if (cost.enteredBy !== ctx.actor.id && !reviews) throw notFound('cost')
  if (cost.state !== 'recorded') throw refused('not-reversible', 'This cost was reversed already.')
  const where = await onPreBill(m, cost)
  if (where.bill) throw refused('not-reversible', `This cost is on bill ${where.bill}. A credit note, or a void, corrects that.`)
  if (where.preBill)
    throw refused('on-pre-bill', `This cost is on the pre-bill of ${where.preBill}. Change it there, or drop that pre-bill first.`)
  return Object.assign(cost, { paid: Number(cost.paid), amount: Number(cost.amount) })
}

/** Corrects what is said of a cost, whether it is billed, or its matter; what it was stays in the log. */
export const correctCost = (
  ctx: Ctx,
  id: number,
  input: { matterId: number; text: string; billable: boolean; receiptId: number | null; reason: string },
): Promise<void> =>
  work(ctx, async (m) => {
    const c = await lockCost(m, ctx, id, input.matterId)
    const target = await requireMatter(m, ctx, input.matterId)
    const moved = target.id !== c.matterId
    if (moved) judgeMatter(target)
    if (moved && c.paidFrom === 'trust') throw refused('not-reversible', 'Trust money of one matter paid this. Void the payment and record it anew.') // prettier-ignore
    if (input.billable && c.paidFrom === 'trust')
      throw fieldFault('billable', 'What trust money paid is shown on the bill, and not billed again')
    await judgeReceipt(m, target.id, input.receiptId)
    const was = { matterId: c.matterId, text: c.text, billable: Boolean(c.billable), receiptId: c.receiptId }
    const now = { matterId: target.id, text: input.text, billable: input.billable, receiptId: input.receiptId }
    let { journalId } = c
    if ((moved || now.billable !== was.billable) && c.kind === 'hard cost') {
      // From one matter or account to the other; the bank is not touched.
      const out = await legsOf(m, [{ ...c, billable: was.billable }], -1, 'none')
      const into = await legsOf(m, [{ ...c, ...now }], 1, 'none')
      journalId = await move(m, ctx, { day: c.day, kind: 'cost', memo: `Correction of cost ${id}: ${input.reason}`, subject: 'cost', subjectId: id }, { lines: [...out.lines, ...into.lines] }) // prettier-ignore
    }
    await m.update(CostEntry, id, { ...now, journalId })
    const text = `Cost of ${showMoney(c.amount)} ${moved ? `moved to ${target.number}` : 'corrected'}: ${input.text} (${input.reason})`
    await logged(m, ctx, c, 'changed', text, { was, became: now })
    if (moved) {
      await logged(
        m,
        ctx,
        { id, matterId: target.id },
        'recorded',
        `Cost of ${showMoney(c.amount)} moved here from another matter: ${input.text}`,
      )
      await touchMatter(m, ctx, target.id)
    }
    await touchMatter(m, ctx, c.matterId)
  })

/** Moves a cost to another matter, all else as it is; its receipt is a paper of the matter it leaves. */
export const moveCost = (ctx: Ctx, id: number, matterId: number, reason: string): Promise<void> =>
  work(ctx, async (m) => {
    const c = await m.findOneBy(CostEntry, { id })
    if (!c) throw notFound('cost')
    await correctCost({ ...ctx, tx: m }, id, { matterId, text: c.text, billable: Boolean(c.billable), receiptId: null, reason })
  })

/** Reverses a cost on its own date, or on another that is open: what it booked is turned round. */
export const reverseCost = (ctx: Ctx, id: number, input: { reason: string; day: Day | null }): Promise<{ ok: true }> =>
  work(ctx, async (m) => {
    const c = await lockCost(m, ctx, id)
    if (c.vendorBillId) throw refused('not-reversible', 'This came by a bill of the vendor. Take that bill back, under Books, Payables.')
    await reverseLocked(m, ctx, c, input)
    return { ok: true as const }
  })

/** Reverses a cost together with the bill of a vendor by which it came. */
export const reverseCostOfVendor = async (m: EntityManager, ctx: Ctx, id: number, input: { reason: string; day: Day }): Promise<void> =>
  reverseLocked(m, ctx, await lockCost(m, ctx, id), input)

/** Reverses a cost that its caller holds and has judged. */
export async function reverseLocked(m: EntityManager, ctx: Ctx, c: CostEntry, input: { reason: string; day: Day | null }): Promise<void> {
  const { id } = c
  const payment = await stateOfPayment(m, c.paymentOutId)
  if (c.paidFrom === 'trust' && payment !== 'dropped' && payment !== 'void')
    throw refused('not-reversible', 'Trust money paid this, or is drafted to. Void or drop the payment under Trust.')
  const day = input.day ?? (c.day as Day)
  if (input.day) judgeDay(ctx, 'day', input.day)
  if (day > ctx.clock.today()) throw fieldFault('day', 'This is dated ahead')
  const since = c.settledOn && c.settledOn > c.day ? c.settledOn : c.day
  if (day < since) throw fieldFault('day', `Reverse it on ${showDay(since as Day)} or later`)
  const reversalId =
    c.kind === 'hard cost' && c.paidFrom !== 'trust'
      ? await move(
          m,
          ctx,
          { day, kind: 'reversal', memo: `Reversal of cost ${id}: ${input.reason}`, subject: 'cost', subjectId: id },
          await legsOf(m, [{ ...c, billable: Boolean(c.billable) }], -1, 'money'),
        )
      : null
  await m.update(CostEntry, id, { state: 'reversed', reversalId })
  await logged(m, ctx, c, 'reversed', `Cost of ${showMoney(c.amount)} reversed: ${c.text} (${input.reason})`)
  await touchMatter(m, ctx, c.matterId)
}

/** Pays vendors what is owed to them: one movement of the bank for each vendor. */
export const settleCosts = (ctx: Ctx, input: { ids: readonly number[]; day: Day }) =>
  work(ctx, async (m) => {
    judgeDay(ctx, 'day', input.day)
    if (input.day > ctx.clock.today()) throw fieldFault('day', 'This is dated ahead')
    const ids = [...new Set(input.ids)]
    const debts = await vendorDebts(m, ctx, ids)
    if (debts.length !== ids.length) throw refused('not-owed', 'Some of these are not owed any more. Reload and choose the rest.')
    const late = debts.find((d) => d.day > input.day)
    if (late) throw fieldFault('day', `One of these is of ${showDay(late.day)}; pay it then or later`)
    const account = await accountFor(m)
    const bank = await operatingBank(m)
    const payees = [...new Set(debts.map((d) => d.payee))]
    for (const payee of payees) {
      const own = debts.filter((d) => d.payee === payee)
      const amount = sum(own.map((d) => d.paid))
      const text = `${payee}: ${own.length === 1 ? own[0]!.text : counted(own.length, 'cost')}`.slice(0, 300)
      await move(
        m,
        ctx,
        { day: input.day, kind: 'cost', memo: `Paid what was owed. ${text}` },
        {
          lines: [
            ...own.map((d) => ({ account: account('payables'), amount: d.paid, matterId: d.matterId })),
            { account: bank.glAccountId, amount: -amount },
          ],
          bank: [{ bankAccountId: bank.id, amount: -amount, kind: 'cost', text }],
        },
      )
      for (const d of own) await logged(m, ctx, d, 'paid', `${showMoney(d.paid)} owed to ${payee} paid`)
    }
    await m.update(CostEntry, ids, { settledOn: input.day })
    return { payments: payees.length, amount: sum(debts.map((d) => d.paid)) }
  })
