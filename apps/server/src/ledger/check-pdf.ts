import type { Ctx } from '../platform/context'
import { notFound, refused } from '../platform/problem'
import { type Check, checksPdf, checkSeen, checksSeen } from './payment-queries'

const printable = (p: Check) => {
  if (p.state !== 'posted' || !p.checkNo) throw refused('not-a-check', 'Only a posted check can be printed.')
}

/** The check of a posted payment. */
export async function checkPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const p = await checkSeen(ctx, id)
  if (!p) throw notFound('payment')
  printable(p)
  return { data: await checksPdf(ctx, [p], `Check ${p.checkNo}`), name: `check-${p.checkNo}.pdf` }
}

/** The checks of a print job, a page each, in order of their numbers. */
export async function jobPdf(ctx: Ctx, ids: readonly number[]): Promise<{ data: Buffer; name: string }> {
  if (!ids.length) throw refused('not-a-check', 'Nothing of this job is still to be printed.')
  const list = await checksSeen(ctx, ids)
  if (!list.length) throw refused('not-a-check', 'Nothing of this job is still to be printed.')
  const name = `checks-${list[0]!.checkNo}-${list.at(-1)!.checkNo}`
  return { data: await checksPdf(ctx, list, name), name: `${name}.pdf` }
}
