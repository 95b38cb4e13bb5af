import { addCourtDays, addDays, type CourtCalendar, type Day } from '../calendar'

/** When a step is due: so many days after or before the day the procedure starts, or another step. */
export interface StepTiming {
  anchor: { kind: 'start' } | { kind: 'step'; step: number }
  /** Whole number, 0 or more. */
  count: number
  unit: 'calendar' | 'business'
  direction: 'after' | 'before'
}

export interface PlannedStep {
  index: number
  due: Day
  /** `3 business days after step 2`. */
  how: string
}

/** Puts what is wrong with a procedure's timing into words; empty when every step can be dated. */
export function faultsOfSteps(steps: readonly StepTiming[]): string[] {
  const faults: string[] = []
  steps.forEach((s, i) => {
    if (!Number.isInteger(s.count) || s.count < 0) faults.push(`Step ${i + 1}: give a whole number of days, 0 or more`)
    if (s.anchor.kind === 'step' && !steps[s.anchor.step]) faults.push(`Step ${i + 1} is counted from a step that is not there`)
  })
  steps.forEach((_, i) => {
    const seen = new Set<number>()
    let at: number | null = i
    while (at !== null) {
      if (seen.has(at)) {
        faults.push(`Step ${i + 1} is counted from itself`)
        return
      }
      seen.add(at)
      const anchor: StepTiming['anchor'] | undefined = steps[at]?.anchor
      at = anchor?.kind === 'step' ? anchor.step : null
    }
  })
  return faults
}

/** Days whatever the unit and direction, as the office reads them. */
export function showTiming(t: StepTiming): string {
  const from = t.anchor.kind === 'start' ? 'the start' : `step ${t.anchor.step + 1}`
  if (t.count === 0) return t.anchor.kind === 'start' ? 'on the day it starts' : `on the day of ${from}`
  return `${t.count} ${t.unit} day${t.count === 1 ? '' : 's'} ${t.direction} ${from}`
}

/** The actual dates of a procedure started on a day. Throws RangeError when the timing has faults. */
export function planProcedure(steps: readonly StepTiming[], start: Day, calendar: CourtCalendar): PlannedStep[] {
  const faults = faultsOfSteps(steps)
  if (faults.length) throw new RangeError(faults.join('; '))
  const due = new Map<number, Day>()
  const dateOf = (index: number): Day => {
    const known = due.get(index)
    if (known) return known
    const { anchor, count, unit, direction } = steps[index]!
    const base = anchor.kind === 'start' ? start : dateOf(anchor.step)
    const n = direction === 'after' ? count : -count
    const day = unit === 'calendar' ? addDays(base, n) : addCourtDays(calendar, base, n)
    due.set(index, day)
    return day
  }
  return steps.map((s, index) => ({ index, due: dateOf(index), how: showTiming(s) }))
}
