import { creditNote, refundCredit } from '@heron/server/billing'
import { row } from '@heron/server/platform'
import type { Day } from '@heron/core/calendar'
import type { Stage } from './stage'

type Ctx = Parameters<typeof creditNote>[0]

/** What a bill leaves open within the day's transaction. */
export async function openOf(m: Parameters<typeof row>[0], billId: number): Promise<number> {
  const bill = await row<{ open: number }>(
    m,
    `SELECT total - COALESCE((SELECT SUM(amount) FROM allocation WHERE bill_id = b.id), 0) AS open FROM bill b WHERE id = ?`,
    [billId],
  )
  return bill!.open
}

/** Now and then the firm gives way on a bill; tells what it leaves open then. */
export async function giveWay(ctx: Ctx, stage: Stage, billId: number, open: number): Promise<number> {
  const amount = Math.min(20_000, Math.floor(open / 10))
  await creditNote(ctx, billId, { day: stage.day, reason: 'courtesy, as agreed by phone', amount })
  return openOf(stage.tx!, billId)
}

/** A payment of more than was owed, and when what is over is paid back. */
export interface Overpaid {
  paymentId: number
  amount: number
  on: Day
}
export async function payBackWhatIsDue(ctx: Ctx, stage: Stage, overpaid: Overpaid[]): Promise<void> {
  for (const c of overpaid.filter((x) => x.on <= stage.day)) {
    overpaid.splice(overpaid.indexOf(c), 1)
    await refundCredit(ctx, c.paymentId, { amount: c.amount, day: stage.day, reference: `check ${c.paymentId}` })
  }
}
