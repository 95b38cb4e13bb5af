import { counted } from '@heron/core/words'
import type { TimeIn, timeFields } from '@heron/contract'
import { isTaskCode, percentOf } from '@heron/core/billing'
import { faultOfPast, type Day } from '@heron/core/calendar'
import { showMoney, sum } from '@heron/core/money'
import { amountFor, minutesBetween, readDuration, resolveRate, roundMinutes, showHours, type RateOrigin } from '@heron/core/time'
import { In, type EntityManager } from 'typeorm'
import { accountFor, move } from '../ledger'
import { makeNote } from '../notes'
import { mayPart, requireMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, may, type Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { budgetOf, watchingBudgets } from '../platform/budget'
import { sendMail } from '../platform/mail'
import { fieldFault, notFound, refused } from '../platform/problem'
import { dropOwnFields, keepOwnFields } from './own-fields'
import { namesOfPeople } from './set-up'
import { timeSetUp, usualFunding } from './set-up-queries'
import { TimeEntry } from './entities'
import { chargeOn, type DraftRow, draftsToPost, priceFacts } from './queries'

interface Quoted {
  minutes: number
  rate: number
  origin: RateOrigin
  amount: number
}

/** Rounds and prices one entry by the unit of its matter, client or the firm, and the first rate that exists. */
export async function price(
  m: EntityManager,
  entry: { userId: number; matterId: number; clientId: number; day: Day; activity: string | null; rate: number | null; worked: number },
  /** Also of those who have left: what they recorded may still be corrected. */
  anyone = false,
): Promise<Quoted> {
  // One reading of everything a price rests on, a row for each of the person's own rates.
  const sources = await priceFacts(m, entry.matterId, entry.clientId, entry.activity, entry.userId)
  const first = sources[0]
  if (!first) throw notFound('timekeeper')
  if (!first.active && !anyone) throw fieldFault('userId', `${first.name} has left; nobody can record for them`)
  const timekeeper = sources.flatMap((r) =>
    r.fromDay && r.rate !== null ? [{ from: r.fromDay, to: r.toDay, rate: r.rate, usual: Boolean(r.usual) }] : [],
  )
  const found = resolveRate(
    { typed: entry.rate, matter: first.matter, client: first.client, role: first.role, activity: first.activity, timekeeper },
    entry.day,
  )
  if (!found) throw fieldFault('rate', 'There is no rate for this person on that day. Type one, or have a rate set up.')
  const minutes = roundMinutes([entry.worked], first.unit, first.rounding)
  return { minutes, rate: found.rate, origin: found.origin, amount: amountFor(minutes, found.rate) }
}

export interface Spent {
  duration?: string | undefined
  start?: string | null | undefined
  end?: string | null | undefined
  amount?: number | null | undefined
}
/** How long something took: as typed, or from when to when; 0 where the amount alone is given. */
export function minutesOf(spent: Spent): number {
  const { duration = '', start = null, end = null, amount = null } = spent
  if (amount !== null) {
    if (duration || start || end) throw fieldFault('amount', 'Give the time or the amount, not both')
    return 0
  }
  if (start && end) {
    const between = minutesBetween(start, end)
    if (between === null) throw fieldFault('end', 'The end is not after the start. Work past midnight is two entries')
    if (!duration) return between
    if (readDuration(duration) !== between)
      throw fieldFault('duration', `From start to end it is ${showHours(between)} h. Leave one of them out`)
    return between
  }
  if (end) throw fieldFault('start', 'Give the start, too')
  const worked = readDuration(duration)
  if (worked === null)
    throw fieldFault(start ? 'end' : 'duration', start ? 'Give the end, or the time' : 'Give the time like 0.7, 1:30 or 90m')
  return worked
}
/** The price of an entry of which the amount alone is given. */
export const alone = (amount: number): Quoted => ({ minutes: 0, rate: 0, origin: 'amount', amount })

type Fields = Pick<TimeEntry, 'inCourt' | 'fundingId' | 'privateAttorney' | 'task' | 'startedAt' | 'endedAt'>
/** What else is said of an entry, as far as the firm uses it. */
export async function fieldsOf(m: EntityManager, input: TimeIn, matterId: number): Promise<Fields> {
  const { fields, funding } = await timeSetUp(m)
  const used = (name: (typeof timeFields)[number]) => fields.includes(name)
  let fundingId: number | null = null
  if (used('funding')) {
    fundingId = input.fundingId === undefined ? await usualFunding(m, matterId, input.day) : input.fundingId
    const source = funding.find((f) => f.id === fundingId)
    if (fundingId !== null && !source) throw fieldFault('fundingId', 'Choose a source of the list')
    const out = source && ((source.from && input.day < source.from) || (source.to && input.day > source.to))
    if (out) throw fieldFault('fundingId', `${source.name} is not open on that day`)
  }
  if (used('task') && input.task && !isTaskCode(input.task)) throw fieldFault('task', `${input.task} is no task code`)
  const times = used('times') && input.start && input.end
  return {
    fundingId,
    task: used('task') ? input.task || null : null,
    inCourt: used('court') && Boolean(input.inCourt),
    privateAttorney: used('private attorney') && Boolean(input.privateAttorney),
    startedAt: times ? input.start! : null,
    endedAt: times ? input.end! : null,
  }
}

const worthIn = (e: { minutes: number; amount: number }) => (e.minutes ? `${showHours(e.minutes)} h` : showMoney(e.amount))

/** The note to the file that goes with an entry: colleagues are mentioned in it, and someone outside gets its words by e-mail. */
async function noteWith(m: EntityManager, ctx: Ctx, matter: OpenMatter, note: NonNullable<TimeIn['note']>) {
  const safe = note.text.replace(/[&<>]/g, (c) => `&#${c.charCodeAt(0)};`)
  const names = note.toIds?.length ? await namesOfPeople(m, note.toIds) : []
  const told = names.map((p) => `<span data-type="mention" data-id="${p.id}">@${p.name}</span>`).join(' ')
  const html = [told, ...safe.split('\n')]
    .filter(Boolean)
    .map((line) => `<p>${line}</p>`)
    .join('')
  const { id } = await makeNote({ ...ctx, tx: m }, { matterId: matter.id, contactId: null, topicId: null, paperId: null, html })
  if (note.email)
    await sendMail(m, ctx, { key: `time note ${id}`, to: { name: note.email, email: note.email }, subject: matter.name, body: note.text, matterId: matter.id }) // prettier-ignore
}

/** Prices what was entered; `ran` are the minutes of a timer, with their fraction, in place of a typed duration. */
async function priceInput(m: EntityManager, ctx: Ctx, input: TimeIn, ran?: number) {
  const userId = input.userId ?? ctx.actor.id
  const matter = await requireMatter(m, ctx, input.matterId)
  if (matter.closedOn) throw fieldFault('matterId', `${matter.number} is closed. Reopen it first.`)
  if (userId !== ctx.actor.id && ctx.actor.role === 'outside lawyer') throw fieldFault('userId', 'You record your own time')
  const wrongDay = faultOfPast(input.day, ctx.clock.today())
  if (wrongDay) throw fieldFault('day', wrongDay)
  const worked = ran ?? minutesOf(input)
  const activity = input.activity ?? null
  const priced = await price(m, {
    userId,
    matterId: matter.id,
    clientId: matter.clientId,
    day: input.day,
    activity,
    // An amount alone needs no rate.
    rate: input.amount ? 0 : (input.rate ?? null),
    worked,
  })
  const quoted = input.amount ? alone(input.amount) : priced
  const charge = await chargeOn(m, matter, input.day, input.charge ?? 'billable')
  return {
    matter,
    row: {
      userId,
      matterId: matter.id,
      day: input.day,
      activity,
      text: input.text,
      workedMinutes: Math.ceil(worked),
      minutes: quoted.minutes,
      rate: quoted.rate,
      rateOrigin: quoted.origin,
      amount: quoted.amount,
      charge,
      ...(await fieldsOf(m, input, matter.id)),
    },
  }
}

export async function quote(
  ctx: Ctx,
  { userId, amount, ...q }: Spent & { matterId: number; day: Day; activity: string | null; rate: number | null; userId: number | null },
): Promise<Quoted & { budget: { percent: number; capped: boolean; left: number } | null }> {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, q.matterId)
  // What others' hours cost is seen by those who see bills.
  const other = userId !== null && userId !== ctx.actor.id
  if (other && !(may(ctx.actor, 'bills.see') && (await mayPart(m, ctx, matter.id, 'money')))) throw notFound('timekeeper')
  const worked = minutesOf({ ...q, amount })
  const seesMoney = may(ctx.actor, 'bills.see') && (await mayPart(m, ctx, matter.id, 'money'))
  const priced = await price(
    m,
    { userId: userId ?? ctx.actor.id, clientId: matter.clientId, worked, ...q, ...(amount ? { rate: 0 } : {}) },
    other,
  )
  const quoted = amount ? alone(amount) : priced
  const stands = seesMoney ? await budgetOf(m, matter.id) : null
  const after = (stands?.used ?? 0) + (stands?.drafts ?? 0) + quoted.amount
  const budget = stands ? { percent: percentOf(after, stands.budget), capped: stands.capped, left: stands.budget - after } : null
  return { ...quoted, budget }
}

