import { addCourtDays, addDays, type CourtCalendar, type Day } from '../calendar'

/** From what a step's day is counted. Steps are named by their keys, docket dates by what they are called (`trial`). */
export type Anchor =
  | { kind: 'start' }
  | { kind: 'opened' }
  | { kind: 'step'; step: string }
  | { kind: 'done'; step: string }
  | { kind: 'docket'; name: string }

export interface StepDue {
  /** Whole number, 0 or more. */
  count: number
  unit: 'calendar' | 'business'
  direction: 'after' | 'before'
  anchor: Anchor
}

/** To whom a step falls: whoever starts the procedure, whoever it is given to, a role on the matter, or one person. */
export type AssignTo = { kind: 'starter' } | { kind: 'given' } | { kind: 'role'; role: string } | { kind: 'person'; userId: number }

export interface Step {
  /** Stays the same when steps are put in another order. */
  key: string
  text: string
  assignTo: AssignTo
  priority: 'high' | 'normal' | 'low'
  estimateMinutes: number | null
  /** Calendar days before it is due. */
  remindDays: number | null
  /** Steps that must be done first; until then it shows as waiting. */
  waitsFor: readonly string[]
  due: StepDue
}

export interface PlannedStep {
  key: string
  /** Null where its docket date is not known yet. */
  due: Day | null
  /** `3 business days after “File the notice”`. */
  how: string
  /** Counted from a completion that has not happened yet; it follows when it does. */
  provisional: boolean
}

/** What is known when a procedure is dated. */
export interface Known {
  start: Day
  opened: Day
  /** Days of docket dates by the name the procedure gives them. */
  docket: Readonly<Record<string, Day | null>>
  /** Days on which steps were done, by key. */
  done: Readonly<Record<string, Day>>
  /** Days of steps that were set by hand or are past changing; what is counted from them follows these. */
  fixed?: Readonly<Record<string, Day>>
}

const anchorStep = (s: Step): string | null => (s.due.anchor.kind === 'step' || s.due.anchor.kind === 'done' ? s.due.anchor.step : null)

/** Puts what is wrong with a procedure into words; empty when every step can be dated and done. */
export function faultsOfSteps(steps: readonly Step[]): string[] {
  const faults: string[] = []
  const place = new Map(steps.map((s, i) => [s.key, i + 1]))
  if (place.size !== steps.length) faults.push('Two steps have the same key')
  for (const [i, s] of steps.entries()) {
    if (!s.text.trim()) faults.push(`Step ${i + 1}: say what is to be done`)
    if (!Number.isInteger(s.due.count) || s.due.count < 0) faults.push(`Step ${i + 1}: give a whole number of days, 0 or more`)
    const from = anchorStep(s)
    if (from !== null && !place.has(from)) faults.push(`Step ${i + 1} is counted from a step that is not there`)
    if (s.due.anchor.kind === 'docket' && !s.due.anchor.name.trim()) faults.push(`Step ${i + 1}: name the docket date it is counted from`)
    for (const w of s.waitsFor) if (!place.has(w)) faults.push(`Step ${i + 1} waits for a step that is not there`)
  }
  // A step may neither be counted from itself nor wait for itself, over however many others.
  const needs = new Map(steps.map((s) => [s.key, [...s.waitsFor, ...(anchorStep(s) === null ? [] : [anchorStep(s)!])]]))
  for (const [i, s] of steps.entries()) {
    const seen = new Set<string>()
    const todo = [...(needs.get(s.key) ?? [])]
    while (todo.length) {
      const at = todo.pop()!
      if (at === s.key) {
        faults.push(`Step ${i + 1} comes round to itself: look at what it is counted from and waits for`)
        break
      }
      if (seen.has(at)) continue
      seen.add(at)
      todo.push(...(needs.get(at) ?? []))
    }
  }
  return faults
}

/** When a step is due, as the office reads it. */
export function showTiming(due: StepDue, textOf: (key: string) => string = (k) => k): string {
  const { anchor, count, unit, direction } = due
  const from = {
    start: 'the start',
    opened: 'the day the matter was opened',
    step: `“${'step' in anchor ? textOf(anchor.step) : ''}”`,
    done: `“${'step' in anchor ? textOf(anchor.step) : ''}” is done`,
    docket: 'name' in anchor ? `the ${anchor.name}` : '',
  }[anchor.kind]
  if (count === 0)
    return anchor.kind === 'start'
      ? 'on the day it starts'
      : anchor.kind === 'done'
        ? `when ${from}`
        : anchor.kind === 'opened'
          ? `on ${from}`
          : `on the day of ${from}`
  return `${count} ${unit} day${count === 1 ? '' : 's'} ${direction} ${from}`
}

