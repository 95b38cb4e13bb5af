import { isDay, type Day } from '@heron/core/calendar'
import { rightsOfRole, type Right, type Role } from '@heron/contract'
import type { DataSource, EntityManager } from 'typeorm'

export interface Clock {
  now(): Date
  today(): Day
}

/** The clock of the machine, or one that goes on from the start of a fixed day. */
export function clock(fixed?: string): Clock {
  const began = Date.now()
  const start = fixed && isDay(fixed) ? new Date(`${fixed}T14:00:00Z`).getTime() : null
  const now = () => new Date(start === null ? Date.now() : start + (Date.now() - began))
  return { now, today: () => localDay(now()) }
}

function localDay(at: Date): Day {
  const two = (n: number) => String(n).padStart(2, '0')
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`
}

/** An instant as the database keeps it, in UTC with microseconds. */
export const instant = (at: Date) => at.toISOString().replace('T', ' ').replace('Z', '000')
/** An instant read from the database, as ISO 8601. */
export const isoOf = (stored: string) => `${stored.replace(' ', 'T')}Z`

/** Where contents of files are kept, by their hash. */
export interface Files {
  put(data: Uint8Array): Promise<string>
  get(hash: string): Promise<Buffer>
}

export interface Actor {
  id: number
  name: string
  role: Role
  mayOverride: boolean
  /** Matters from which the actor is screened, as read when the call came in. */
  screened?: readonly number[]
}

/** What every use case needs to know: who acts, when, on what database, and whether it may repeat. */
export interface Ctx {
  db: DataSource
  files: Files
  clock: Clock
  actor: Actor
  idempotency?: { key: string; bodyHash: string }
  /** A transaction already open, into which the act goes; used by imports that do many acts at once. */
  tx?: EntityManager
  /** Loading what happened long ago: nobody is written to about it. */
  quiet?: boolean
}

export const may = (actor: Actor, right: Right) => rightsOfRole[actor.role].includes(right)
