import { addDays, type Day } from '@heron/core/calendar'
import { makeSchedule, setGoal, takeLook } from '@heron/server/oversight'
import { row } from '@heron/server/platform'
import { postTime, recordTime } from '@heron/server/time'
import { openDay, type Stage } from './stage'

/** Goals and what hours cost, a report for Mondays, a look a week ago, and time that came late since. */
export async function layOversight(stage: Stage): Promise<void> {
  const dollars = (n: number) => Math.round(n * 100)
  const goals = [
    ['Ingrid Calloway', 'collected', null, 26_000, 190],
    ['Desmond Fenn', 'collected', null, 24_000, 180],
    ['Noor Haddad-Lind', 'billable', 8_500, null, 120],
    ['Tomas Okafor-Reyes', 'billable', 6_500, null, 85],
    ['Billie Strand', 'billable', 3_200, null, 48],
    ['Jun Aldana', 'billable', 600, null, 42],
    ['Sable Whitcombe', 'billable', null, null, 150],
  ] as const
  stage.day = openDay(addDays(stage.today, -240))
  for (const [name, basis, weekly, monthly, cost] of goals)
    await setGoal(stage.as('Ingrid Calloway'), {
      userId: stage.id(name),
      from: `${stage.today.slice(0, 4)}-01-01` as Day,
      basis,
      weekly: weekly && dollars(weekly),
      monthly: monthly && dollars(monthly),
      costRate: dollars(cost),
    })
  stage.day = stage.today
  await makeSchedule(stage.as('Noor Haddad-Lind'), {
    name: 'Monday: weeks of everyone',
    what: 'weeks',
    asked: { weeks: 5, as: 'work', group: 'person', by: 'court', days: 60 },
    every: 'week',
    onDay: 1,
    format: 'xlsx',
    to: [stage.id('Noor Haddad-Lind'), stage.id('Ingrid Calloway')],
  })
  for (const who of ['Noor Haddad-Lind', 'Ingrid Calloway', 'Orla Petrakis']) await takeLook(stage.as(who))
  // Recorded after the look into the week before, as happens.
  const matter = (await row<{ id: number }>(stage.base.db.manager, `SELECT m.id FROM matter m WHERE m.closed_on IS NULL AND m.kind = 'client' AND m.name LIKE '%Gannet%' ORDER BY m.id LIMIT 1`))! // prettier-ignore
  for (const [who, back, text, duration] of [
    ['Tomas Okafor-Reyes', 4, 'Outline of cross-examination of the pilot', '3.2'],
    ['Tomas Okafor-Reyes', 5, 'Review of tug logs', '1.6'],
    ['Billie Strand', 6, 'Exhibit binder for the bridge audio', '2.4'],
  ] as const) {
    const day = openDay(addDays(stage.today, -back))
    const { id } = await recordTime(stage.as(who), { matterId: matter.id, day, activity: null, text, duration, rate: null, charge: 'billable', userId: null }) // prettier-ignore
    await postTime(stage.as(who), [id])
  }
}
