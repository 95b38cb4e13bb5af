import type { HoldIn, MoveIn, OwnerIn } from '@heron/contract'
import { faultOfPast, type Day } from '@heron/core/calendar'
import { judgeMove, moveLegs, type JournalParts } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { touchMatter } from '../../platform/access'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { insertRow, locked, work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { move } from '../door'
import { bankAccount, ensureLedger, lockLedger, sideOf } from '../ledgers'
import { type LedgerHead } from '../ledger-queries'
import { requireOwner } from '../owners'
import type { Legs } from '../posting'
import { receiptOf } from './queries'
import { BankAccount, ClientLedger, LedgerHold } from '../entities'
import { ReceiptOwner } from './entities'

/** The legs of an act as they are posted, each with its words; `clearsOn` stays with money that has not cleared. */
export const worded = (
  parts: JournalParts,
  kind: string,
  text: string,
  more: { reference?: string; clearsOn?: Day | null } = {},
): Legs => ({
  lines: [...parts.lines],
  bank: parts.bank.map((b) => ({ ...b, kind, text, reference: more.reference ?? '' })),
  ledgers: parts.ledgers.map((l) => ({ ...l, text, clearsOn: more.clearsOn ?? null })),
})

export function requirePast(ctx: Ctx, day: Day) {
  const wrong = faultOfPast(day, ctx.clock.today())
  if (wrong) throw fieldFault('day', wrong)
}

/** The ledger of an owner in an account, made where it is new, and locked; with the ledger that money comes from, in order of id. */
export async function lockBoth(m: EntityManager, ctx: Ctx, fromId: number, toId: number): Promise<[LedgerHead, LedgerHead]> {
  const low = await lockLedger(m, ctx, Math.min(fromId, toId))
  if (fromId === toId) return [low, low]
  const high = await lockLedger(m, ctx, Math.max(fromId, toId))
  return fromId < toId ? [low, high] : [high, low]
}

export async function touchBoth(m: EntityManager, ctx: Ctx, ledgers: readonly LedgerHead[]) {
  for (const id of new Set(ledgers.map((l) => l.matterId))) if (id) await touchMatter(m, ctx, id)
}

/** Between the ledgers of one client: another matter, the client as a whole, pooled and separate. */
export const moveMoney = (ctx: Ctx, input: MoveIn): Promise<{ journalId: number }> =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    const known = await lockLedger(m, ctx, input.fromLedgerId)
    if (known.kind !== 'client') throw refused('other-clients-money', `${known.name} is not money of a client, and does not move to one.`)
    const bank = await bankAccount(m, input.bankAccountId)
    if (bank.kind === 'operating')
      throw refused(
        'firm-without-bill',
        'Trust money goes to the firm only in payment of an issued bill: open the bill and choose Pay from trust.',
      )
    await requireOwner(m, ctx, { clientId: known.clientId, matterId: input.matterId })
    const toId = await ensureLedger(m, bank.id, { kind: 'client', clientId: known.clientId!, matterId: input.matterId })
    const [from, to] = await lockBoth(m, ctx, known.id, toId)
    const no = judgeMove({ ...from, ledgerId: from.id }, { ...to, ledgerId: to.id })
    if (no) throw refused(no.code, no.sentence)
    const source = await m.findOne(BankAccount, { select: { maturesOn: true, id: true }, where: { id: from.bankAccountId } })
    const early = source?.maturesOn && input.day < source.maturesOn && from.bankAccountId !== to.bankAccountId
    if (early && !input.beforeTerm)
      throw fieldFault('beforeTerm', `This account matures on ${source.maturesOn}. Say that the money leaves before its term`)
    const text = `Moved from ${from.name} to ${to.name}: ${input.reason}`
    const journalId = await move(m, ctx, { day: input.day, kind: 'moved', memo: text, subject: 'ledger', subjectId: from.id }, worded(moveLegs(sideOf(from), sideOf(to), input.amount), 'transfer', text)) // prettier-ignore
    for (const matterId of new Set([from.matterId, to.matterId]))
      await audit(m, ctx, { kind: 'moved', text: `${showMoney(input.amount)} in trust moved from ${from.name} to ${to.name}${early ? ', before its term' : ''}: ${input.reason}`, matterId, subject: 'ledger', subjectId: from.id }) // prettier-ignore
    await touchBoth(m, ctx, [from, to])
    return { journalId }
  })

