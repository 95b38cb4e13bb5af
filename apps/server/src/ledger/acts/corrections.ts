import type { CorrectionIn } from '@heron/contract'
import { judgeCorrection, moveLegs } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { insertRow, locked, work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { move } from '../door'
import { ensureLedger, lockLedger, sideOf } from '../ledgers'
import { requireOwner } from '../owners'
import { lockBoth, requirePast, touchBoth, worded } from './moves'
import { TrustCorrection } from './entities'
import { entryOf, reversedOrReverses } from './act-queries'

async function judged(m: EntityManager, ctx: Ctx, input: CorrectionIn, except = 0) {
  const known = await entryOf(m, input.entryId, except)
  if (!known) throw notFound('entry')
  const wrong = await lockLedger(m, ctx, known.ledgerId)
  // Read again under the lock: what others asked for at this moment counts.
  const entry = (await entryOf(m, input.entryId, except))!
  if (wrong.kind !== 'client')
    throw refused('unidentified-money', 'A correction is between ledgers of clients. Money with no known owner is credited to its owner.')
  if (await reversedOrReverses(m, entry.journalId))
    throw refused('already-reversed', 'This entry was reversed. Nothing of it is left to correct.')
  if (entry.kind === 'bill from trust')
    throw refused(
      'other-clients-money',
      'A bill is paid by its own payer’s money alone. Take the payment off the bill; the money is then back on this ledger.',
    )
  const no = judgeCorrection(entry, input.amount, input.day, ctx.clock.today())
  if (no) throw refused(no.code, no.sentence)
  await requireOwner(m, ctx, input)
  if (wrong.clientId === input.clientId && wrong.matterId === input.matterId)
    throw fieldFault('clientId', 'It stands on this ledger already. Choose whose it is')
  const rightId = await ensureLedger(m, wrong.bankAccountId, { kind: 'client', clientId: input.clientId, matterId: input.matterId })
  // What came in on the wrong ledger goes to the right one; what was paid from the wrong one is made good by the right one.
  const [from, to] = entry.amount > 0 ? await lockBoth(m, ctx, wrong.id, rightId) : await lockBoth(m, ctx, rightId, wrong.id)
  return { entry, from, to }
}

/** Asks for a correction; it is posted when a second person agrees. */
export const askCorrection = (ctx: Ctx, input: CorrectionIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    requirePast(ctx, input.day)
    const { entry, from, to } = await judged(m, ctx, input)
    const madeId = await insertRow(m, TrustCorrection, { entryId: entry.id, clientId: input.clientId, matterId: input.matterId, amount: input.amount, day: input.day, reason: input.reason, askedBy: ctx.actor.id, askedAt: instant(ctx.clock.now()) }) // prettier-ignore
    await audit(m, ctx, { kind: 'asked', text: `Correction of ${showMoney(input.amount)} asked for, from ${from.name} to ${to.name}: ${input.reason}`, matterId: from.matterId, subject: 'ledger', subjectId: from.id }) // prettier-ignore
    return { id: madeId }
  })

interface Asked extends CorrectionIn {
  id: number
  state: string
  askedBy: number
}
async function lockAsked(m: EntityManager, id: number): Promise<Asked> {
  const found = await m.findOne(TrustCorrection, {
    select: { id: true, entryId: true, clientId: true, matterId: true, amount: true, day: true, reason: true, state: true, askedBy: true },
    where: { id },
    ...locked(m),
  })
  if (!found) throw notFound('correction')
  if (found.state !== 'asked') throw refused('not-asked', `This correction was ${found.state} before.`)
  return found
}

/** A second person agrees, and it is posted: ledger to ledger, without the bank, linked to the entry that it mends. */
export const approveCorrection = (ctx: Ctx, id: number): Promise<{ journalId: number }> =>
  work(ctx, async (m) => {
    const asked = await lockAsked(m, id)
    const { entry, from, to } = await judged(m, ctx, asked, id)
    if (asked.askedBy === ctx.actor.id) throw refused('same-person', 'A correction is approved by somebody else than who asked for it.')
    const text = `Correction of journal ${entry.journalId}, from ${from.name} to ${to.name}: ${asked.reason}`
    const late = entry.amount > 0 && entry.clearsOn && entry.clearsOn > asked.day ? entry.clearsOn : null
    const journalId = await move(m, ctx, { day: asked.day, kind: 'correction', memo: text, subject: 'journal', subjectId: entry.journalId }, async (journal) => {
      await m.update(TrustCorrection, { id }, { state: 'posted', decidedBy: ctx.actor.id, decidedAt: instant(ctx.clock.now()), journalId: journal }) // prettier-ignore
      return worded(moveLegs(sideOf(from), sideOf(to), asked.amount), '', text, { clearsOn: late })
    }) // prettier-ignore
    for (const l of [from, to])
      await audit(m, ctx, { kind: 'corrected', text: `${showMoney(asked.amount)} in trust corrected from ${from.name} to ${to.name}: ${asked.reason}`, matterId: l.matterId, subject: 'ledger', subjectId: l.id }) // prettier-ignore
    await touchBoth(m, ctx, [from, to])
    return { journalId }
  })

export const refuseCorrection = (ctx: Ctx, id: number, reason: string): Promise<void> =>
  work(ctx, async (m) => {
    const asked = await lockAsked(m, id)
    const entry = await entryOf(m, asked.entryId)
    const wrong = await lockLedger(m, ctx, entry!.ledgerId)
    await m.update(TrustCorrection, { id }, { state: 'refused', decidedBy: ctx.actor.id, decidedAt: instant(ctx.clock.now()), decision: reason }) // prettier-ignore
    await audit(m, ctx, { kind: 'refused', text: `Correction of ${showMoney(asked.amount)} on ${wrong.name} not made: ${reason}`, matterId: wrong.matterId, subject: 'ledger', subjectId: wrong.id }) // prettier-ignore
  })
