import type { api, Answer } from '../api'

type Planned = Answer<typeof api.tasks.preview>['steps'][number]
/** A step of a procedure that is about to start, as it was planned and as a person left it. */
export interface StepRow extends Planned {
  planned: string | null
  plannedFor: number
  keep: boolean
}

/** The steps as planned anew; what a person left out, dated or gave to someone by hand stays so. */
export function stepRows(planned: readonly Planned[], before: readonly StepRow[]): StepRow[] {
  const known = new Map(before.map((s) => [s.key, s]))
  return planned.map((s) => {
    const old = known.get(s.key)
    return {
      ...s,
      planned: s.dueOn,
      plannedFor: s.assigneeId,
      keep: old?.keep ?? true,
      dueOn: old && old.dueOn !== old.planned ? old.dueOn : s.dueOn,
      assigneeId: old && old.assigneeId !== old.plannedFor ? old.assigneeId : s.assigneeId,
    }
  })
}

/** What is sent of the steps that are kept. */
export const agreed = (steps: readonly StepRow[]) =>
  steps.filter((s) => s.keep).map((s) => ({ key: s.key, dueOn: s.dueOn, assigneeId: s.assigneeId, byHand: s.dueOn !== s.planned }))
