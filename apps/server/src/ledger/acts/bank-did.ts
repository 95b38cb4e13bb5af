import type { ChargeIn, InterestIn, ReturnIn } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { bankKinds, chargeLegs, coverNeeded, interestLegs, returnedLegs } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { move } from '../door'
import { bankAccount, ensureLedger, lockLedger, operatingBank, sideOf } from '../ledgers'
import { balancesOn, daysOfMoves, type LedgerHead } from '../ledger-queries'
import { accountFor, type Legs } from '../posting'
import { receiptOf, type ReceiptHead } from './queries'
import { requirePast, touchBoth, worded } from './moves'
import { BankDid, CoverLanded, CoverRepaid, TrustInterest } from './entities'
import { clientLedgersOf, correctedTo, entryOfReceipt, lockedCover } from './act-queries'

/** What the firm makes good when an amount leaves a ledger on a day; read after the ledger is locked. */
async function coverOf(m: EntityManager, ledgerId: number, day: Day, amount: number): Promise<number> {
  return coverNeeded(await balancesOn(m, ledgerId, await daysOfMoves(m, [ledgerId], day)), amount)
}
const firmSide = async (m: EntityManager, id?: number | null) => {
  const bank = await operatingBank(m, id)
  return { bankAccountId: bank.id, bankGl: bank.glAccountId }
}

/** The legs of what the bank did, then of the firm's cover: each with words of its own, as the two banks will show them. */
function told(parts: Parameters<typeof worded>[0], kind: string, text: string, reference: string, clearsOn: Day | null): Legs {
  const legs = worded(parts, kind, text, { reference })
  return {
    lines: legs.lines,
    bank: legs.bank!.map((b, i) => (i ? { ...b, kind: 'transfer', text: `Cover: ${text}`, reference: '' } : b)),
    ledgers: legs.ledgers!.map((l, i) => (i ? { ...l, text: `Cover by the firm: ${text}` } : { ...l, clearsOn })),
  }
}

interface Did {
  what: 'returned' | 'charge'
  bankAccountId: number
  ledgerId: number
  receiptId: number | null
  day: Day
  amount: number
  cover: number
  operatingId: number | null
  text: string
}
async function keepDid(m: EntityManager, ctx: Ctx, journalId: number, d: Did): Promise<void> {
  await m.insert(BankDid, { what: d.what, bankAccountId: d.bankAccountId, ledgerId: d.ledgerId, receiptId: d.receiptId, journalId, day: d.day, amount: d.amount, cover: d.cover, operatingId: d.cover ? d.operatingId : null, text: d.text, userId: ctx.actor.id }) // prettier-ignore
}

/** On which ledger the money of a receipt stands by now, where all of it stands on one: corrections are followed, also those that were corrected themselves. */
async function standsOn(m: EntityManager, r: ReceiptHead): Promise<number> {
  const owner = r.ownerLedgerId ? await entryOfReceipt(m, r.id) : null
  const held = new Map<number, number>([[r.ownerLedgerId ?? r.ledgerId, r.amount]])
  const follow = [{ entryId: owner?.id ?? r.entryId, ledgerId: r.ownerLedgerId ?? r.ledgerId }]
  for (let at = follow.pop(); at; at = follow.pop()) {
    const from = at
    const moved = await correctedTo(m, from.entryId)
    for (const to of moved) {
      held.set(from.ledgerId, held.get(from.ledgerId)! - to.amount)
      held.set(to.ledgerId, (held.get(to.ledgerId) ?? 0) + to.amount)
      follow.push(to)
    }
  }
  const whole = [...held].find(([, amount]) => amount === r.amount)
  if (!whole)
    throw refused(
      'returned-in-part',
      `Part of receipt ${r.receiptNo} was corrected to another ledger. Correct it back first, so that the whole returns from one.`,
    )
  return whole[0]
}

/** What a deposit that the bank takes back would leave to be covered. */
export async function returnAhead(ctx: Ctx, receiptId: number, day: Day) {
  const m = ctx.db.manager
  const r = await receiptOf(m, receiptId)
  if (!r) throw notFound('receipt')
  const ledgerId = await standsOn(m, r)
  const ledger = await lockLedger(m, ctx, ledgerId)
  return {
    receiptNo: r.receiptNo,
    depositor: r.depositor,
    amount: r.amount,
    ledger: ledger.name,
    cover: await coverOf(m, ledgerId, day, r.amount),
  }
}

