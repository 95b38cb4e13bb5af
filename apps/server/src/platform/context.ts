import { showMoney } from '@heron/core/money'
import { hourIn, isDay, spanOf, type Day } from '@heron/core/calendar'
import { rightsOfRole, type Right, type Role } from '@heron/contract'
import type { Readable } from 'node:stream'
import type { DataSource, EntityManager } from 'typeorm'

export interface Clock {
  now(): Date
  /** The day in the firm's time zone, wherever the server stands. */
  today(): Day
  /** The hour and minute there, `HH:MM`. */
  time(): string
  /** The day and hour there of an instant, as the database keeps it or as ISO 8601: an evening in New York is the next day in UTC. */
  at(instant: string): { day: Day; time: string }
  /** The instant at which a day, or an hour of it (`HH:MM`), begins there. */
  beginOf(day: Day, time?: string): Date
  /** It stands on a fixed day, in UTC, as for tests and for work that is played. */
  fixed?: boolean
  /** Days begin in this zone from now on. */
  standIn?(zone: string): void
}

/** The clock of the machine in the zone of the firm, or one that goes on from the start of a fixed day. */
export function clock(fixed?: string): Clock {
  const began = Date.now()
  const start = fixed && isDay(fixed) ? new Date(`${fixed}T14:00:00Z`).getTime() : null
  let zone = start === null ? 'America/New_York' : 'UTC'
  const now = () => new Date(start === null ? Date.now() : start + (Date.now() - began))
  // Worked out once a minute: an import asks for the day on each of its rows.
  let known = { minute: -1, zone, at: { day: '1970-01-01' as Day, time: '' } }
  const here = () => {
    const at = now()
    const minute = Math.floor(at.getTime() / 60_000)
    if (known.minute !== minute || known.zone !== zone) known = { minute, zone, at: hourIn(at.toISOString(), zone) }
    return known.at
  }
  return {
    now,
    today: () => here().day,
    time: () => here().time,
    at: (stored) => hourIn(isoOf(stored), zone),
    beginOf: (day, time = '00:00') => new Date(spanOf(day, time, 0, zone).from),
    fixed: start !== null,
    standIn: (of) => {
      if (start === null) zone = of
    },
  }
}

/** A clock that stands, as for work that is played or tried on a day: at an hour of that day in every zone of the United States. */
export const stoppedClock = (day: Day, time = '15:00'): Clock => ({
  now: () => new Date(`${day}T${time}:00Z`),
  today: () => day,
  time: () => time,
  at: (stored) => hourIn(isoOf(stored), 'UTC'),
  beginOf: (day, time = '00:00') => new Date(`${day}T${time}:00Z`),
  fixed: true,
})

/** An instant as the database keeps it, in UTC with microseconds. */
export const instant = (at: Date) => at.toISOString().replace('T', ' ').replace('Z', '000')
/** An instant read from the database, as ISO 8601. */
export const isoOf = (stored: string) => (stored.endsWith('Z') ? stored : `${stored.replace(' ', 'T')}Z`)

/** Where contents of files are kept, by their hash: one port, behind which they lie in a folder or elsewhere. */
export interface Files {
  put(data: Uint8Array): Promise<string>
  has(hash: string): Promise<boolean>
  get(hash: string): Promise<Buffer>
  /** The contents piece by piece, so that a large file needs no more memory than a small one. */
  stream(hash: string): Readable
  /** Adds a piece at the end of a file that is on its way in, as it comes; refuses one that does not join on. Tells how much is there. */
  append(incoming: string, at: number, data: Readable): Promise<number>
  /** Makes the file that has come whole one that is kept, without reading it into memory. */
  settle(incoming: string): Promise<{ hash: string; size: number; head: Buffer }>
  /** Throws away what never became whole. */
  discard(incoming: string): Promise<void>
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
  /** The caller's key; each unit of work of one call is a part of what was asked, and done once by itself. */
  idempotency?: { key: string; bodyHash: string; parts: number }
  /** A transaction already open, into which the act goes; used by imports that do many acts at once. */
  tx?: EntityManager
  /** Loading what happened long ago: nobody is written to about it. */
  quiet?: boolean
}

export const may = (actor: Actor, right: Right) => rightsOfRole[actor.role].includes(right)

/** Amounts as a person may be told them: those who see no money learn that there is something, not how much. */
export const amountFor = (actor: Actor) => (cents: number) => (may(actor, 'bills.see') ? showMoney(cents) : 'an amount')
