import { z } from 'zod'
import { amount, asks, cents, day, dayOut, fileOut, id, needed, ok, route, text, whole, withId } from './base'
import { duration } from './time'

/** A recovery that closes a contingent fee, or a part of it. */
const settlementIn = z.object({
  matterId: id,
  recoveredOn: day,
  fromWhom: needed('Say of whom it was recovered', 160),
  gross: amount,
  /** Which stage of the contingent fee it fell in, counted from 0. */
  stage: whole(0, 11, 'Choose the stage'),
  liens: z
    .array(z.object({ payee: needed('Say to whom', 160), address: text(400).default(''), text: needed('Say what for', 160), amount }))
    .max(30, 'At most 30 liens')
    .default([]),
})
export type SettlementIn = z.infer<typeof settlementIn>
const lines = z.array(z.object({ text: z.string(), amount: cents }))

export const settlements = {
  settlements: route('bills.see', 'GET', '/matters/{matterId}/settlements', 'How recoveries of a matter were shared')
    .input(z.object({ matterId: id }))
    .output(
      z.array(
        z.object({
          id: z.number(),
          matterId: z.number(),
          recoveredOn: dayOut,
          fromWhom: z.string(),
          gross: cents,
          stage: z.string(),
          fee: cents,
          toClient: cents,
          billed: z.string().nullable(),
          billId: z.number().nullable(),
          clientPaymentId: z.number().nullable(),
          clientState: z.string().nullable(),
          withdrawnOn: dayOut.nullable(),
          lines,
          liens: z.array(z.object({ payee: z.string(), text: z.string(), amount: cents, state: z.string().nullable() })),
        }),
      ),
    ),
  previewSettlement: route('bills.review', 'POST', '/settlements/preview', 'How a recovery would be shared', asks)
    .input(settlementIn)
    .output(z.object({ fee: cents, costs: cents, tax: cents, liens: cents, toClient: cents, billed: cents, lines })),
  settle: route('bills.review', 'POST', '/settlements', 'Keep the settlement statement and make the pre-bill of its fee')
    .input(settlementIn.extend({ toClient: cents }))
    .output(z.object({ id: z.number(), preBillId: z.number() })),
  withdrawSettlement: route('bills.review', 'POST', '/settlements/{id}/withdrawn', 'Take a settlement back').input(withId).output(ok),
  draftSettlementPayments: route('trust.post', 'POST', '/settlements/{id}/payments', 'Draft what goes to lien holders and the client')
    .input(z.object({ id, ledgerId: id, day }))
    .output(z.object({ drafted: z.number() })),
  settlementPdf: route('bills.see', 'GET', '/settlements/{id}/pdf', 'The settlement statement as PDF').input(withId).output(fileOut),
}

/** What review does to lines of a pre-bill beyond their words and amounts. */
export const review = {
  splitLine: route('bills.review', 'POST', '/pre-bills/{id}/lines/{lineId}/split', 'Split a line of time into two')
    .input(
      z.object({
        id,
        lineId: id,
        duration,
        text: needed('Say what was done', 1000),
        restText: needed('Say what was done', 1000),
      }),
    )
    .output(ok),
  mergeLines: route('bills.review', 'POST', '/pre-bills/{id}/lines/merged', 'Make one line of several of a day and person')
    .input(z.object({ id, lineIds: z.array(id).min(2, 'Choose two lines or more').max(50), text: needed('Say what was done', 1000) }))
    .output(ok),
  moveLine: route('bills.review', 'POST', '/pre-bills/{id}/lines/{lineId}/moved', 'Move a line of time or cost to another matter')
    .input(z.object({ id, lineId: id, matterId: id }))
    .output(ok),
  partLines: route('bills.review', 'POST', '/pre-bills/{id}/lines/{lineId}/parted', 'Part a line that stands for several')
    .input(z.object({ id, lineId: id }))
    .output(ok),
  takeLineOut: route('bills.review', 'DELETE', '/pre-bills/{id}/lines/{lineId}', 'Take an added fee out of a pre-bill')
    .input(z.object({ id, lineId: id }))
    .output(ok),
  addLine: route('bills.review', 'POST', '/pre-bills/{id}/lines', 'Add a fee of a set amount to a pre-bill')
    .input(z.object({ id, label: needed('Say what for', 120), amount }))
    .output(ok),
}
