import { forgetTries } from '../platform/sign-in-guard'
import type { PersonIn } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { MoreThanOrEqual, Not, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { hashPassword } from '../platform/auth'
import type { Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { differences } from '../people'
import { UserRate } from './entities'
import { UserAccount } from '../platform/shared-entities'
import { Session } from '../platform/entities'
import { endUsualRate } from './people-queries'

const columns = ({ mayOverride, ...p }: PersonIn) => ({ ...p, email: p.email.toLowerCase(), mayOverrideClearing: mayOverride })

async function addressFree(m: EntityManager, email: string, id: number) {
  if (await m.existsBy(UserAccount, { email: email.toLowerCase(), id: Not(id) }))
    throw fieldFault('email', 'Someone here has this address already')
}

export function makePerson(ctx: Ctx, { password, ...input }: PersonIn & { password: string }): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await addressFree(m, input.email, 0)
    const id = await insertRow(m, UserAccount, { ...columns(input), passwordHash: await hashPassword(password) })
    await audit(m, ctx, { kind: 'set up', text: `${input.name} works here as ${input.role}`, subject: 'user', subjectId: id })
    return { id }
  })
}

export function changePerson(ctx: Ctx, id: number, input: PersonIn): Promise<void> {
  return work(ctx, async (m) => {
    const was = await m.findOne(UserAccount, {
      select: { name: true, initials: true, email: true, role: true, title: true, dayGoalMinutes: true, id: true },
      where: { id },
      ...locked(m),
    })
    if (!was) throw notFound('person')
    await addressFree(m, input.email, id)
    if (
      was['role'] === 'administrator' &&
      input.role !== 'administrator' &&
      !(await m.existsBy(UserAccount, { role: 'administrator', active: true, id: Not(id) }))
    )
      throw fieldFault('role', 'The firm needs an administrator. Make someone else one first.')
    await m.update(UserAccount, id, columns(input))
    const { mayOverride: _over, ...became } = input
    await audit(m, ctx, { kind: 'set up', text: `${input.name} changed`, subject: 'user', subjectId: id, detail: differences(was, became) })
  })
}

export function setPassword(ctx: Ctx, id: number, password: string): Promise<void> {
  return work(ctx, async (m) => {
    const who = await m.findOne(UserAccount, {
      select: { name: true, email: true, id: true },
      where: { id },
      ...locked(m),
    })
    if (!who) throw notFound('person')
    await m.update(UserAccount, id, { passwordHash: await hashPassword(password) })
    await m.delete(Session, { userId: id })
    await forgetTries(m, who.email)
    await audit(m, ctx, { kind: 'set up', text: `${who.name} has a new password`, subject: 'user', subjectId: id })
  })
}

/** A rate from a day on. The usual one in force that day ends the day before, so that one is in force on every day. */
export function addRate(
  ctx: Ctx,
  userId: number,
  input: { from: Day; to: Day | null; rate: number; usual: boolean },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const who = await m.findOne(UserAccount, {
      select: { name: true, id: true },
      where: { id: userId },
      ...locked(m),
    })
    if (!who) throw notFound('person')
    if (input.to && input.to < input.from) throw fieldFault('to', 'It would end before it begins')
    if (input.usual) {
      if (await m.existsBy(UserRate, { userId, usual: true, fromDay: MoreThanOrEqual(input.from) }))
        throw fieldFault('from', 'There is a rate from this day or a later one already')
      await endUsualRate(m, input.from, userId)
    }
    const madeId = await insertRow(m, UserRate, { userId, fromDay: input.from, toDay: input.to, rate: input.rate, usual: input.usual })
    await audit(m, ctx, {
      kind: 'set up',
      text: `Rate of ${who.name} from ${input.from}`,
      subject: 'user',
      subjectId: userId,
      detail: { became: input },
    })
    return { id: madeId }
  })
}
