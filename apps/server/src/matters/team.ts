import { counted } from '@heron/core/words'
import { presetOfRole, type Grants } from '@heron/contract'
import { In, IsNull, type EntityManager } from 'typeorm'
import { requireKept, requireMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertNew, locked, touched, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { MatterFollow, MatterScreen, MatterTeam } from './entities'
import { Matter, UserAccount } from '../platform/shared-entities'
import { Timer } from '../time'
import { Task } from '../tasks'
import { DocketEntry } from '../docket'
import { dropMentions, keepScreen, lockedAccess, matterAndDates, onTeam, screenOf } from './team-queries'

export interface TeamIn {
  userId: number
  role: 'lead' | 'lawyer' | 'paralegal' | 'assistant' | 'outside'
  rate: number | null
  keeps?: boolean | undefined
  grants?: Grants | undefined
}

async function person(m: EntityManager, userId: number, path = 'userId') {
  const who = await m.findOne(UserAccount, { select: { name: true, role: true, active: true, id: true }, where: { id: userId } })
  if (!who?.active) throw fieldFault(path, 'Choose someone who works here')
  return who
}

const columnsOf = (g: Grants) => ({ atFile: g.file, atDocket: g.docket, atPapers: g.papers, atMoney: g.money, atTrust: g.trust })

/** Puts someone on the team, in a transaction that already checked who may. Whoever is added is told. */
export async function putOnTeam(m: EntityManager, ctx: Ctx, matterId: number, input: TeamIn, since: string): Promise<string> {
  const who = await person(m, input.userId)
  const screened = await m.existsBy(MatterScreen, { matterId, userId: input.userId })
  if (screened) throw fieldFault('userId', `${who.name} is screened from this matter. Take the screen down first.`)
  const before = await m.findOne(MatterTeam, {
    select: { role: true, keeps: true, rate: true, matterId: true, userId: true },
    where: { matterId, userId: input.userId },
    ...locked(m),
  })
  const lead = input.role === 'lead'
  const own = {
    role: input.role,
    keeps: lead || (input.keeps ?? Boolean(before?.keeps)),
    rate: input.rate,
    ...columnsOf(lead ? presetOfRole.lawyer : (input.grants ?? presetOfRole[who.role])),
  }
  if (before) await m.update(MatterTeam, { matterId, userId: input.userId }, own)
  else {
    await m.insert(MatterTeam, { matterId, userId: input.userId, since, ...own })
    if (input.userId !== ctx.actor.id) {
      const matter = await matterAndDates(m, ctx, matterId)
      await sendMail(m, ctx, {
        key: `team ${matterId} ${input.userId} ${ctx.clock.now().getTime()}`,
        to: input.userId,
        subject: `You are on ${matter!.number}, ${matter!.name}`,
        body: `${ctx.actor.name} put you on the team of ${matter!.number}, ${matter!.name}, as ${input.role}.\n\n${matter!.dates ? `${matter!.dates} coming dates are on your calendar.` : 'It has no coming dates yet.'}`,
        matterId,
      })
    }
  }
  return who.name
}

/** Adds someone to the team, or changes role, rate and access. A new lead takes the place of the old, who stays on the team. */
export function setTeam(ctx: Ctx, matterId: number, input: TeamIn): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, matterId)
    await giveTeam(m, ctx, matter, input)
  })
}

/** As `setTeam`, in a transaction that already checked who may. */
export async function giveTeam(m: EntityManager, ctx: Ctx, matter: { id: number; leadId: number }, input: TeamIn): Promise<void> {
  const matterId = matter.id
  if (matter.leadId === input.userId && input.role !== 'lead') throw fieldFault('role', 'Make someone else the lead first')
  const name = await putOnTeam(m, ctx, matterId, input, ctx.clock.today())
  if (input.role === 'lead' && matter.leadId !== input.userId) {
    await m.update(Matter, { id: matterId }, { leadId: input.userId })
    await m.update(MatterTeam, { matterId, userId: matter.leadId }, { role: 'lawyer' })
  }
  await audit(m, ctx, {
    kind: 'team',
    text: `${name} is on the team as ${input.role}${input.keeps ? ' and keeps the matter' : ''}`,
    matterId,
    subject: 'matter',
    subjectId: matterId,
    detail: { became: { grants: input.grants ?? 'as usual for the role' } },
  })
}

