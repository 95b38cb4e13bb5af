import type { TimeIn } from '@heron/contract'
import { faultOfPast, showDay, type Day } from '@heron/core/calendar'
import { proportion, showMoney } from '@heron/core/money'
import { readDuration, showHours, splitMinutes } from '@heron/core/time'
import { In, type EntityManager } from 'typeorm'
import { TimeEntry } from './entities'
import { copyOwnFields, keepOwnFields } from './own-fields'
import { alone, fieldsOf, minutesOf, price } from './service'
import { chargeOn, numberOfBill, preBillWith } from './queries'
import { accountFor, move } from '../ledger'
import { change, mayPart, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, may, type Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { Matter, UserAccount } from '../platform/shared-entities'

interface Locked extends TimeEntry {
  who: string
}

/** A posted entry that may be corrected: neither billed nor written off, and on no pre-bill. Its matter is locked before it. */
async function lockPosted(m: EntityManager, ctx: Ctx, id: number, alsoMatter?: number): Promise<Locked> {
  const at = await m.findOne(TimeEntry, { select: { matterId: true, id: true }, where: { id } })
  if (!at) throw notFound('time entry')
  // Pre-bills are made and issued under the matter's lock, taken before the entry's; so that the two never pass each other.
  const matters = [...new Set([at.matterId, alsoMatter ?? at.matterId])].sort((a, b) => a - b)
  await m.find(Matter, { select: { id: true }, where: { id: In(matters) }, order: { id: 'ASC' }, ...locked(m) })
  const entry = await m.createQueryBuilder(TimeEntry, 't').where({ id }).setLock('pessimistic_write').getOne()
  if (!entry || entry.matterId !== at.matterId) throw refused('changed-meanwhile', 'This entry has changed meanwhile. Look again.')
  await requireMatter(m, ctx, entry.matterId)
  const reviews = may(ctx.actor, 'bills.review') && (await mayPart(m, ctx, entry.matterId, 'money', change))
  if (entry.userId !== ctx.actor.id && entry.enteredBy !== ctx.actor.id && !reviews) throw notFound('time entry')
  if (entry.state === 'draft') throw refused('not-posted', 'This is a draft; change or delete it as it is.')
  if (entry.state !== 'posted') throw refused('not-reversible', `This entry was ${entry.state} already.`)
  if (entry.billId) {
    const bill = await numberOfBill(m, entry.billId)
    throw refused('not-reversible', `This entry is on bill ${bill?.number}. A credit note, or a void, corrects that.`)
  }
  const pre = await preBillWith(m, id)
  if (pre) throw refused('on-pre-bill', `This entry is on the pre-bill of ${pre.matter}. Change it there, or drop that pre-bill first.`)
  const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: entry.userId } })
  return Object.assign(entry, { who: who?.name ?? '' })
}

type Valued = Pick<TimeEntry, 'charge' | 'amount' | 'matterId' | 'userId' | 'day'>
const valued = (e: Valued) => (e.charge === 'non-billable' ? 0 : e.amount)
/** What recorded value adds to work in progress against unbilled fees; below zero takes it off again. */
export async function book(
  m: EntityManager,
  ctx: Ctx,
  e: Valued,
  amount: number,
  day: Day,
  memo: string,
  id: number,
): Promise<number | null> {
  if (!amount) return null
  const account = await accountFor(m)
  const own = { matterId: e.matterId, timekeeperId: e.userId }
  const lines = [
    { account: account('work in progress'), amount, ...own },
    { account: account('unbilled fees'), amount: -amount, ...own },
  ]
  return move(m, ctx, { day, kind: amount > 0 ? 'time' : 'reversal', memo, subject: 'time', subjectId: id }, { lines })
}
function judgeDay(ctx: Ctx, path: string, day: Day) {
  const wrong = faultOfPast(day, ctx.clock.today())
  if (wrong) throw fieldFault(path, wrong)
  if (day > ctx.clock.today()) throw fieldFault(path, 'This is dated ahead')
}
const logged = (m: EntityManager, ctx: Ctx, e: Pick<TimeEntry, 'id' | 'matterId'>, kind: string, text: string, detail?: object) =>
  audit(m, ctx, { kind, text, matterId: e.matterId, subject: 'time', subjectId: e.id, ...(detail ? { detail } : {}) })