/** A day so many calendar or business days after or before another, itself not counted. */
export function dueFrom(base: Day, due: Pick<StepDue, 'count' | 'unit' | 'direction'>, calendar: CourtCalendar): Day {
  const n = due.direction === 'after' ? due.count : -due.count
  return due.unit === 'calendar' ? addDays(base, n) : addCourtDays(calendar, base, n)
}

/** The actual dates of a procedure by what is known. Throws RangeError when its steps have faults. */
export function planProcedure(steps: readonly Step[], known: Known, calendar: CourtCalendar): PlannedStep[] {
  const faults = faultsOfSteps(steps)
  if (faults.length) throw new RangeError(faults.join('; '))
  const byKey = new Map(steps.map((s) => [s.key, s]))
  const dated = new Map<string, { due: Day | null; provisional: boolean }>()
  const textOf = (key: string) => byKey.get(key)?.text ?? key
  const dateOf = (key: string): { due: Day | null; provisional: boolean } => {
    const there = dated.get(key)
    if (there) return there
    const { due } = byKey.get(key)!
    const base = baseOf(due.anchor)
    const fixed = known.fixed?.[key]
    const own = fixed
      ? { due: fixed, provisional: false }
      : { due: base.due && dueFrom(base.due, due, calendar), provisional: base.provisional }
    dated.set(key, own)
    return own
  }
  const baseOf = (anchor: Anchor): { due: Day | null; provisional: boolean } => {
    switch (anchor.kind) {
      case 'start':
        return { due: known.start, provisional: false }
      case 'opened':
        return { due: known.opened, provisional: false }
      case 'docket':
        return { due: known.docket[anchor.name] ?? null, provisional: false }
      case 'step':
        return dateOf(anchor.step)
      case 'done': {
        const day = known.done[anchor.step]
        return day ? { due: day, provisional: false } : { due: dateOf(anchor.step).due, provisional: true }
      }
    }
  }
  return steps.map((s) => ({ key: s.key, ...dateOf(s.key), how: showTiming(s.due, textOf) }))
}

/** A step that was started, as it stands now. */
export interface RunningStep {
  key: string
  due: Day | null
  done: boolean
  /** Its day was changed by hand; it stays, and what is counted from it follows it. */
  byHand: boolean
}

export interface Following {
  key: string
  was: Day | null
  becomes: Day | null
  why: string
}

/**
 * What dates of a running procedure would follow, now that an anchor moved. Steps that are done stay, and so do those
 * set by hand. Applying the answer and asking again gives nothing more.
 */
export function followAnchors(steps: readonly Step[], running: readonly RunningStep[], known: Known, calendar: CourtCalendar): Following[] {
  const state = new Map(running.map((r) => [r.key, r]))
  const fixed: Record<string, Day> = {}
  for (const r of running) if ((r.byHand || r.done) && r.due) fixed[r.key] = r.due
  return planProcedure(steps, { ...known, fixed }, calendar).flatMap((p): Following[] => {
    const now = state.get(p.key)
    if (!now || now.done || now.byHand || now.due === p.due || p.due === null) return []
    return [{ key: p.key, was: now.due, becomes: p.due, why: p.how }]
  })
}

/** Names of docket dates from which steps are counted, each once. */
export const docketAnchors = (steps: readonly Step[]): string[] => [
  ...new Set(steps.flatMap((s) => (s.due.anchor.kind === 'docket' ? [s.due.anchor.name] : []))),
]

/** In which part of a list of tasks a day stands. `this week` goes to Sunday. */
export type Bucket = 'overdue' | 'today' | 'tomorrow' | 'this week' | 'later' | 'no date' | 'done'
export const buckets: readonly Bucket[] = ['overdue', 'today', 'tomorrow', 'this week', 'later', 'no date', 'done']
/** Under which head a task stands by when it is due; `weekday` is today's, 1 Monday to 7 Sunday. */
export function bucketOf(due: Day | null, done: boolean, today: Day, weekday: number): Bucket {
  if (done) return 'done'
  if (!due) return 'no date'
  if (due < today) return 'overdue'
  if (due === today) return 'today'
  if (due === addDays(today, 1)) return 'tomorrow'
  return due <= addDays(today, 7 - weekday) ? 'this week' : 'later'
}
