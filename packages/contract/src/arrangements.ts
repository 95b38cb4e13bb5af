import { arrangementFault, arrangements } from '@heron/core/billing'
import { z } from 'zod'
import { amount, cents, day, dayOut, id, needed, ok, route, text, withId } from './base'

/** A fee of a set amount, charged at opening or when it is reached; `stageId` is the stage of the matter that reaches it. */
const portionIn = z.object({
  id: id.optional(),
  label: needed('Name the portion', 120),
  amount,
  due: z.enum(['opening', 'reached']).default('opening'),
  stageId: id.nullable().default(null),
})
export type PortionIn = z.infer<typeof portionIn>
const contingentIn = z.object({
  feeOf: z.enum(['gross', 'net of costs']),
  stages: z
    .array(z.object({ label: needed('Name the stage', 120), share: text(40) }))
    .min(1, 'Give the part of the recovery that is the fee')
    .max(12),
})
export type ContingentIn = z.infer<typeof contingentIn>
export const arrangedBy = {
  billing: z.enum(arrangements).default('hourly'),
  flatFee: z.array(portionIn).max(40).default([]),
  contingent: contingentIn.nullable().default(null),
}
export function sayArrangementFault(
  a: { billing: (typeof arrangements)[number]; flatFee: PortionIn[]; contingent: ContingentIn | null },
  ctx: z.RefinementCtx,
) {
  const fault = arrangementFault(a.billing, a.flatFee, a.contingent)
  if (fault) ctx.addIssue({ code: 'custom', ...fault })
}
const tally = z.object({ entries: z.number().int(), amount: cents })
const arrangementEffect = z.object({ nowCovered: tally, nowCharged: tally, stays: tally })
export const arrangementChange = z
  .object({
    id,
    ...arrangedBy,
    from: day,
    retainer: z
      .object({ floor: amount, fillTo: amount })
      .refine((r) => r.fillTo >= r.floor, { path: ['fillTo'], error: 'Fill it at least up to its floor' })
      .nullable()
      .default(null),
    /** What was shown of unbilled work, where the arrangement becomes another. */
    seen: arrangementEffect.nullable().default(null),
  })
  // Whether fees of it are billed already, the server knows.
  .superRefine((a, ctx) => {
    const fault = arrangementFault(a.billing, a.flatFee, a.contingent, true)
    if (fault) ctx.addIssue({ code: 'custom', ...fault })
  })
export type ArrangementChange = z.infer<typeof arrangementChange>
export const arrangementRoutes = {
  arrangement: route('bills.see', 'GET', '/matters/{id}/arrangement', 'How a matter is paid for')
    .input(withId)
    .output(
      z.object({
        billing: z.enum(arrangements),
        history: z.array(z.object({ from: dayOut, billing: z.enum(arrangements), by: z.string() })),
        portions: z.array(
          z.object({
            id: z.number(),
            label: z.string(),
            amount: cents,
            due: z.enum(['opening', 'reached']),
            stageId: z.number().nullable(),
            stage: z.string().nullable(),
            earnedOn: dayOut.nullable(),
            /** By a settlement or in review, beside the arrangement. */
            added: z.boolean(),
            billId: z.number().nullable(),
            bill: z.string().nullable(),
          }),
        ),
        stages: z.array(z.object({ id: z.number(), name: z.string() })),
        contingent: contingentIn.nullable(),
        /** What is held, and what to ask for, for those who see trust money. */
        retainer: z.object({ floor: cents, fillTo: cents, held: cents.nullable(), ask: cents.nullable() }).nullable(),
      }),
    ),
  arrangementEffect: route('bills.review', 'GET', '/matters/{id}/arrangement/effect', 'What another arrangement does to unbilled work')
    .input(z.object({ id, billing: z.enum(arrangements), from: day }))
    .output(arrangementEffect),
  changeArrangement: route('bills.review', 'PUT', '/matters/{id}/arrangement', 'Change how a matter is paid for from a day on')
    .input(arrangementChange)
    .output(ok),
}