export type Correction = Omit<TimeIn, 'activity' | 'charge' | 'rate' | 'userId' | 'note'> & {
  activity: string | null
  charge: TimeEntry['charge']
  rate: number | null
  reason: string
}
/**
 * Corrects a posted entry: words alone change no books; another matter, day, time, rate or charge is priced anew, what stood is taken
 * out of work in progress on its own day and what stands now is put in on its day. What it was stays in the log.
 */
export const correctTime = (ctx: Ctx, id: number, input: Correction): Promise<void> =>
  work(ctx, async (m) => {
    const e = await lockPosted(m, ctx, id, input.matterId)
    const worked = minutesOf(input)
    const target = await requireMatter(m, ctx, input.matterId)
    if (target.closedOn) throw fieldFault('matterId', `${target.number} is closed. Reopen it first.`)
    if (target.kind === 'practice') throw fieldFault('matterId', `${target.number} is for practice and stays out of the books.`)
    const charge = await chargeOn(m, target, input.day, input.charge)
    const same = input.matterId === e.matterId && input.day === e.day && worked === e.workedMinutes && input.activity === e.activity
    const amountAlone = input.amount ?? null
    const rateStays = amountAlone !== null || e.rateOrigin === 'amount' ? amountAlone === e.amount && e.rateOrigin === 'amount' : input.rate === null ? e.rateOrigin !== 'typed' : input.rate === e.rate // prettier-ignore
    const said = await fieldsOf(m, input, target.id)
    const fieldsStay = !(await keepOwnFields(m, ctx, id, input.fields))
    const saysSame = fieldsStay && (Object.keys(said) as (keyof typeof said)[]).every((k) => said[k] === e[k])
    const was = { matterId: e.matterId, day: e.day, text: e.text, minutes: e.minutes, rate: e.rate, amount: e.amount, charge: e.charge, activity: e.activity } // prettier-ignore
    if (same && rateStays && charge === e.charge) {
      if (input.text === e.text && saysSame) return
      await m.update(TimeEntry, id, { text: input.text, ...said })
      await logged(m, ctx, e, 'changed', `Posted time reworded: ${input.text} (${input.reason})`, {
        was,
        became: { ...was, text: input.text },
      })
      return
    }
    judgeDay(ctx, 'day', input.day)
    const byHours = await price(m, { userId: e.userId, matterId: target.id, clientId: target.clientId, day: input.day, activity: input.activity, rate: amountAlone === null ? input.rate : 0, worked }, true) // prettier-ignore
    const priced = amountAlone === null ? byHours : alone(amountAlone)
    const now = { ...e, matterId: target.id, day: input.day, charge, amount: priced.amount }
    const memo = `Correction of time ${id}: ${input.reason}`
    await book(m, ctx, e, -valued(e), e.day as Day, memo, id)
    const journalId = (await book(m, ctx, now, valued(now), input.day, memo, id)) ?? e.journalId
    const row = { matterId: target.id, day: input.day, activity: input.activity, text: input.text, workedMinutes: worked, minutes: priced.minutes, rate: priced.rate, rateOrigin: priced.origin, amount: priced.amount, charge, journalId, ...said } // prettier-ignore
    await m.update(TimeEntry, id, row)
    const became = { matterId: row.matterId, day: row.day, text: row.text, minutes: row.minutes, rate: row.rate, amount: row.amount, charge, activity: row.activity } // prettier-ignore
    const what = target.id === e.matterId ? 'corrected' : `moved to ${target.number}`
    await logged(m, ctx, e, 'changed', `Posted time of ${e.who} ${what}: ${showHours(e.minutes)} h, ${showMoney(e.amount)}, now ${showHours(row.minutes)} h, ${showMoney(row.amount)} (${input.reason})`, { was, became }) // prettier-ignore
    if (target.id !== e.matterId) {
      await logged(m, ctx, { id, matterId: target.id }, 'posted', `Time of ${e.who} moved here from another matter: ${showHours(row.minutes)} h, ${input.text}`) // prettier-ignore
      await touchMatter(m, ctx, target.id)
    }
    await touchMatter(m, ctx, e.matterId)
  })

