import type { Part, Right } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import type { EntityManager, EntitySchema } from 'typeorm'
import type { Ctx } from './context'

/** Work without anyone who asks for it: the clock of the firm, its files and its database. */
export type Base = Omit<Ctx, 'actor'>

/** What acts of the log may be about. Each area adds its own by declaring them, so that none is written that nobody has listed. */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface ActSubjects {}
export type ActSubject = keyof ActSubjects

export interface Subject {
  /** The part of a matter that such an act belongs to; null where it never belongs to one. */
  part: Part | null
  /** Who sees an act that belongs to no matter: whoever has the right, and its author. */
  beyond: Right | 'contact' | 'author'
}

export interface JobKind {
  /** The thing that is made or sent, as people call it. */
  noun: string
  run: (ctx: Ctx, payload: never, progress: (percent: number) => Promise<void>) => Promise<unknown>
  /** Seconds to wait after each try that failed; after the last there is no other. */
  waits: readonly number[]
  /** What is done side by side with other work: papers that someone waits for, words that are taken out of many. */
  lane?: 'papers' | 'words' | 'bills' | 'figures'
}
/** A kind of job with the type of its payload, which is plain data. */
export const jobKind = <P>(kind: {
  noun: string
  waits: readonly number[]
  lane?: 'papers' | 'words' | 'bills' | 'figures'
  run: (ctx: Ctx, payload: P, progress: (percent: number) => Promise<void>) => Promise<unknown>
}): JobKind => kind as unknown as JobKind

/** What works something out fails for a reason that seldom passes by itself; a few tries are for a crash or a busy machine. */
export const aFewTries = [2, 30] as const
/** What hangs on another machine is tried for three days. */
export const forDays = [10, 60, 300, 900, 3600, 2 * 3600, 4 * 3600, 8 * 3600, 12 * 3600, 24 * 3600, 24 * 3600] as const

export interface Schedule {
  /** Says what is done, for the log; one process at a time does it. */
  name: string
  /** When, as cron writes it (minute, hour, day, month, weekday), by the machine's clock. */
  at: string
  /** Also when the server starts, for what was missed meanwhile. */
  atStart?: boolean
  run: (base: Base, warn: (what: object, text: string) => void) => Promise<unknown>
}

/** Something by a few letters, for *find or do*. */
export interface Found {
  kind: 'matter' | 'person' | 'paper' | 'bill'
  id: number
  title: string
  hint: string
}

/** What is still open on a matter that is to be closed. */
export interface OpenEnd {
  key: string
  text: string
  /** Money of a client's in trust is settled before the file is put away; the rest is asked for. */
  blocks: boolean
}

/** What one who leaves, or is on leave, hands to others. */
export type What = 'lead' | 'team' | 'date' | 'task' | 'paper' | 'review'
export interface Held {
  id: number
  text: string
  hint: string
}
/** The days of a leave; dates and tasks of other days stay where they are. */
export interface LeaveSpan {
  from?: Day | undefined
  to?: Day | undefined
}
export interface HandingOver {
  what: What
  /** Later ones of the same matter build on earlier ones: work first, then the lead, then the team. */
  order: number
  held: (m: EntityManager, ctx: Ctx, userId: number, span: LeaveSpan) => Promise<Held[]>
  matterOf: (m: EntityManager, subjectId: number) => Promise<{ matterId: number | null; number: string | null } | null>
  nameOf: (m: EntityManager, subjectId: number) => Promise<string | null>
  /** Hands one thing over and says how it was, so that it can be given back. Refused where it has changed meanwhile. */
  give: (m: EntityManager, ctx: Ctx, given: { fromId: number; toId: number; subjectId: number; stays: boolean }) => Promise<object>
  /** Gives it back where it still lies as it was handed over; tells whether it did. */
  giveBack: (m: EntityManager, given: { fromId: number; toId: number; subjectId: number; was: string }) => Promise<boolean>
}

