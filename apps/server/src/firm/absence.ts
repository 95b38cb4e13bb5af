import { showDay, type Day } from '@heron/core/calendar'
import { In, IsNull, Not, type EntityManager } from 'typeorm'
import type { Held, LeaveSpan, What } from '../platform/area'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, locked, touched, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { give, giveBack, handedOver, matterOf, nameOf, type Give } from './handing'
import { actorOf } from '../platform/auth'
import { counted } from '@heron/core/words'
import { Matter, UserAccount } from '../platform/shared-entities'
import { Absence, HandedOver } from './entities'
import { Session } from '../platform/entities'
import { absencesToBegin, leaveTeams, lockedAbsence, outOfReach } from './people-queries'

async function heldBy(m: EntityManager, ctx: Ctx, userId: number, span: LeaveSpan): Promise<Record<What, Held[]>> {
  const held = { lead: [], team: [], date: [], task: [], paper: [], review: [] } as Record<What, Held[]>
  for (const h of handedOver()) held[h.what] = await h.held(m, ctx, userId, span)
  return held
}

/** What someone has that would be handed over. */
export async function holdings(ctx: Ctx, userId: number, span: LeaveSpan = {}) {
  const m = ctx.db.manager
  const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: userId } })
  if (!who) throw notFound('person')
  const hidden = await outOfReach(m, ctx, userId)
  return { name: who.name, ...(await heldBy(m, ctx, userId, span)), hidden: hidden!.n }
}

/** Hands over what someone has. For a departure the account is closed; for a leave all of it can be given back. */
export function handOver(
  ctx: Ctx,
  userId: number,
  input: { kind: 'leave' | 'departure'; from: Day; to: Day | null; gives: readonly Give[] },
): Promise<{ id: number; handedOver: number }> {
  return work(ctx, async (m) => {
    const who = await m.findOne(UserAccount, {
      select: { name: true, active: true, role: true, id: true },
      where: { id: userId },
      ...locked(m),
    })
    if (!who?.active) throw notFound('person who works here')
    if (input.kind === 'leave' && input.to && input.to < input.from) throw fieldFault('to', 'It would end before it begins')
    if (userId === ctx.actor.id && input.kind === 'departure')
      throw refused('own-departure', 'Another administrator has to close your account.')
    if (await m.existsBy(Absence, { userId, endedAt: IsNull() }))
      throw refused('absent-already', `${who.name} is away already. End that first.`)
    const active = new Set((await m.find(UserAccount, { select: { id: true }, where: { active: true } })).map((u) => u.id))
    input.gives.forEach((g, i) => {
      if (g.toId === userId || !active.has(g.toId)) throw fieldFault(`gives.${i}.toId`, 'Choose someone else who works here')
    })
    if (input.kind === 'departure') {
      const led = new Set(input.gives.filter((g) => g.what === 'lead').map((g) => g.subjectId))
      const left = await m.findOne(Matter, {
        select: { number: true, id: true },
        where: { leadId: userId, closedOn: IsNull(), id: Not(In(led.size ? [...led] : [0])) },
        order: { number: 'ASC' },
      })
      if (left) throw refused('lead-needed', `${left.number} would have no lead lawyer. Hand it over too.`)
    }
    const ahead = input.from > ctx.clock.today()
    const madeId = await insertRow(m, Absence, {
      userId,
      kind: input.kind,
      fromDay: input.from,
      toDay: input.kind === 'leave' ? input.to : null,
      madeBy: ctx.actor.id,
      madeAt: instant(ctx.clock.now()),
      gives: ahead ? JSON.stringify(input.gives) : null,
      begunAt: ahead ? null : instant(ctx.clock.now()),
    })
    if (ahead) {
      await audit(m, ctx, {
        kind: 'handed over',
        text: `${who.name}, ${input.kind} from ${showDay(input.from)}: planned, ${counted(input.gives.length, 'thing')} to be handed over then`,
        subject: 'user',
        subjectId: userId,
      })
      return { id: madeId, handedOver: 0 }
    }
    return begin(m, ctx, { id: madeId, userId, name: who.name, ...input })
  })
}

/** A leave or a departure takes effect: what was chosen is handed over, and whoever leaves has no account any more. */
async function begin(
  m: EntityManager,
  ctx: Ctx,
  input: { id: number; userId: number; name: string; kind: 'leave' | 'departure'; from: Day; to: Day | null; gives: readonly Give[] },
): Promise<{ id: number; handedOver: number }> {
  const { userId } = input
  const madeId = input.id
  const who = { name: input.name }
  const order = handedOver().map((h) => h.what)
  for (const g of [...input.gives].sort((a, b) => order.indexOf(a.what) - order.indexOf(b.what))) {
    const was = await give(m, ctx, userId, g, input.kind === 'leave')
    await m.insert(HandedOver, { absenceId: madeId, what: g.what, subjectId: g.subjectId, toId: g.toId, was: JSON.stringify(was) })
  }
  if (input.kind === 'departure') {
    await m.update(UserAccount, { id: userId }, { active: false, leftOn: input.from })
    await m.delete(Session, { userId })
    await leaveTeams(m, userId)
  }
  await tellAll(m, ctx, who.name, madeId, input.gives)
  await logByMatter(m, ctx, input.gives, who.name)
  await audit(m, ctx, {
    kind: 'handed over',
    text: `${who.name}, ${input.kind}: ${counted(input.gives.length, 'thing')} handed over`,
    subject: 'user',
    subjectId: userId,
    detail: { became: { from: input.from, to: input.to } },
  })
  return { id: madeId, handedOver: input.gives.length }
}