/** Moves a posted entry to another matter, all else as it is; its rate is that of the other matter unless one was typed. */
export const moveTime = (ctx: Ctx, id: number, matterId: number, reason: string): Promise<void> =>
  work(ctx, async (m) => {
    const e = await m.findOneBy(TimeEntry, { id })
    if (!e) throw notFound('time entry')
    const alone = e.rateOrigin === 'amount'
    await correctTime({ ...ctx, tx: m }, id, {
      matterId,
      day: e.day as Day,
      text: e.text,
      activity: e.activity,
      charge: e.charge,
      rate: e.rateOrigin === 'typed' ? e.rate : null,
      duration: alone ? '' : `${e.workedMinutes}m`,
      amount: alone ? e.amount : null,
      inCourt: e.inCourt,
      privateAttorney: e.privateAttorney,
      task: e.task,
      reason,
    })
  })

/** Splits a posted entry into two that add up to it, to the minute and the cent; the second has words of its own. */
export const splitTime = (ctx: Ctx, id: number, input: { duration: string; text: string; restText: string }): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const e = await lockPosted(m, ctx, id)
    const first = readDuration(input.duration)
    if (!e.minutes) throw refused('not-reversible', 'This entry has an amount and no hours. Correct it, and record the rest anew.')
    if (first === null) throw fieldFault('duration', 'Give the time of the first part like 0.7, 1:30 or 90m')
    if (first >= e.minutes) throw fieldFault('duration', `The first part is less than ${showHours(e.minutes)} h`)
    const minutes = splitMinutes(e.minutes, first)
    // Either part has worked minutes, so that it can be corrected as it stands.
    const workedFirst = Math.min(first, Math.max(1, e.workedMinutes - 1))
    const workedMinutes = [workedFirst, Math.max(1, e.workedMinutes - workedFirst)] as const
    const amount = proportion(e.amount, minutes[0], e.minutes)
    const amounts = [amount, e.amount - amount] as const
    await m.update(TimeEntry, id, { minutes: minutes[0], workedMinutes: workedMinutes[0], amount: amounts[0], text: input.text })
    const { id: _, who: __, ...rest } = e
    const part = await insertRow(m, TimeEntry, { ...rest, minutes: minutes[1], workedMinutes: workedMinutes[1], amount: amounts[1], text: input.restText, createdAt: instant(ctx.clock.now()) }) // prettier-ignore
    await logged(m, ctx, e, 'changed', `Posted time of ${e.who} split: ${showHours(minutes[0])} h ${input.text}; ${showHours(minutes[1])} h ${input.restText}`) // prettier-ignore
    await copyOwnFields(m, id, part)
    return { id: part }
  })

/** Writes unbilled time off: it leaves work in progress on the day given and is never billed. Several at once, or none. */
export const writeOffTime = (ctx: Ctx, input: { ids: readonly number[]; day: Day; reason: string }): Promise<{ written: number }> =>
  work(ctx, async (m) => {
    judgeDay(ctx, 'day', input.day)
    for (const id of [...new Set(input.ids)].sort((a, b) => a - b)) {
      const e = await lockPosted(m, ctx, id)
      if (input.day < e.day) throw fieldFault('day', `One of these was worked on ${showDay(e.day as Day)}; write it off then or later`)
      await book(m, ctx, e, -valued(e), input.day, `Written off, time ${id}: ${input.reason}`, id)
      await m.update(TimeEntry, id, { state: 'written off' })
      await logged(m, ctx, e, 'reversed', `Time of ${e.who} written off: ${showHours(e.minutes)} h, ${showMoney(e.amount)}, ${e.text} (${input.reason})`) // prettier-ignore
    }
    return { written: new Set(input.ids).size }
  })

/** Reverses a posted entry on its own date, or on another that is open. */
export const reverseTime = (ctx: Ctx, id: number, input: { reason: string; day: Day | null }): Promise<{ ok: true }> =>
  work(ctx, async (m) => {
    const e = await lockPosted(m, ctx, id)
    const day = input.day ?? (e.day as Day)
    if (input.day) judgeDay(ctx, 'day', input.day)
    if (day < e.day) throw fieldFault('day', 'Reverse it on its own date or later')
    // The day's journal carries other entries too, so this one is turned round by a journal of its own.
    await book(m, ctx, e, -valued(e), day, `Reversal of time ${id}: ${input.reason}`, id)
    await m.update(TimeEntry, id, { state: 'reversed' })
    await logged(m, ctx, e, 'reversed', `Time reversed: ${e.text} (${input.reason})`)
    return { ok: true as const }
  })
