import { addDays, showDay, type CourtCalendar, type Day } from '@heron/core/calendar'
import { goalOn, monthlyGoal, monthOf, shareOf, stopped, weeklyGoal, weeksBack, type Goal, type Week } from '@heron/core/oversight'
import { faultOfPast } from '@heron/core/calendar'
import { In, Not, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { isoOf, type Ctx } from '../platform/context'
import { touched, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { makeTaskIn, workingDays } from '../tasks'
import { putOffIn } from './aside'
import { keeping } from './flow-queries'
import { OversightLook, TimekeeperGoal } from './entities'
import { Firm, UserAccount } from '../platform/shared-entities'
import { awayUntil, byWeek, collectedBy, goalsOf, goalsSet, type KeptGoal, noteLook, weekEnd, weeksMoved } from './queries'

/** How many whole weeks one's usual is taken from. */
const usualFrom = 13

/** Counts working days of the firm, each day looked at once. */
function counting(calendar: CourtCalendar) {
  const known = new Map<Day, boolean>()
  const works = (day: Day) => {
    const own = known.get(day) ?? calendar.closedWhy(day, 'before') === null
    known.set(day, own)
    return own
  }
  return { works, count: (from: Day, to: Day) => {
    let n = 0
    for (let d = from; d <= to; d = addDays(d, 1)) if (works(d)) n += 1
    return n
  } } // prettier-ignore
}

interface Sums {
  minutes: number
  worth: number
  collected: number
}
const lastLook = (m: EntityManager, userId: number) =>
  m.findOne(OversightLook, { select: { at: true, day: true, toldAt: true, id: true }, where: { userId }, order: { id: 'DESC' } }) // prettier-ignore

const nothing = (): Sums => ({ minutes: 0, worth: 0, collected: 0 })

/** Hours, value and goals of every timekeeper, this week and those before; with what was recorded late since the reader's last look. */
export async function weeks(ctx: Ctx, asked: { asOf?: Day | undefined; weeks: number }) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  const asOf = asked.asOf ?? today
  if (asOf > today) throw fieldFault('asOf', 'That day has not come yet')
  const wrong = faultOfPast(asOf, today)
  if (wrong) throw fieldFault('asOf', wrong)
  const endsOn = await weekEnd(m)
  const all = weeksBack(asOf, endsOn, Math.max(asked.weeks, usualFrom + 2))
  const shown = all.slice(0, asked.weeks)
  const last = all[0]!.to
  const first = all.at(-1)!.from
  const month = monthOf(asOf)
  const days = counting(await workingDays(m))
  const goals = await goalsOf(m)
  const kept = await keeping(m, ctx)
  const keepers = [...new Set(goals.filter((g) => g.basis === 'collected').map((g) => g.userId))]
  // The long list of weeks is added up beside all that is asked for besides.
  const longList = byWeek(m, kept, first, last, asOf)
  longList.catch(() => undefined)
  const money = await collectedBy(m, kept, keepers, shown.at(-1)!.from, last, asOf)
  const monthTime = await byWeek(m, kept, month.from, month.to, asOf)
  const monthMoney = await collectedBy(m, kept, keepers, month.from, month.to, asOf)
  const look = await lastLook(m, ctx.actor.id)
  const moved = look ? await weeksMoved(m, ctx, last, look.at, shown, asOf) : []
  const people = await m.find(UserAccount, {
    select: { id: true, name: true, title: true, role: true, active: true, leftOn: true },
    order: { name: 'ASC' },
  })
  const away = await awayUntil(m, all)
  const time = await longList
  const key = (userId: number, n: number) => `${userId} ${n}`
  const timeAt = new Map(time.map((t) => [key(t.userId, t.n), t]))
  const moneyAt = new Map(money.map((c) => [key(c.userId, c.n), c.amount]))
  const movedAt = new Map(moved.map((v) => [key(v.userId, v.n), v]))
  const lastDay = new Map<number, Day>()
  for (const t of time) if (t.last > (lastDay.get(t.userId) ?? '')) lastDay.set(t.userId, t.last)
  const monthOfUser = new Map<number, Sums>()
  const inMonth = (id: number) => {
    const own = monthOfUser.get(id) ?? nothing()
    monthOfUser.set(id, own)
    return own
  }
  for (const t of monthTime) {
    inMonth(t.userId).minutes += t.minutes
    inMonth(t.userId).worth += t.worth
  }
  for (const c of monthMoney) inMonth(c.userId).collected += c.amount
  const over = (w: Week) => (w.to < today ? days.count(w.from, w.to) : days.count(w.from, addDays(today, -1)))
  const heads = shown.map((w) => ({ ...w, workDays: days.count(w.from, w.to), daysOver: over(w) }))
  // Weeks that were over when the reader last looked: what moved in them later is late.
  const overThen = shown.map((w) => look !== null && w.to < look.day)

  const list = people.flatMap((p) => {
    const own = goals.filter((g) => g.userId === p.id)
    const goal = goalOn(own, asOf)
    const has = lastDay.has(p.id) || shown.some((_, n) => moneyAt.has(key(p.id, n))) || monthOfUser.has(p.id)
    if (!has && !(p.active && goal)) return []
    const cells = shown.map((w, n) => {
      const t = timeAt.get(key(p.id, n))
      const sums = { minutes: t?.minutes ?? 0, worth: t?.worth ?? 0, collected: moneyAt.get(key(p.id, n)) ?? 0 }
      const late = overThen[n] ? movedAt.get(key(p.id, n)) : undefined
      return cell(sums, goalOn(own, w.to), (g) => weeklyGoal(g, w, days.count), late)
    })
    const gone = away.filter((a) => a.userId === p.id)
    const there = (w: Week) => {
      let n = 0
      for (let d = w.from; d <= w.to; d = addDays(d, 1)) if (days.works(d) && !gone.some((a) => a.from <= d && (a.to === null || d <= a.to))) n += 1 // prettier-ignore
      return n
    }
    const halted = p.active
      ? stopped({
          weeks: all.slice(1).map((_, i) => timeAt.get(key(p.id, i + 1))?.minutes ?? 0),
          now: timeAt.get(key(p.id, 0))?.minutes ?? 0,
          daysOver: gone.some((a) => a.from <= today && (a.to === null || a.to >= all[0]!.from)) ? 0 : heads[0]!.daysOver,
          days: heads[0]!.workDays,
          there: there(all[1]!),
        })
      : null
    return [
      {
        id: p.id,
        name: p.name,
        title: p.title,
        left: p.active ? null : (p.leftOn ?? 'left'),
        outside: p.role === 'outside lawyer',
        basis: goal?.basis ?? null,
        lastDay: lastDay.get(p.id) ?? null,
        weeks: cells,
        month: cell(inMonth(p.id), goalOn(own, asOf), (g) => monthlyGoal(g, month, days.count), undefined),
        stopped: halted,
      },
    ]
  })
  return {
    weekEnds: endsOn,
    weeks: heads,
    month: { ...month, workDays: days.count(month.from, month.to), daysOver: over(month) },
    look: look && { day: look.day, at: isoOf(look.toldAt) },
    rows: list,
    totals: { weeks: shown.map((_, n) => together(list.map((p) => p.weeks[n]!))), month: together(list.map((p) => p.month)) },
  }
}

type Cell = ReturnType<typeof cell>
function cell(s: Sums, goal: Goal | null, amount: (g: Goal | null) => number | null, late: { minutes: number; worth: number } | undefined) {
  const counted = goal?.basis === 'collected' ? s.collected : s.worth
  const wanted = amount(goal)
  return {
    minutes: s.minutes,
    worth: s.worth,
    counted,
    goal: wanted,
    share: shareOf(counted, wanted),
    late:
      late && (late.minutes || late.worth)
        ? { minutes: late.minutes, worth: late.worth, wasWorth: s.worth - late.worth, wasMinutes: s.minutes - late.minutes }
        : null,
  }
}
/** Sums of people; the share of the goals is of those who have one. */
function together(cells: readonly Cell[]): Cell {
  const all = { minutes: 0, worth: 0, counted: 0, goal: null as number | null, of: 0, late: null as Cell['late'] }
  for (const c of cells) {
    all.minutes += c.minutes
    all.worth += c.worth
    all.counted += c.counted
    if (c.goal !== null) {
      all.goal = (all.goal ?? 0) + c.goal
      all.of += c.counted
    }
    if (c.late) {
      all.late ??= { minutes: 0, worth: 0, wasWorth: 0, wasMinutes: 0 }
      all.late.minutes += c.late.minutes
      all.late.worth += c.late.worth
    }
  }
  if (all.late) Object.assign(all.late, { wasWorth: all.worth - all.late.worth, wasMinutes: all.minutes - all.late.minutes })
  return { minutes: all.minutes, worth: all.worth, counted: all.counted, goal: all.goal, share: shareOf(all.of, all.goal), late: all.late }
}

/** Takes the weeks as seen: what moves in weeks that are over from now on is late. */
export const takeLook = (ctx: Ctx) => work(ctx, (m) => noteLook(m, ctx))

export async function goals(ctx: Ctx) {
  const m = ctx.db.manager
  const people = await m.find(UserAccount, { select: { id: true, name: true }, where: { active: true, role: Not(In(['bookkeeper'])) }, order: { name: 'ASC' } }) // prettier-ignore
  const all = await m.find(UserAccount, { select: { id: true, name: true } })
  const names = new Map(all.map((p) => [p.id, p.name]))
  return { weekEnds: await weekEnd(m), people, rows: (await goalsOf(m)).map((g) => ({ ...g, name: names.get(g.userId) ?? '' })) }
}
const mostGoals = 100
export const setGoal = (ctx: Ctx, g: KeptGoal) =>
  work(ctx, async (m) => {
    const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: g.userId } })
    if (!who) throw notFound('person')
    if (g.weekly === null && g.monthly === null && g.costRate === null) throw fieldFault('weekly', 'Give a goal of a week or a month, or what an hour costs') // prettier-ignore
    const n = await goalsSet(m, g.userId)
    if (n!.n >= mostGoals) throw fieldFault('from', `${who.name} has ${mostGoals} goals by their days. Take old ones out first`)
    await m.upsert(
      TimekeeperGoal,
      { userId: g.userId, fromDay: g.from, basis: g.basis, weekly: g.weekly, monthly: g.monthly, costRate: g.costRate },
      ['userId', 'fromDay'],
    )
    await audit(m, ctx, { kind: 'changed', text: `Goal of ${who.name} from ${showDay(g.from)} set`, subject: 'goal', subjectId: g.userId }) // prettier-ignore
  })
