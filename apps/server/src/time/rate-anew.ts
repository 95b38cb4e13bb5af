import type { Day } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import { showRateOrigin, type RateOrigin } from '@heron/core/time'
import { In, type EntityManager } from 'typeorm'
import { TimeEntry } from './entities'
import { book } from './corrections'
import { price } from './service'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { locked, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { Matter } from '../platform/shared-entities'
import { type Candidate, entriesToRate, mattersOfEntries, most } from './set-up-queries'

export interface RateSpan {
  matterId?: number | undefined
  clientId?: number | undefined
}

/** Time that is neither billed nor on a pre-bill, and whose rate nobody typed: what a changed rate may be applied to. */
function candidates(m: EntityManager, ctx: Ctx, of: RateSpan, only: readonly number[] | null): Promise<Candidate[]> {
  if (!of.matterId && !of.clientId) throw fieldFault('matterId', 'Say for which matter or client')
  return entriesToRate(m, ctx, of.matterId, of.clientId, only)
}

/** What each entry would come to by the rates and the rounding that hold now; entries that stay as they are are left out. */
async function differences(m: EntityManager, list: readonly Candidate[]) {
  const out = []
  for (const t of list) {
    const now = await price(m, { userId: t.userId, matterId: t.matterId, clientId: t.clientId, day: t.day, activity: t.activity, rate: null, worked: t.workedMinutes }, true) // prettier-ignore
    const changed = now.rate !== t.rate || now.minutes !== t.minutes
    if (changed) out.push({ ...t, now })
  }
  return out
}

export async function previewRates(ctx: Ctx, of: RateSpan) {
  const list = await candidates(ctx.db.manager, ctx, of, null)
  const found = await differences(ctx.db.manager, list.slice(0, most))
  return {
    looked: Math.min(list.length, most),
    more: list.length > most,
    rows: found.map(({ id, who, matter, day, text, state, minutes, rate, amount, now }) => ({
      id,
      who,
      matter,
      day,
      text,
      state,
      was: { minutes, rate, amount },
      now: { minutes: now.minutes, rate: now.rate, amount: now.amount, origin: showRateOrigin(now.origin as RateOrigin) },
    })),
    difference: found.reduce((n, d) => n + d.now.amount - d.amount, 0),
  }
}

/** Rates chosen entries anew. What is posted is taken out of work in progress on its day and put in again at its new value. */
export const rateAnew = (ctx: Ctx, of: RateSpan, seen: readonly { id: number; amount: number }[]): Promise<{ rated: number }> =>
  work(ctx, async (m) => {
    const ids = seen.map((s) => s.id)
    const matters = await mattersOfEntries(m, ids)
    if (matters.length)
      await m.find(Matter, {
        select: { id: true },
        where: { id: In(matters.map((x) => x.id)) },
        order: { id: 'ASC' },
        ...locked(m),
      })
    const found = await differences(m, await candidates(m, ctx, of, ids))
    const agrees = seen.every((s) => found.some((d) => d.id === s.id && d.now.amount === s.amount))
    if (found.length !== seen.length || !agrees)
      throw refused('changed-since', 'Some of these have changed since they were shown. Look again.')
    for (const d of found) {
      const entry = await m.createQueryBuilder(TimeEntry, 't').where({ id: d.id }).setLock('pessimistic_write').getOneOrFail()
      let { journalId } = entry
      if (entry.state === 'posted' && entry.charge !== 'non-billable') {
        const memo = `Rated anew, time ${d.id}`
        await book(m, ctx, entry, -entry.amount, entry.day as Day, memo, d.id)
        journalId = (await book(m, ctx, entry, d.now.amount, entry.day as Day, memo, d.id)) ?? journalId
      }
      await m.update(TimeEntry, d.id, {
        minutes: d.now.minutes,
        rate: d.now.rate,
        rateOrigin: d.now.origin,
        amount: d.now.amount,
        journalId,
      })
      await audit(m, ctx, {
        kind: 'changed',
        text: `Time of ${d.who} rated anew: ${showMoney(d.amount)} becomes ${showMoney(d.now.amount)}`,
        matterId: d.matterId,
        subject: 'time',
        subjectId: d.id,
        detail: { was: { rate: d.rate, amount: d.amount }, became: { rate: d.now.rate, amount: d.now.amount } },
      })
    }
    return { rated: found.length }
  })
