import { judgePaymentOut, ledgerKinds } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { may, type Ctx } from '../platform/context'
import { refused } from '../platform/problem'
import { lockLedger } from './ledgers'
import { holdLedgers, standingFrom, standingIn, type LedgerHead } from './ledger-queries'
import { closeJournal, openJournal, turnedLegs, type JournalHead, type Legs } from './posting'
import { JournalReversal } from './entities'

/** How money leaves a ledger: with a word for what has not cleared, and from a draft that has reserved it. */
export interface Taking {
  overrideReason?: string
  exceptPayment?: number | null
  /** Money whose owner was found goes to them, and a sheet that was posted by mistake is taken back; neither spends it. */
  toOwner?: boolean
  /** What the bank did by itself is not refused; its own record says what it was, and the database holds that to the cent. */
  bankDid?: boolean
  /** What was judged within this act before its legs were known, with the ledger locked since. */
  judged?: Judged
}

const judgedHere = Symbol('judged at the door')
/** That an amount may leave a ledger on a day; only the door gives it, and only for the act in which it was asked. */
export interface Judged {
  readonly [judgedHere]: EntityManager
  readonly ledgerId: number
  readonly amount: number
  readonly day: Day
}

/** What leaves together with its day of clearing, such as a receipt on the wrong ledger: it is uncleared here no longer. */
interface Carried {
  amount: number
  clearsOn: Day
}

/**
 * Judges whether an amount may leave a ledger that is locked; throws the refusal with its own code. What is read was read after
 * the lock, under READ COMMITTED, so that requests of the same moment see each other.
 */
async function judge(
  m: EntityManager,
  ctx: Ctx,
  ledger: LedgerHead,
  amount: number,
  day: Day,
  taking: Taking,
  carried: readonly Carried[] = [],
): Promise<void> {
  const except = taking.exceptPayment ?? null
  const reason = taking.overrideReason ?? ''
  const { days, reserved } = await standingFrom(m, ledger.id, day, except)
  const refusal = judgePaymentOut({
    amount,
    day,
    today: ctx.clock.today(),
    ledger: {
      name: ledger.name,
      clientId: ledger.clientId,
      kind: taking.toOwner && ledger.kind === 'unidentified' ? 'client' : ledger.kind,
      days: days.map((d) => ({
        ...d,
        uncleared: d.uncleared - sum(carried.filter((c) => c.clearsOn > d.day).map((c) => c.amount)),
      })),
      reserved,
    },
    account: reason || ledgerKinds[ledger.kind].standsIn ? await standingIn(m, ledger, day, except) : [],
    override: reason ? { allowed: ctx.actor.mayOverride && may(ctx.actor, 'trust.post'), reason } : null,
  })
  if (refusal) throw refused(refusal.code, refusal.sentence)
}

/** Locks a ledger and judges a payment that is not posted yet, such as a draft. */
export async function judgeTaking(
  m: EntityManager,
  ctx: Ctx,
  t: Taking & { ledgerId: number; amount: number; day: Day },
): Promise<LedgerHead> {
  const ledger = await lockLedger(m, ctx, t.ledgerId, Boolean(t.overrideReason))
  await judge(m, ctx, ledger, t.amount, t.day, t)
  return ledger
}

/**
 * Locks a ledger and judges what is to leave it, ahead of the legs: whatever others wait for, such as the next number of a check, is
 * taken after it.
 */
export async function judgeAhead(m: EntityManager, ctx: Ctx, t: Taking & { ledgerId: number; amount: number; day: Day }): Promise<Judged> {
  await judgeTaking(m, ctx, t)
  return { [judgedHere]: m, ledgerId: t.ledgerId, amount: t.amount, day: t.day }
}

/** Locks all that the legs touch, in order of id, and judges every ledger that they take from. */
async function admit(m: EntityManager, ctx: Ctx, day: Day, legs: Legs, taking: Taking): Promise<void> {
  const moves = legs.ledgers ?? []
  const ids = [...new Set(moves.map((l) => l.ledgerId))]
  if (!ids.length) return
  // The firm's own money is looked at, and so held, only where somebody says that it may stand in.
  const withFirm = Boolean(taking.overrideReason)
  await holdLedgers(m, ids, withFirm)
  for (const id of ids.sort((a, b) => a - b)) {
    const out = -sum(moves.filter((l) => l.ledgerId === id).map((l) => l.amount))
    const carried = moves.flatMap((l) =>
      l.ledgerId === id && l.amount < 0 && l.clearsOn ? [{ amount: -l.amount, clearsOn: l.clearsOn }] : [],
    )
    const ahead = taking.judged
    const known = ahead?.[judgedHere] === m && ahead.ledgerId === id && ahead.amount === out && ahead.day === day
    if (out > 0 && !taking.bankDid && !known) await judge(m, ctx, await lockLedger(m, ctx, id, withFirm), out, day, taking, carried)
  }
}

/**
 * The one door of money: locks what is touched, reads after locking, lets core judge every leg that takes from a ledger, and
 * posts. Nothing else writes what is posted. Where something else needs the journal's number before the legs are known, such
 * as a bill, `legs` is asked with it.
 */
export async function move(
  m: EntityManager,
  ctx: Ctx,
  head: JournalHead,
  legs: Legs | ((journalId: number) => Promise<Legs>),
  taking: Taking = {},
): Promise<number> {
  if (typeof legs !== 'function') await admit(m, ctx, head.day, legs, taking)
  const id = await openJournal(m, ctx, head)
  const all = typeof legs === 'function' ? await legs(id) : legs
  if (typeof legs === 'function') await admit(m, ctx, head.day, all, taking)
  const from = all.ledgers?.find((l) => l.amount < 0)
  const override = taking.overrideReason && from ? { ledgerId: from.ledgerId, reason: taking.overrideReason } : null
  await closeJournal(m, ctx, id, head.day, { ...all, override })
  return id
}

/** Posts the mirrored entry of a journal, linked both ways; what it takes from a ledger is judged like any other payment. */
export async function reverse(
  m: EntityManager,
  ctx: Ctx,
  journalId: number,
  day: Day,
  reason: string,
  as: Partial<JournalHead> = {},
  taking: Taking = {},
): Promise<number> {
  const { memo, legs } = await turnedLegs(m, journalId, day)
  const id = await move(m, ctx, { day, kind: 'reversal', memo: `Reversal of ${journalId}: ${memo}`, ...as }, legs, taking)
  await m.insert(JournalReversal, { journalId, reversalId: id, reason })
  return id
}
