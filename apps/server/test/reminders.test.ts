import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { addCourtDays, addDays, hourIn, type Day } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { remindOfDates, sendDigests } from '../src/docket'
import { insertMany, rows, run, stoppedClock } from '../src/platform'
import { isoOf } from '../src/platform/context'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let jun: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, jun] = await Promise.all([office.signIn('noor'), office.signIn('jun')])
})
afterAll(() => office.close())

const court = calendarFor(
  shippedRuleSets.find((s) => s.key === 'us-federal-civil')!,
  shippedHolidaySets,
  null,
)
const ahead = (n: number) => addCourtDays(court, today, n)
const on = (day: Day, time?: string) => ({ ...office.running.base, clock: stoppedClock(day, time) })
let n = 0
const matter = () => office.matter(noor, `Reminded Client ${(n += 1)} Ltd`, { team: [{ userId: junId, role: 'assistant' }] })
let junId: number
beforeAll(async () => void (junId = await office.user('Jun')))

async function dated(m: { id: number }, title: string, day: Day, weight = 'court order') {
  const { id } = await noor.must<{ id: number }>('POST', `/matters/${m.id}/docket`, { title, weight, day })
  await run(office.db.manager, `UPDATE docket_entry SET placed_on = '2026-01-01' WHERE id = ?`, [id])
  return id
}
const lettersOn = (text: string) =>
  rows<{ toName: string; subject: string; body: string }>(
    office.db.manager,
    `SELECT to_name AS toName, subject, body FROM mail WHERE body LIKE ? ORDER BY id`,
    [`%${text}%`],
  )

describe('reminders of dates', () => {
  it('go once to everyone on the team, on their own days, and not to whoever turned them off', async () => {
    const m = await matter()
    await dated(m, 'Pier hearing', ahead(5))
    await jun.must('PUT', '/reminders', { leads: [4], digestOn: null })
    await remindOfDates(on(today))
    await remindOfDates(on(today))
    expect((await lettersOn('Pier hearing')).map((l) => l.toName)).toEqual(['Noor Haddad-Lind'])
    await remindOfDates(on(ahead(1)))
    expect((await lettersOn('Pier hearing')).map((l) => l.toName)).toEqual(['Noor Haddad-Lind', 'Jun Aldana'])
    const own = await jun.must<{ leads: number[]; rows: { title: string; lead: number }[] }>('GET', '/reminders')
    expect(own.leads).toEqual([4])
    expect(own.rows.map((r) => [r.title, r.lead])).toContainEqual(['Pier hearing', 4])
    await jun.must('PUT', '/reminders', { leads: [10, 5, 1, 0], digestOn: null })
  })

  it('go out for a date that was docketed on the evening of their day, which is the next day in UTC', async () => {
    const m = await matter()
    const id = await dated(m, 'Evening hearing', ahead(1))
    await run(office.db.manager, `UPDATE docket_entry SET placed_on = NULL, created_at = '2026-11-24 01:30:00' WHERE id = ?`, [id])
    const evening = { ...stoppedClock(today, '20:45'), at: (stored: string) => hourIn(isoOf(stored), 'America/New_York') }
    await remindOfDates({ ...office.running.base, clock: evening })
    expect((await lettersOn('Evening hearing')).map((l) => l.toName)).toContain('Noor Haddad-Lind')
  })

  it('wait for the morning of the firm, and reach those who take part', async () => {
    const m = await office.matter(noor, 'Morning Client Ltd')
    const { id } = await noor.must<{ id: number }>('POST', `/matters/${m.id}/docket`, {
      title: 'Quay inspection',
      weight: 'appointment',
      day: ahead(5),
      attendeeIds: [await office.user('Orla')],
    })
    await run(office.db.manager, `UPDATE docket_entry SET placed_on = '2026-01-01' WHERE id = ?`, [id])
    await remindOfDates(on(today, '05:59'))
    expect(await lettersOn('Quay inspection')).toEqual([])
    // Whoever may no longer see the matter is told nothing of it, though the date still names them.
    const closed = await office.matter(noor, 'Barred Client Ltd')
    const { id: barred } = await noor.must<{ id: number }>('POST', `/matters/${closed.id}/docket`, {
      title: 'Barred inspection',
      weight: 'appointment',
      day: ahead(5),
      attendeeIds: [await office.user('Orla')],
    })
    await run(office.db.manager, `UPDATE docket_entry SET placed_on = '2026-01-01' WHERE id = ?`, [barred])
    await run(office.db.manager, `UPDATE matter SET staff_docket = 0 WHERE id = ?`, [closed.id])
    await remindOfDates(on(today, '06:00'))
    expect((await lettersOn('Barred inspection')).map((l) => l.toName)).toEqual(['Noor Haddad-Lind'])
    expect((await lettersOn('Quay inspection')).map((l) => l.toName).sort()).toEqual(['Noor Haddad-Lind', 'Orla Petrakis'])
  })

  it('say that they are late, follow a date that moves, and stop when it is met', async () => {
    const m = await matter()
    const id = await dated(m, 'Dredge conference', ahead(5))
    await remindOfDates(on(ahead(2)))
    const [letter] = await lettersOn('Dredge conference')
    expect(letter!.body).toContain(`This reminder was due on`)
    expect(letter!.body).toContain('it is late')
    await noor.must('POST', `/matters/${m.id}/docket/acts`, {
      act: { kind: 'extend', entryId: id, day: ahead(20), by: 'court', chainFollows: false },
      why: 'continued',
    })
    const before = (await lettersOn('Dredge conference')).length
    await remindOfDates(on(ahead(10)))
    expect((await lettersOn('Dredge conference')).length).toBe(before + 2)
    await noor.must('PUT', `/docket/${id}/mark`, { mark: 'met' })
    await remindOfDates(on(ahead(15)))
    expect((await lettersOn('Dredge conference')).length).toBe(before + 2)
  })

  it('of one date are chosen by each for themselves; of a strict date they cannot be turned off', async () => {
    const m = await matter()
    const quiet = await dated(m, 'Quiet date', ahead(5))
    const strict = await dated(m, 'Strict date', ahead(5), 'strict')
    await noor.must('PUT', `/docket/${quiet}/reminders`, { leads: [] })
    expect((await noor.put(`/docket/${strict}/reminders`, { leads: [] })).body.fields[0]?.message).toContain('cannot be turned off')
    await remindOfDates(on(today))
    expect((await lettersOn('Quiet date')).map((l) => l.toName)).toEqual(['Jun Aldana'])
    expect((await lettersOn('Strict date')).map((l) => l.toName).sort()).toEqual(['Jun Aldana', 'Noor Haddad-Lind'])
  })

  it('come to whoever is responsible, on the team or not', async () => {
    const m = await office.matter(noor, 'Answering Ltd')
    const { id } = await noor.must<{ id: number }>('POST', `/matters/${m.id}/docket`, {
      title: 'Answered for',
      weight: 'court order',
      day: ahead(5),
      responsibleId: await office.user('Tomas'),
    })
    await run(office.db.manager, `UPDATE docket_entry SET placed_on = '2026-01-01' WHERE id = ?`, [id])
    await remindOfDates(on(today))
    expect((await lettersOn('Answered for')).map((l) => l.toName).sort()).toEqual(['Noor Haddad-Lind', 'Tomas Okafor-Reyes'])
    const closed = await office.matter(noor, 'Closed Circle Ltd', { access: 'team' })
    const refused = await noor.post(`/matters/${closed.id}/docket`, {
      title: 'x',
      weight: 'court order',
      day: ahead(5),
      responsibleId: await office.user('Tomas'),
    })
    expect(refused.body.fields[0]?.path).toBe('responsibleId')
  })

  it('tell a screened person nothing', async () => {
    const m = await matter()
    await dated(m, 'Walled date', ahead(5))
    await noor.must('POST', `/matters/${m.id}/screens`, { userId: junId, reason: 'test' })
    await remindOfDates(on(today))
    expect((await lettersOn('Walled date')).map((l) => l.toName)).toEqual(['Noor Haddad-Lind'])
  })

  it('sends the weeks ahead once, on the day chosen', async () => {
    const m = await matter()
    await dated(m, 'Far date', addDays(today, 25))
    await noor.must('PUT', '/reminders', { leads: [10, 5, 1, 0], digestOn: 1 })
    await sendDigests(on(today))
    await sendDigests(on(today))
    await sendDigests(on(addDays(today, 1)))
    expect((await lettersOn('Far date')).map((l) => l.subject)).toEqual([expect.stringContaining('Your dates until')])
  })
})

