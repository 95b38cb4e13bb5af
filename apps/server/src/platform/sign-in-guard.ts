import { In, type EntityManager } from 'typeorm'
import type { Ctx } from './context'
import { instant } from './context'
import { locked, work } from './database'
import { Problem } from './problem'
import { SignInGuard, SignInKnown } from './entities'
import { type Base, countedTries, dropOldTries, dropTries, knownHere, seconds, takeOneTry } from './queries'

/** Wrong tries that are judged without delay, and how the delay grows after them: doubled with each, up to the longest. */
interface Allowance {
  free: number
  firstSeconds: number
}
const longestSeconds = 15 * 60
/** Tries are forgotten when there was none for so long. */
const forgottenAfter = 60 * 60

/** Someone who mistypes is held up on that machine only; an account tried from many machines, and a machine that tries many accounts, later. */
const allowances = {
  pair: { free: 6, firstSeconds: 30 },
  account: { free: 40, firstSeconds: 30 },
  machine: { free: 100, firstSeconds: 5 },
} satisfies Record<string, Allowance>
const delayOf = (tries: number, a: Allowance) =>
  tries < a.free ? 0 : Math.min(longestSeconds, a.firstSeconds * 2 ** Math.min(20, tries - a.free))

/**
 * Counts a try to sign in before its password is judged, in one transaction, so that tries at the same moment are counted one
 * after another. Throws where one of its counts has used up its free tries and its delay is not over. A machine from which the
 * account has signed in before is not held up by what others try from it.
 */
export async function countTry(base: Base, email: string, address: string): Promise<void> {
  const wait = await work({ ...base } as Ctx, async (m) => {
    const now = base.clock.now()
    const known = await knownHere(m, email, address)
    const counts: [string, Allowance][] = [[`pair ${address} ${email}`, allowances.pair]]
    if (!known) counts.push([`account ${email}`, allowances.account], [`machine ${address}`, allowances.machine])
    // In one order, so that two tries never wait for each other.
    counts.sort(([a], [b]) => (a < b ? -1 : 1))
    const names = counts.map(([name]) => name)
    for (const name of names) await countedTries(m, name, now)
    const found = await m.find(SignInGuard, {
      select: { name: true, tries: true, lastAt: true, freeAt: true },
      where: { name: In(names) },
      order: { name: 'ASC' },
      ...locked(m),
    })
    const forgotten = instant(new Date(now.getTime() - seconds(forgottenAfter)))
    const held = found.filter((f) => f.lastAt >= forgotten && f.freeAt > f.lastAt && f.freeAt > instant(now))
    if (held.length) return Math.max(...held.map((h) => new Date(`${h.freeAt.replace(' ', 'T')}Z`).getTime() - now.getTime()))
    for (const f of found) {
      const tries = f.lastAt < forgotten ? 1 : f.tries + 1
      const free = new Date(now.getTime() + seconds(delayOf(tries, counts.find(([name]) => name === f.name)![1])))
      await m.update(SignInGuard, { name: f.name }, { tries, lastAt: instant(now), freeAt: instant(free) })
    }
    return 0
  })
  if (!wait) return
  const minutes = Math.ceil(wait / 60_000)
  throw new Problem(
    429,
    'too-many-attempts',
    `Too many wrong tries. Wait ${minutes <= 1 ? 'a minute' : `${minutes} minutes`}, or ask your administrator for a new password.`,
  )
}

/** Someone signed in rightly: what was counted against the account on that machine is taken back, and the machine is known. */
export async function tryWasRight(base: Base, userId: number, email: string, address: string): Promise<void> {
  await work({ ...base } as Ctx, async (m) => {
    await m.delete(SignInGuard, { name: `pair ${address} ${email}` })
    await takeOneTry(m, email, address)
    await m.upsert(SignInKnown, { userId, address, lastAt: instant(base.clock.now()) }, ['userId', 'address'])
    await dropOldTries(m, base)
  })
}

/** A new password given by an administrator ends the delays of that account, wherever they came from. */
export async function forgetTries(m: EntityManager, email: string): Promise<void> {
  await dropTries(m, email)
}
