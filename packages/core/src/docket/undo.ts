import type { Docket, Entry, Trigger } from './docket'

/** What must be put back to undo an act: the triggers, facts and entries that it changed, as they were. */
export interface Undo {
  triggers: Trigger[]
  added: number[]
  /** Dates that were not there before, also of triggers that were. */
  addedEntries: number[]
  /** Null where the act changed no fact. */
  facts: string[] | null
  entries: Entry[]
}

/** What takes a docket back from how it is after a change to how it was before. */
export function undoOf(before: Docket, after: Docket): Undo {
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
  return {
    triggers: before.triggers.filter(
      (t) =>
        !same(
          t,
          after.triggers.find((x) => x.id === t.id),
        ),
    ),
    added: after.triggers.filter((t) => !before.triggers.some((x) => x.id === t.id)).map((t) => t.id),
    addedEntries: after.entries.filter((e) => !before.entries.some((x) => x.id === e.id)).map((e) => e.id),
    facts: same(before.facts, after.facts) ? null : before.facts,
    entries: before.entries.filter(
      (e) =>
        !same(
          e,
          after.entries.find((x) => x.id === e.id),
        ),
    ),
  }
}

/** The docket as it was before the act, whatever else was docketed since. */
export function undo(docket: Docket, u: Undo): Docket {
  const back = <T extends { id: number }>(list: readonly T[], were: readonly T[]) =>
    [...list.filter((x) => !were.some((w) => w.id === x.id)), ...were].sort((a, b) => a.id - b.id)
  return {
    triggers: back(
      docket.triggers.filter((t) => !u.added.includes(t.id)),
      u.triggers,
    ),
    facts: u.facts ?? docket.facts,
    entries: back(
      docket.entries.filter((e) => !u.addedEntries.includes(e.id) && (e.triggerId === null || !u.added.includes(e.triggerId))),
      u.entries,
    ),
  }
}