export function leaveTeam(ctx: Ctx, matterId: number, userId: number): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, matterId)
    await takeOffTeam(m, ctx, matter, userId)
  })
}

/** As `leaveTeam`, in a transaction that already checked who may. */
export async function takeOffTeam(m: EntityManager, ctx: Ctx, matter: { id: number; leadId: number }, userId: number): Promise<void> {
  const matterId = matter.id
  if (matter.leadId === userId) throw refused('lead-stays', 'The lead lawyer stays on the team. Make someone else the lead first.')
  const who = await onTeam(m, matterId, userId)
  if (!who) throw notFound('person on this team')
  await m.delete(MatterTeam, { matterId, userId })
  await audit(m, ctx, { kind: 'team', text: `${who.name} is off the team`, matterId, subject: 'matter', subjectId: matterId })
}

export function setAccess(ctx: Ctx, matterId: number, staff: Grants): Promise<void> {
  return work(ctx, async (m) => {
    await requireKept(m, ctx, matterId)
    const was = await lockedAccess(m, matterId)
    await m.update(
      Matter,
      { id: matterId },
      {
        staffFile: staff.file,
        staffDocket: staff.docket,
        staffPapers: staff.papers,
        staffMoney: staff.money,
        staffTrust: staff.trust,
        access: staff.file ? 'firm' : 'team',
      },
    )
    await audit(m, ctx, {
      kind: 'access',
      text: staff.file ? 'Access of all staff changed' : 'Kept to the team',
      matterId,
      subject: 'matter',
      subjectId: matterId,
      detail: { was, became: staff },
    })
  })
}

/** Shuts a person out of a matter, everywhere, also off its team and what was given to them there. */
export function screenPerson(ctx: Ctx, matterId: number, userId: number, reason = ''): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, matterId)
    await raiseScreen(m, ctx, matter, userId, reason)
  })
}

/** The screen itself, in the transaction of whoever checked who may raise it. */
export async function raiseScreen(
  m: EntityManager,
  ctx: Ctx,
  matter: OpenMatter,
  userId: number,
  reason: string,
): Promise<{ name: string; fresh: boolean; moved: string }> {
  const matterId = matter.id
  if (matter.leadId === userId)
    throw fieldFault('userId', `The lead lawyer of ${matter.number} cannot be screened from it. Change the lead first.`)
  const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: userId } })
  if (!who) throw notFound('person')
  const before = await m.existsBy(MatterScreen, { matterId, userId })
  await m.delete(MatterTeam, { matterId, userId })
  await m.delete(MatterFollow, { matterId, userId })
  await dropMentions(m, matterId, userId)
  await m.update(Timer, { matterId, userId }, { matterId: null })
  // Work that lay with them goes back to the lead, who gives it out anew.
  const tasks = await touched(m.update(Task, { matterId, assigneeId: userId, doneAt: IsNull() }, { assigneeId: matter.leadId }))
  const dates = await touched(
    m.update(DocketEntry, { matterId, responsibleId: userId, mark: In(['open', 'in hand']) }, { responsibleId: matter.leadId }),
  )
  const moved = tasks + dates ? `${counted(tasks, 'task')} and ${counted(dates, 'date')}` : ''
  await keepScreen(m, ctx, matterId, userId, reason)
  await audit(m, ctx, {
    kind: 'screened',
    text: `${who.name} screened from this matter${reason ? `: ${reason}` : ''}${moved ? `; ${moved} are with the lead now` : ''}`,
    matterId,
    subject: 'matter',
    subjectId: matterId,
  })
  return { name: who.name, fresh: !before, moved }
}

export function unscreen(ctx: Ctx, matterId: number, userId: number): Promise<void> {
  return work(ctx, async (m) => {
    await requireKept(m, ctx, matterId)
    const who = await screenOf(m, matterId, userId)
    if (!who) throw notFound('screen')
    await m.delete(MatterScreen, { matterId, userId })
    await audit(m, ctx, { kind: 'screened', text: `Screen of ${who.name} taken down`, matterId, subject: 'matter', subjectId: matterId })
  })
}

export function follow(ctx: Ctx, matterId: number, on: boolean): Promise<void> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId)
    if (on) await insertNew(m, MatterFollow, { matterId, userId: ctx.actor.id })
    else await m.delete(MatterFollow, { matterId, userId: ctx.actor.id })
  })
}