export const removeGoal = (ctx: Ctx, userId: number, from: Day) =>
  work(ctx, async (m) => {
    if (!(await touched(m.delete(TimekeeperGoal, { userId, fromDay: from })))) throw notFound('goal')
    await audit(m, ctx, { kind: 'changed', text: `Goal from ${showDay(from)} taken out`, subject: 'goal', subjectId: userId })
  })
export const setWeekEnd = (ctx: Ctx, day: number) =>
  work(ctx, async (m) => {
    await m.updateAll(Firm, { weekEnds: day })
    await audit(m, ctx, { kind: 'changed', text: 'The day on which the week ends was set', subject: 'goal', subjectId: day })
  })

/** A word to a timekeeper: a task of theirs for today, of which a letter tells. Who wrote need not decide about them again for a week. */
export const writeNote = (ctx: Ctx, userId: number, text: string) =>
  work(ctx, async (m) => {
    await putOffIn(m, ctx, { kind: 'stopped', key: String(userId), days: 7 })
    return makeTaskIn(m, ctx, {
      text: text.length > 200 ? `${text.slice(0, 199)}…` : text,
      details: text.length > 200 ? text : '',
      matterId: null,
      assigneeId: userId,
      dueOn: ctx.clock.today(),
      dueTime: null,
      remindOn: null,
      estimateMinutes: null,
      priority: 'normal',
      onlyNamed: true,
      named: [],
      items: [],
      paperIds: [],
    })
  })