export async function recordTimeIn(m: EntityManager, ctx: Ctx, input: TimeIn, ran?: number): Promise<number> {
  const priced = await priceInput(m, ctx, input, ran)
  const id = await insertRow(m, TimeEntry, { ...priced.row, enteredBy: ctx.actor.id, state: 'draft', createdAt: instant(ctx.clock.now()) })
  await audit(m, ctx, {
    kind: 'recorded',
    text: `${worthIn(priced.row)} drafted: ${input.text}`,
    matterId: priced.matter.id,
    subject: 'time',
    subjectId: id,
  })
  await keepOwnFields(m, ctx, id, input.fields)
  if (input.note && (await timeSetUp(m)).fields.includes('note')) await noteWith(m, ctx, priced.matter, input.note)
  return id
}

export const recordTime = (ctx: Ctx, input: TimeIn) => work(ctx, async (m) => ({ id: await recordTimeIn(m, ctx, input) }))

async function lockDraft(m: EntityManager, ctx: Ctx, id: number) {
  const entry = await m.findOne(TimeEntry, {
    select: { id: true, state: true, matterId: true, text: true, userId: true, enteredBy: true },
    where: { id },
    ...locked(m),
  })
  if (!entry || (entry.userId !== ctx.actor.id && entry.enteredBy !== ctx.actor.id)) throw notFound('draft')
  await requireMatter(m, ctx, entry.matterId)
  if (entry.state !== 'draft') throw refused('already-posted', 'Posted time does not change. Reverse it, or write it down on the pre-bill.')
  return entry
}

