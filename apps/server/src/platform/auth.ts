import { hash, verify } from '@node-rs/argon2'
import { rightsOfRole, type Me, type Right } from '@heron/contract'
import { randomBytes } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { audit } from './audit'
import { instant, may, type Actor, type Clock } from './context'
import { touched } from './database'
import { Session } from './entities'
import { sha256 } from './files'
import { Problem } from './problem'
import { countTry, tryWasRight } from './sign-in-guard'
import { actorFrom, type SignedIn, accountByEmail, accountOf } from './queries'

const sessionHours = 14

/** argon2id with the library's recommended cost. */
export const hashPassword = (password: string) => hash(password)

export async function actorOf(m: EntityManager, id: number): Promise<Actor | null> {
  const found = await accountOf(m, id)
  return found && actorFrom(found)
}

/** The first of some people who still works here and has a right; null where none of them does. */
export async function firstWith(m: EntityManager, ids: readonly number[], right: Right): Promise<Actor | null> {
  for (const id of ids) {
    const actor = await actorOf(m, id)
    if (actor && may(actor, right)) return actor
  }
  return null
}

export const meOf = (s: SignedIn): Me => ({
  id: s.actor.id,
  name: s.actor.name,
  initials: s.initials,
  role: s.actor.role,
  rights: [...rightsOfRole[s.actor.role]],
  csrf: s.csrf,
  mayOverride: s.actor.mayOverride,
})

// Compared against when nobody has the address, so that a miss takes as long as a wrong password.
const nobody = hash(randomBytes(16).toString('hex'))

/** Signs in with a new token. Wrong tries are counted by account and machine, and held up for longer and longer. */
export async function signIn(
  db: DataSource,
  clock: Clock,
  email: string,
  password: string,
  address: string,
): Promise<SignedIn & { token: string }> {
  const asked = email.trim().toLowerCase()
  await countTry({ db, clock }, asked, address)
  const account = await accountByEmail(asked, db.manager)
  const right = await verify(account?.passwordHash ?? (await nobody), password)
  if (!account || !right) throw new Problem(401, 'wrong-sign-in', 'The e-mail address or the password is not right.')
  await tryWasRight({ db, clock }, account.id, asked, address)
  const token = randomBytes(32).toString('base64url')
  const csrf = randomBytes(32).toString('base64url')
  const now = clock.now()
  await db.transaction(async (m) => {
    await m.insert(Session, {
      tokenHash: sha256(token),
      csrf,
      userId: account.id,
      createdAt: instant(now),
      expiresAt: instant(new Date(now.getTime() + sessionHours * 3_600_000)),
    })
    await audit(m, { clock, actor: account }, { kind: 'signed in', text: 'Signed in', subject: 'user', subjectId: account.id })
  })
  return {
    actor: actorFrom(account),
    initials: account.initials,
    csrf,
    token,
  }
}

export const signOut = (db: DataSource, token: string) => touched(db.manager.delete(Session, { tokenHash: sha256(token) }))
export const signOutEverywhere = (db: DataSource, userId: number) => touched(db.manager.delete(Session, { userId }))