/**
 * Lets planned leaves and departures whose day has come take effect. What was done, closed or given away since the plan was made is
 * left out of it; the rest is handed over as planned.
 */
export async function beginAbsences(base: Omit<Ctx, 'actor'>): Promise<number> {
  const due = await absencesToBegin(base)
  for (const a of due) {
    const actor = await actorOf(base.db.manager, a.madeBy)
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    await work(ctx, async (m) => {
      if (!(await touched(m.update(Absence, { id: a.id, begunAt: IsNull(), endedAt: IsNull() }, { begunAt: instant(base.clock.now()) }))))
        return
      const held = await heldBy(m, ctx, a.userId, {})
      const planned = JSON.parse(a.gives) as Give[]
      const gives = planned.filter((g) => held[g.what].some((h) => h.id === g.subjectId))
      await begin(m, ctx, { ...a, gives })
    })
  }
  return due.length
}

async function tellAll(m: EntityManager, ctx: Ctx, from: string, absenceId: number, gives: readonly Give[]) {
  for (const toId of new Set(gives.map((g) => g.toId))) {
    const own = gives.filter((g) => g.toId === toId)
    const count = (w: What) => own.filter((g) => g.what === w).length
    await sendMail(m, ctx, {
      key: `handover ${absenceId} ${toId}`,
      to: toId,
      subject: `Handed over from ${from}`,
      body: `From ${from} you have now: ${counted(count('lead'), 'matter')} to lead, ${counted(count('team'), 'team')}, ${counted(count('date'), 'date')} and ${counted(count('task'), 'task')}${count('paper') + count('review') ? `, besides ${counted(count('paper'), 'paper')} checked out and ${counted(count('review'), 'draft')} to read` : ''}. They are on your calendar and in your list.`,
    })
  }
}

async function logByMatter(m: EntityManager, ctx: Ctx, gives: readonly Give[], from: string) {
  const byMatter = new Map<number, Give[]>()
  for (const g of gives) {
    const of = await matterOf(m, g)
    if (of?.matterId) byMatter.set(of.matterId, [...(byMatter.get(of.matterId) ?? []), g])
  }
  const names = new Map((await m.find(UserAccount, { select: { id: true, name: true } })).map((u) => [u.id, u.name]))
  for (const [matterId, own] of byMatter) {
    const to = [...new Set(own.map((g) => names.get(g.toId)!))].join(', ')
    const lead = own.some((g) => g.what === 'lead')
    await audit(m, ctx, {
      kind: 'team',
      text: `Handed over from ${from} to ${to}${lead ? ', the lead included' : ''}`,
      matterId,
      subject: 'matter',
      subjectId: matterId,
    })
  }
}

/** Someone is back. What still lies where it was handed returns; what was changed or done meanwhile stays. */
export function endLeave(ctx: Ctx, absenceId: number): Promise<{ returned: number; stayed: string[] }> {
  return work(ctx, async (m) => {
    const a = await lockedAbsence(m, absenceId)
    if (!a || a.endedAt) throw notFound('leave')
    if (!a.begunAt) {
      // It was only planned: nothing was handed over yet.
      await m.update(Absence, { id: absenceId }, { endedAt: instant(ctx.clock.now()) })
      await audit(m, ctx, { kind: 'handed over', text: `${a.name}: planned ${a.kind} taken back`, subject: 'user', subjectId: a.userId })
      return { returned: 0, stayed: [] }
    }
    if (a.kind !== 'leave') throw refused('departed', 'A departure is not taken back. Add the person anew.')
    const list = await m.find(HandedOver, {
      select: { id: true, what: true, subjectId: true, toId: true, was: true },
      where: { absenceId, givenBackAt: IsNull() },
      order: { id: 'ASC' },
    })
    const stayed: string[] = []
    let returned = 0
    for (const h of list) {
      if (await giveBack(m, a.userId, h)) {
        returned += 1
        await m.update(HandedOver, { id: h.id }, { givenBackAt: instant(ctx.clock.now()) })
      } else stayed.push(await nameOf(m, h))
    }
    await m.update(Absence, { id: absenceId }, { endedAt: instant(ctx.clock.now()) })
    await logByMatter(
      m,
      ctx,
      list.map((h) => ({ ...h, toId: a.userId })),
      'those who stood in',
    )
    await audit(m, ctx, {
      kind: 'handed over',
      text: `${a.name} is back: ${returned} returned, ${stayed.length} stayed`,
      subject: 'user',
      subjectId: a.userId,
    })
    return { returned, stayed }
  })
}