export function changeTime(ctx: Ctx, id: number, input: TimeIn): Promise<void> {
  return work(ctx, async (m) => {
    await lockDraft(m, ctx, id)
    const priced = await priceInput(m, ctx, input)
    await m.update(TimeEntry, id, priced.row)
    await keepOwnFields(m, ctx, id, input.fields)
    await audit(m, ctx, {
      kind: 'changed',
      text: `Draft changed to ${worthIn(priced.row)}: ${input.text}`,
      matterId: priced.matter.id,
      subject: 'time',
      subjectId: id,
    })
  })
}

export function removeTime(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockDraft(m, ctx, id)
    await m.delete(TimeEntry, id)
    await dropOwnFields(m, id)
    await audit(m, ctx, { kind: 'deleted', text: `Draft deleted: ${entry.text}`, matterId: entry.matterId, subject: 'time', subjectId: id })
  })
}

/** Posts drafts: one journal a day, work in progress against unbilled fees at worked value. */
export function postTime(ctx: Ctx, ids: number[]): Promise<{ posted: number }> {
  return work(ctx, async (m) => {
    const drafts = await draftsToPost(m, ctx, ids)
    if (drafts.length !== new Set(ids).size)
      throw refused('not-a-draft', 'Some of these are no longer drafts of yours. Reload and post the rest.')
    return watchingBudgets(m, ctx, drafts.map((d) => d.matterId), () => postDrafts(m, ctx, drafts)) // prettier-ignore
  })
}

async function postDrafts(m: EntityManager, ctx: Ctx, drafts: readonly DraftRow[]): Promise<{ posted: number }> {
  const account = await accountFor(m)
  for (const day of new Set(drafts.map((d) => d.day))) {
    const ofDay = drafts.filter((d) => d.day === day)
    const valued = ofDay.filter((d) => d.charge !== 'non-billable' && d.amount > 0)
    const journalId = valued.length
      ? await move(
          m,
          ctx,
          { day, kind: 'time', memo: `Time of ${day}, ${valued.length} ${valued.length === 1 ? 'entry' : 'entries'}` },
          {
            lines: valued.flatMap((d) => [
              { account: account('work in progress'), amount: d.amount, matterId: d.matterId, timekeeperId: d.userId },
              { account: account('unbilled fees'), amount: -d.amount, matterId: d.matterId, timekeeperId: d.userId },
            ]),
          },
        )
      : null
    await m.update(TimeEntry, { id: In(ofDay.map((d) => d.id)) }, { state: 'posted', journalId })
  }
  for (const matterId of new Set(drafts.map((d) => d.matterId))) {
    const own = drafts.filter((d) => d.matterId === matterId)
    await audit(m, ctx, {
      kind: 'posted',
      text: `${counted(own.length, 'time entry', 'time entries')} posted, ${showMoney(sum(own.map((d) => d.amount)))}`,
      matterId,
      subject: 'time',
      subjectId: own[0]!.id,
    })
    await touchMatter(m, ctx, matterId)
  }
  return { posted: drafts.length }
}
