import type { Day } from '../calendar'
import { proportion, type Cents } from '../money'

/** What a card processor tells of a charge, each at least once and in no order that can be relied on. */
export const cardEventKinds = ['paid', 'refused', 'disputed', 'dispute won', 'settled'] as const
export type CardEventKind = (typeof cardEventKinds)[number]
export type ChargeState = 'begun' | 'refused' | 'paid' | 'disputed'

/**
 * How a charge stands by all that was told of it, whatever the order and however often: a refusal that comes after a payment is an
 * earlier try; a dispute takes the money back until it is won.
 */
export function chargeState(told: Iterable<CardEventKind>): ChargeState {
  const kinds = new Set(told)
  // Whatever is disputed or settled was paid, also where the word of it is still on its way.
  const paid = kinds.has('paid') || kinds.has('disputed') || kinds.has('dispute won') || kinds.has('settled')
  if (!paid) return kinds.has('refused') ? 'refused' : 'begun'
  return kinds.has('disputed') && !kinds.has('dispute won') ? 'disputed' : 'paid'
}

/** The name of the settlement by which money came; where the processor gives none, the day on which it was told. None before it settles. */
export const settlementName = (told: { kind: CardEventKind; settlement: string | null }, today: Day): string | null =>
  told.kind === 'settled' ? (told.settlement ?? today) : null

/** What a processor keeps of a charge: a share in ten-thousandths, half up, and a fixed part; never more than the charge. */
export const processingFee = (amount: Cents, basisPoints: number, fixed: Cents): Cents =>
  Math.min(amount, proportion(amount, basisPoints, 10_000) + fixed)