/** Within an act: the bank took a deposit back, and the firm covers what the ledger then lacks. Neither can be refused. */
export async function returnIn(
  m: EntityManager,
  ctx: Ctx,
  receiptId: number,
  input: ReturnIn,
): Promise<{ journalId: number; cover: number }> {
  const r = await receiptOf(m, receiptId)
  if (!r) throw notFound('receipt')
  if (input.day < r.day) throw fieldFault('day', `It came in on ${r.day}. The bank took it back then or later`)
  const ledger = await lockLedger(m, ctx, await standsOn(m, r), true)
  const now = (await receiptOf(m, receiptId))!
  if (now.returned) throw refused('returned-already', `Receipt ${r.receiptNo} was returned before.`)
  if ((await standsOn(m, now)) !== ledger.id) throw refused('changed-meanwhile', 'This receipt was corrected at this moment. Look again.')
  if (now.reversed) throw refused('already-reversed', `The deposit sheet of receipt ${r.receiptNo} was reversed.`)
  const cover = await coverOf(m, ledger.id, input.day, r.amount)
  const firm = await firmSide(m, input.operatingAccountId)
  const text = `Receipt ${r.receiptNo}, ${r.depositor}, returned: ${input.text}`
  const account = await accountFor(m)
  const legs = told(
    returnedLegs({ from: sideOf(ledger), amount: r.amount, cover, firm, dueFromClients: account('due from clients') }),
    'returned',
    text,
    r.reference,
    r.clearsOn && r.clearsOn > input.day ? r.clearsOn : null,
  )
  const head = { day: input.day, kind: 'returned deposit', memo: text, subject: 'receipt', subjectId: receiptId }
  const did: Did = { what: 'returned', bankAccountId: ledger.bankAccountId, ledgerId: ledger.id, receiptId, day: input.day, amount: r.amount, cover, operatingId: firm.bankAccountId, text: input.text } // prettier-ignore
  const journalId = await move(m, ctx, head, async (id) => (await keepDid(m, ctx, id, did), legs), { bankDid: true })
  await audit(m, ctx, { kind: 'returned', text: `${showMoney(r.amount)}: ${text}${cover ? `; ${showMoney(cover)} covered from operating` : ''}`, matterId: ledger.matterId, subject: 'receipt', subjectId: receiptId }) // prettier-ignore
  await touchBoth(m, ctx, [ledger])
  return { journalId, cover }
}
export const returnDeposit = (ctx: Ctx, receiptId: number, input: ReturnIn) =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    return returnIn(m, ctx, receiptId, input)
  })

/** Within an act: a charge of the bank on a trust account, borne by the firm's money there and its cover. */
export async function chargeIn(
  m: EntityManager,
  ctx: Ctx,
  bankAccountId: number,
  input: ChargeIn,
): Promise<{ journalId: number; cover: number }> {
  const bank = await bankAccount(m, bankAccountId)
  if (!bankKinds[bank.kind].trust) throw fieldFault('bankAccountId', 'Choose a trust account')
  const ledger = await lockLedger(m, ctx, await ensureLedger(m, bankAccountId, { kind: 'firm' }), true)
  const cover = await coverOf(m, ledger.id, input.day, input.amount)
  const firm = await firmSide(m, input.operatingAccountId)
  const account = await accountFor(m)
  const parts = chargeLegs({
    firmLedger: sideOf(ledger),
    amount: input.amount,
    cover,
    firm,
    charges: account('bank charges'),
    firmMoney: account('firm money in trust'),
  })
  const text = `Charge of the bank on ${bank.name}: ${input.text}`
  const did: Did = { what: 'charge', bankAccountId, ledgerId: ledger.id, receiptId: null, day: input.day, amount: input.amount, cover, operatingId: firm.bankAccountId, text: input.text } // prettier-ignore
  const journalId = await move(m, ctx, { day: input.day, kind: 'bank charge', memo: text, subject: 'ledger', subjectId: ledger.id }, async (id) => (await keepDid(m, ctx, id, did), told(parts, 'charge', text, '', null)), { bankDid: true }) // prettier-ignore
  await audit(m, ctx, { kind: 'posted', text: `${showMoney(input.amount)}: ${text}${cover ? `; ${showMoney(cover)} covered from operating` : ''}`, subject: 'ledger', subjectId: ledger.id }) // prettier-ignore
  return { journalId, cover }
}
export const bookCharge = (ctx: Ctx, bankAccountId: number, input: ChargeIn) =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    return chargeIn(m, ctx, bankAccountId, input)
  })

