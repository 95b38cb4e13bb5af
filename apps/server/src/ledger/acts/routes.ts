import { done, routes } from '../../platform/routes'
import { depositFirmMoney } from '../firm-money'
import { bookCharge, bookInterest, coverLanded, coverRepaid, returnAhead, returnDeposit } from './bank-did'
import { approveCorrection, askCorrection, refuseCorrection } from './corrections'
import { creditOwner, layHold, moveMoney, releaseHold } from './moves'
import { corrections, covers, interestOf, receiptsFound, unidentified } from './queries'
import { reverseJournal } from './reversal'

const t = routes.trustActs
export const trustActRoutes = {
  move: t.move.handler(({ context, input }) => moveMoney(context.ctx, input)),
  hold: t.hold.handler(({ context, input: { id, ...own } }) => layHold(context.ctx, id, own)),
  release: t.release.handler(({ context, input }) => done(releaseHold(context.ctx, input.id, input.reason))),
  unidentified: t.unidentified.handler(({ context }) => unidentified(context.ctx)),
  creditOwner: t.creditOwner.handler(({ context, input: { id, ...own } }) => creditOwner(context.ctx, id, own)),
  corrections: t.corrections.handler(({ context, input }) => corrections(context.ctx, input)),
  correct: t.correct.handler(({ context, input }) => askCorrection(context.ctx, input)),
  approve: t.approve.handler(({ context, input }) => approveCorrection(context.ctx, input.id)),
  refuse: t.refuse.handler(({ context, input }) => done(refuseCorrection(context.ctx, input.id, input.reason))),
  receipts: t.receipts.handler(({ context, input }) => receiptsFound(context.ctx, input.q, input.bankAccountId ?? null)),
  returnAhead: t.returnAhead.handler(({ context, input }) => returnAhead(context.ctx, input.id, input.day)),
  returned: t.returned.handler(({ context, input: { id, ...own } }) => returnDeposit(context.ctx, id, own)),
  charge: t.charge.handler(({ context, input: { id, ...own } }) => bookCharge(context.ctx, id, own)),
  firmMoney: t.firmMoney.handler(({ context, input }) =>
    depositFirmMoney(context.ctx, input.id, input.day, input.amount, input.operatingAccountId),
  ),
  interest: t.interest.handler(({ context, input: { id, ...own } }) => bookInterest(context.ctx, id, own)),
  interestOf: t.interestOf.handler(({ context, input }) => interestOf(context.ctx, input.year)),
  covers: t.covers.handler(({ context }) => covers(context.ctx)),
  landed: t.landed.handler(({ context, input }) => done(coverLanded(context.ctx, input.id, input.day))),
  repaid: t.repaid.handler(({ context, input: { id, ...own } }) => coverRepaid(context.ctx, id, own)),
  reverse: t.reverse.handler(({ context, input }) => reverseJournal(context.ctx, input.id, input.day, input.reason)),
}
