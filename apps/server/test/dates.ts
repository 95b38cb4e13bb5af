import type { Person } from './office'

export interface Row {
  id: number
  title: string
  day: string
  ruleDay: string | null
  setBy: string
  mark: string
  leftOut: boolean
  provisional: boolean
  tentative: boolean
  reason: string
}
export interface Difference {
  entryId: number
  effect: string
  becomes: string | null
  title: string
  because: string | null
}

/** What must be sent back to take differences as they were shown. */
export const seenOf = (list: Difference[]) =>
  list.filter((d) => d.effect !== 'recounted').map(({ entryId, effect, becomes }) => ({ entryId, effect, becomes }))

/** What must be sent back to docket proposed dates as they were shown. */
export const datesSeen = (list: { key: string; date: string | null }[]) => list.flatMap(({ key, date }) => (date ? [{ key, date }] : []))

/** The docket as someone works on it. */
export const dates = (who: Person) => ({
  docketOf: (m: { id: number }) => who.must<Row[]>('GET', `/matters/${m.id}/docket`),
  find: async (m: { id: number }, title: string) =>
    (await who.must<Row[]>('GET', `/matters/${m.id}/docket`)).find((r) => r.title.startsWith(title))!,
  /** Something happened: its dates are worked out, and all that apply are docketed with what they do to others. */
  happens: async (m: { id: number }, trigger: string, date: string, more: Record<string, unknown> = {}) => {
    const asked = { trigger, date, ...more }
    const shown = await who.must<{ proposals: { key: string; applies: boolean; date: string | null }[]; differences: Difference[] }>(
      'POST',
      `/matters/${m.id}/dates/proposed`,
      asked,
    )
    const seen = seenOf(shown.differences)
    return who.must<{ triggerId: number; changeId: number; docketed: number; moved: number }>('POST', `/matters/${m.id}/dates`, {
      ...asked,
      take: shown.proposals.filter((p) => p.applies && p.date).map((p) => p.key),
      seen: datesSeen(shown.proposals),
      moves: { take: seen.map((d) => d.entryId), seen },
    })
  },
})