/** The ledger to which interest of an account goes: the foundation's on a pooled one, on a separate one its client's. */
async function interestLedger(m: EntityManager, ctx: Ctx, bankAccountId: number, chosen: number | null): Promise<LedgerHead> {
  const bank = await bankAccount(m, bankAccountId)
  if (!bankKinds[bank.kind].trust) throw fieldFault('bankAccountId', 'Choose a trust account')
  if (bank.kind === 'pooled') return lockLedger(m, ctx, await ensureLedger(m, bankAccountId, { kind: 'foundation' }), true)
  const own = await clientLedgersOf(m, bankAccountId, chosen)
  if (own.length !== 1)
    throw fieldFault(
      'ledgerId',
      own.length ? 'Choose the ledger that earned it' : 'No ledger of this account holds money. Deposit the money first',
    )
  return lockLedger(m, ctx, own[0]!.id, true)
}

/** Within an act: interest that the bank paid into a trust account. */
export async function interestIn(m: EntityManager, ctx: Ctx, bankAccountId: number, input: InterestIn): Promise<{ journalId: number }> {
  const ledger = await interestLedger(m, ctx, bankAccountId, input.ledgerId)
  const text = `Interest${input.text ? `, ${input.text}` : ''}`
  const journalId = await move(m, ctx, { day: input.day, kind: 'trust interest', memo: `${text} (${ledger.name})`, subject: 'ledger', subjectId: ledger.id }, async (id) => {
    await m.insert(TrustInterest, { ledgerId: ledger.id, journalId: id, day: input.day, amount: input.amount })
    return worded(interestLegs(sideOf(ledger), input.amount), 'interest', text)
  }) // prettier-ignore
  await audit(m, ctx, { kind: 'posted', text: `${showMoney(input.amount)} of interest to ${ledger.name}`, matterId: ledger.matterId, subject: 'ledger', subjectId: ledger.id }) // prettier-ignore
  await touchBoth(m, ctx, [ledger])
  return { journalId }
}
export const bookInterest = (ctx: Ctx, bankAccountId: number, input: InterestIn) =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    return interestIn(m, ctx, bankAccountId, input)
  })

async function lockCover(m: EntityManager, id: number) {
  const did = await lockedCover(m, id)
  if (!did) throw notFound('cover')
  return did
}

/** The cover has arrived in trust: its alert ends. */
export const coverLanded = (ctx: Ctx, id: number, day: Day): Promise<void> =>
  work(ctx, async (m) => {
    requirePast(ctx, day)
    const did = await lockCover(m, id)
    const ledger = await lockLedger(m, ctx, did.ledgerId)
    if (day < did.day) throw fieldFault('day', `It was sent on ${did.day}`)
    if (did.landed) throw refused('changed-meanwhile', 'It was marked before.')
    await m.insert(CoverLanded, { didId: id, day, userId: ctx.actor.id })
    await audit(m, ctx, { kind: 'landed', text: `Cover of ${showMoney(did.cover)} landed in trust`, matterId: ledger.matterId, subject: 'ledger', subjectId: did.ledgerId }) // prettier-ignore
  })

/** A client pays back what the firm covered for them, into operating. */
export const coverRepaid = (
  ctx: Ctx,
  id: number,
  input: { day: Day; amount: number; reference: string; operatingAccountId: number | null },
): Promise<{ journalId: number }> =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    const did = await lockCover(m, id)
    if (did.what !== 'returned') throw notFound('cover')
    const ledger = await lockLedger(m, ctx, did.ledgerId)
    if (input.day < did.day) throw fieldFault('day', `It was covered on ${did.day}`)
    const left = did.cover - did.repaid
    if (input.amount > left)
      throw refused('repaid-already', `${showMoney(left)} of this cover is still due; ${showMoney(input.amount)} is more.`)
    const firm = await firmSide(m, input.operatingAccountId)
    const account = await accountFor(m)
    const text = `Repaid by the client: cover of ${did.day} (${ledger.name})`
    const journalId = await move(
      m,
      ctx,
      { day: input.day, kind: 'cover repaid', memo: text, subject: 'ledger', subjectId: ledger.id },
      {
        lines: [
          { account: firm.bankGl, amount: input.amount },
          { account: account('due from clients'), amount: -input.amount, matterId: ledger.matterId },
        ],
        bank: [{ bankAccountId: firm.bankAccountId, amount: input.amount, kind: 'deposit', reference: input.reference, text }],
      },
    )
    await m.insert(CoverRepaid, { didId: id, amount: input.amount, journalId })
    await audit(m, ctx, { kind: 'received', text: `${showMoney(input.amount)}: ${text}`, matterId: ledger.matterId, subject: 'ledger', subjectId: ledger.id }) // prettier-ignore
    return { journalId }
  })