/** A receipt whose owner was found goes to their ledger, as it came: on what day it clears stays with it. */
export const creditOwner = (ctx: Ctx, receiptId: number, input: OwnerIn): Promise<{ journalId: number; ledgerId: number }> =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    const r = await receiptOf(m, receiptId)
    if (!r || r.clientId !== null) throw notFound('unidentified receipt')
    if (input.day < r.day) throw fieldFault('day', `It came in on ${r.day}. Date it then or later`)
    await requireOwner(m, ctx, input)
    const fromId = (await m.findOne(ClientLedger, {
      select: { id: true },
      where: { bankAccountId: r.bankAccountId, kind: 'unidentified' },
    }))!.id
    const toId = await ensureLedger(m, r.bankAccountId, { kind: 'client', clientId: input.clientId, matterId: input.matterId })
    const [from, to] = await lockBoth(m, ctx, fromId, toId)
    const settled = await receiptOf(m, receiptId)
    if (settled!.ownerLedgerId) throw refused('changed-meanwhile', `Receipt ${r.receiptNo} was credited to its owner meanwhile.`)
    if (settled!.returned || settled!.reversed) throw refused('returned-already', `Receipt ${r.receiptNo} went back to the bank.`)
    const text = `Receipt ${r.receiptNo}, ${r.depositor}: owner found, ${input.reason}`
    const legs = worded(moveLegs(sideOf(from), sideOf(to), r.amount), '', text, {
      clearsOn: r.clearsOn && r.clearsOn > input.day ? r.clearsOn : null,
    })
    const journalId = await move(m, ctx, { day: input.day, kind: 'owner found', memo: text, subject: 'receipt', subjectId: receiptId }, async (id) => {
      await m.insert(ReceiptOwner, { receiptId, ledgerId: toId, amount: r.amount, reason: input.reason, journalId: id, userId: ctx.actor.id }) // prettier-ignore
      return legs
    }, { toOwner: true }) // prettier-ignore
    await audit(m, ctx, { kind: 'received', text: `Receipt ${r.receiptNo}, ${showMoney(r.amount)} from ${r.depositor}, credited to its owner: ${input.reason}`, matterId: input.matterId, subject: 'receipt', subjectId: receiptId }) // prettier-ignore
    await touchBoth(m, ctx, [to])
    return { journalId, ledgerId: toId }
  })

/** A lien or a disputed sum is laid on a ledger whatever it holds: what is available may fall below zero, and then nothing is paid. */
export const layHold = (ctx: Ctx, ledgerId: number, input: HoldIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const ledger = await lockLedger(m, ctx, ledgerId)
    const madeId = await insertRow(m, LedgerHold, { ledgerId, kind: input.kind, amount: input.amount, reason: input.reason, laidBy: ctx.actor.id, laidAt: instant(ctx.clock.now()) }) // prettier-ignore
    await audit(m, ctx, { kind: 'held', text: `${showMoney(input.amount)} of ${ledger.name} held (${input.kind}): ${input.reason}`, matterId: ledger.matterId, subject: 'ledger', subjectId: ledgerId }) // prettier-ignore
    return { id: madeId }
  })

export const releaseHold = (ctx: Ctx, id: number, reason: string): Promise<void> =>
  work(ctx, async (m) => {
    const hold = await m.findOne(LedgerHold, { select: { ledgerId: true, amount: true, kind: true, releasedAt: true, id: true }, where: { id }, ...locked(m) }) // prettier-ignore
    if (!hold) throw notFound('hold')
    const ledger = await lockLedger(m, ctx, hold.ledgerId)
    if (hold.releasedAt) throw refused('changed-meanwhile', 'This hold was released before.')
    await m.update(LedgerHold, { id }, { releasedAt: instant(ctx.clock.now()), releasedBy: ctx.actor.id, releaseReason: reason }) // prettier-ignore
    await audit(m, ctx, { kind: 'released', text: `${showMoney(hold.amount)} of ${ledger.name} released (${hold.kind}): ${reason}`, matterId: ledger.matterId, subject: 'ledger', subjectId: ledger.id }) // prettier-ignore
  })