describe('a server that is killed while it reminds', () => {
  it('sends each reminder once in the end', async () => {
    const m = await matter()
    const now = '2026-11-01 00:00:00'
    await insertMany(
      office.db.manager,
      'docket_entry',
      ['matter_id', 'title', 'text', 'weight', 'day', 'trace', 'created_at', 'placed_on'],
      Array.from({ length: 300 }, (_, i) => [m.id, `Storm ${String(i).padStart(3, '0')}`, '', 'rule', ahead(5), '[]', now, '2026-01-01']),
    )
    const place = inject('place')
    for (const wait of [3, 30, 90, 180]) {
      const child = spawn(process.execPath, ['--import', 'tsx', new URL('./remind-and-die.ts', import.meta.url).pathname], {
        env: {
          ...process.env,
          HERON_DB_PORT: String(place.port),
          HERON_DB_PASSWORD: place.app,
          HERON_FILES: place.files,
          HERON_TODAY: today,
        },
        stdio: ['ignore', 'pipe', 'inherit'],
      })
      await once(child.stdout, 'data')
      const ended = once(child, 'exit')
      setTimeout(() => child.kill('SIGKILL'), wait)
      await ended
    }
    await remindOfDates(on(today))
    const letters = await lettersOn('Storm 0')
    for (const who of ['Noor Haddad-Lind', 'Jun Aldana']) {
      const told = letters.filter((l) => l.toName === who).flatMap((l) => l.body.match(/Storm \d{3}/g) ?? [])
      expect([told.length, new Set(told).size]).toEqual([300, 300])
    }
    await run(office.db.manager, `UPDATE docket_entry SET mark = 'vacated' WHERE matter_id = ?`, [m.id])
  })
})