/** What waits on the reader, and what the waterline shows; each area says its own part of both. */
export interface Waiting {
  preBills: { count: number; total: number } | null
  approved: { count: number; total: number } | null
  sheets: number | null
  covers: number
  agree: number
  conflicts: number
  enquiries: number
  given: number
  stuck: number
  /** E-mail that waits to be filed, and drafts that colleagues ask one to read. */
  mail: number
  reviews: number
  /** What recurs and could not be entered on its day. */
  stoppedJournals: number
  stoppedBills: number
  stoppedCosts: number
}
export interface Waterline {
  timer: { id: number; matterId: number | null; matter: string; text: string; seconds: number; running: boolean; overnight: boolean } | null
  todayMinutes: number
  goalMinutes: number
  next: { title: string; matter: string; matterId: number; courtDays: number } | null
  drafts: number
  trust: { at: string | null; ok: boolean } | null
}

/** What a jurisdiction levies on a receipt into trust; owed to nobody where it is the firm's own. */
export interface ReceiptFee {
  receiptId: number
  receiptNo: number
  matterId: number
  day: Day
  amount: number
  owedTo: string
}

export interface SqlMigration {
  /** Number and name; they run in the order of the numbers, whichever area they belong to. */
  name: string
  file: URL
}

/** All that an area of the firm's work brings along. It is handed over once, in `areas.ts`; nothing else needs to know of it. */
export interface Area<Routes extends object = object> {
  name: string
  entities?: readonly (new () => object)[] | readonly EntitySchema[]
  migrations?: readonly SqlMigration[]
  /** Tables to which the application may only add. */
  appendOnly?: readonly string[]
  /** Tables that triggers keep and the application only reads. */
  kept?: readonly string[]
  routes: Routes
  jobs?: Readonly<Record<string, JobKind>>
  schedules?: readonly Schedule[]
  /** What its acts may be about, and who sees them. */
  acts?: Partial<Record<ActSubject, Subject>>
  /** Kinds of its acts that tell an amount of money. */
  moneyActs?: readonly string[]
  /** What it finds by a few letters, best first. */
  find?: (ctx: Ctx, term: string) => Promise<Found[]>
  /** What it has open on a matter that is to be closed, what it does when that is done, and how many dates come back on reopening. */
  openEnds?: (m: EntityManager, ctx: Ctx, matterId: number) => Promise<(OpenEnd | null)[]>
  atClosing?: (m: EntityManager, ctx: Ctx, matterId: number) => Promise<void>
  atReopening?: (m: EntityManager, ctx: Ctx, matter: { id: number; closedOn: Day }) => Promise<number>
  /** What it does when a receipt into trust is posted that has an administration fee, and when its sheet is reversed. */
  atReceipt?: (m: EntityManager, ctx: Ctx, fee: ReceiptFee) => Promise<void>
  atReceiptReversed?: (m: EntityManager, ctx: Ctx, receiptId: number, day: Day, reason: string) => Promise<void>
  /** Tables, by `matter_id`, whose rows make a matter one that was worked on; such a one is closed, never deleted. */
  work?: readonly string[]
  /** Takes away what it keeps of a matter that never had work on it. */
  removeMatter?: (m: EntityManager, matterId: number) => Promise<unknown>
  handsOver?: readonly HandingOver[]
  /** Fields of templates, by their paths, that it writes into the record where an answer is to be kept there. */
  writes?: Readonly<Record<string, (m: EntityManager, ctx: Ctx, at: { matterId: number; clientId: number }, text: string) => Promise<void>>>
  waiting?: (ctx: Ctx) => Promise<Partial<Waiting>>
  waterline?: (ctx: Ctx) => Promise<Partial<Waterline>>
}

/** Says that something is an area, and keeps the type of its routes. */
export const area = <Routes extends object>(own: Area<Routes>): Area<Routes> => own

let house: readonly Area[] | null = null
/** Called once, where the application is put together. */
export const assemble = (areas: readonly Area[]) => void (house = areas)
/** All areas. The platform and what serves several areas ask them in turn. */
export function areas(): readonly Area[] {
  if (!house) throw new Error('The areas are not put together yet: import areas.ts first')
  return house
}
export const gather = <T>(of: (own: Area) => readonly T[] | undefined): T[] => areas().flatMap((own) => of(own) ?? [])
