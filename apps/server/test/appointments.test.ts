import { addDays, type Day } from '@heron/core/calendar'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows, run } from '../src/platform'
import { extendSeries, sendScheduled } from '../src/docket'
import { dates } from './dates'
import { readByAnother } from './icalendar'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let jun: Person
let orla: Person
let ids: { noor: number; tomas: number; billie: number; orla: number }
beforeAll(async () => {
  office = await Office.open()
  ;[noor, jun, orla] = await Promise.all([office.signIn('noor'), office.signIn('jun'), office.signIn('orla')])
  ids = {
    noor: await office.user('Noor'),
    tomas: await office.user('Tomas'),
    billie: await office.user('Billie'),
    orla: await office.user('Orla'),
  }
})
afterAll(() => office.close())

const base = () => office.running.base
const docketOf = (m: { id: number }) =>
  noor.must<
    {
      id: number
      day: string
      time: string | null
      title: string
      attendees: { name: string }[]
      series: { words: string } | null
      sentTo: { changed: boolean; withdrawn: boolean }[]
    }[]
  >('GET', `/matters/${m.id}/docket`)
const add = (m: { id: number }, more: object) =>
  noor.must<{ id: number; entries: number }>('POST', `/matters/${m.id}/docket`, {
    title: 'Meeting',
    weight: 'appointment',
    day: '2026-12-01',
    ...more,
  })
const lettersTo = (email: string) =>
  rows<{ subject: string; body: string; method: string; calendar: string }>(
    office.db.manager,
    `SELECT subject, body, calendar_method AS method, calendar FROM mail WHERE to_address = ? ORDER BY id`,
    [email],
  )

describe('an appointment', () => {
  it('is moved by one act; a counted date is not', async () => {
    const m = await office.matter(noor, 'Moving Client Ltd')
    const { id } = await add(m, { time: '10:00', lengthMinutes: 60, attendeeIds: [ids.tomas, ids.billie] })
    await noor.must('PUT', `/docket/${id}/when`, { day: '2026-12-02', time: '11:30', lengthMinutes: 45 })
    expect((await docketOf(m))[0]).toMatchObject({
      day: '2026-12-02',
      time: '11:30',
      attendees: [{ name: 'Billie Strand' }, { name: 'Tomas Okafor-Reyes' }],
    })
    await dates(noor).happens(m, 'complaint-served', '2026-11-20', { service: 'hand' })
    const answer = await dates(noor).find(m, 'Answer')
    expect((await noor.put(`/docket/${answer.id}/when`, { day: '2026-12-20', time: null, lengthMinutes: null })).body.code).toBe('counted')
  })

  it('is changed in its words and moved in one act; of a counted date only the words change', async () => {
    const m = await office.matter(noor, 'Changing Client Ltd')
    const { id } = await add(m, { time: '10:00' })
    const words = { title: 'Longer meeting', time: '10:30' }
    await noor.must('PUT', `/docket/${id}`, { ...words, day: '2026-12-04' })
    expect((await docketOf(m))[0]).toMatchObject({ title: 'Longer meeting', day: '2026-12-04', time: '10:30' })
    const history = await noor.must<{ what: string; was: string; became: string }[]>('GET', `/docket/${id}/history`)
    expect(history).toContainEqual(expect.objectContaining({ what: 'moved', was: '2026-12-01', became: '2026-12-04' }))
    await dates(noor).happens(m, 'complaint-served', '2026-11-20', { service: 'hand' })
    const answer = await dates(noor).find(m, 'Answer')
    const refused = await noor.put(`/docket/${answer.id}`, { title: 'Our answer', day: '2026-12-24' })
    expect([refused.body.code, (await dates(noor).find(m, 'Answer')).day]).toEqual(['counted', '2026-12-11'])
    await noor.must('PUT', `/docket/${answer.id}`, { title: 'Our answer' })
    expect((await dates(noor).find(m, 'Our answer')).day).toBe('2026-12-11')
  })

  it('is not written over by someone who read it before a colleague changed it, and says who did', async () => {
    const m = await office.matter(noor, 'Two Hands Ltd')
    const { id } = await add(m, { time: '10:00' })
    const read = await noor.must<{ version: number; title: string }>('GET', `/docket/${id}`)
    await jun.must('PUT', `/docket/${id}/when`, { day: '2026-12-02', time: '11:00', lengthMinutes: 60, version: read.version })
    const mine = await noor.put(`/docket/${id}`, { title: 'My words', day: '2026-12-01', version: read.version })
    expect([mine.body.code, mine.body.detail]).toEqual(['changed-meanwhile', expect.stringContaining('Jun Aldana changed this date')])
    const dragged = await noor.put(`/docket/${id}/when`, { day: '2026-12-03', time: null, lengthMinutes: null, version: read.version })
    expect(dragged.body.code).toBe('changed-meanwhile')
    const now = await noor.must<{ version: number; title: string; day: string }>('GET', `/docket/${id}`)
    expect(now).toMatchObject({ title: 'Meeting', day: '2026-12-02' })
    await noor.must('PUT', `/docket/${id}`, { title: 'My words', day: '2026-12-02', version: now.version })
    await noor.call('DELETE', `/docket/${id}`, {})
    expect((await noor.get(`/docket/${id}`)).status).toBe(404)
  })

  it('is on the calendars and agendas of those who take part, also when they are not on the team', async () => {
    const m = await office.matter(noor, 'Guest Client Ltd')
    const tomas = await office.signIn('tomas')
    const { id } = await add(m, { title: 'Guest meeting', time: '10:00', attendeeIds: [ids.tomas] })
    const mine = await tomas.must<{ rows: { id: number }[] }>('GET', '/docket?from=2026-11-23&to=2026-12-31&scope=mine')
    expect(mine.rows.map((r) => r.id)).toContain(id)
  })

  it('goes to someone outside in their time, follows changes under a higher number, and is withdrawn', async () => {
    const m = await office.matter(noor, 'Invited Client Ltd')
    const { id } = await add(m, {
      title: 'Médiation',
      time: '14:00',
      lengthMinutes: 90,
      place: 'Room 2',
      meetingLink: 'https://meet.example/x1',
      text: 'Our bottom line is secret',
    })
    const to = { email: 'neutral@ode.example', name: 'Ida Ode', zone: 'America/Los_Angeles' }
    await noor.must('POST', `/docket/${id}/sent`, { ...to, note: 'Coffee is there.' })
    await noor.must('PUT', `/docket/${id}/when`, { day: '2026-12-03', time: '15:00', lengthMinutes: 90 })
    expect((await docketOf(m))[0]!.sentTo).toMatchObject([{ changed: true, withdrawn: false }])
    await noor.must('POST', `/docket/${id}/sent`, to)
    await noor.call('DELETE', `/docket/${id}`, {})
    const letters = await lettersTo(to.email)
    expect(letters.map((l) => [l.method, l.subject])).toEqual([
      ['REQUEST', 'Médiation, Tue 1 Dec 2026'],
      ['REQUEST', 'Changed: Médiation, Thu 3 Dec 2026'],
      ['CANCEL', 'Cancelled: Médiation, Thu 3 Dec 2026'],
    ])
    expect(letters[0]!.body).toContain('When: Tue 1 Dec 2026, 11:00 (Los Angeles time), 90 minutes')
    expect(letters.map((l) => l.body + l.calendar).join()).not.toContain('secret')
    const read = letters.flatMap((l) => readByAnother(l.calendar))
    expect(new Set(read.map((e) => e['uid'])).size).toBe(1)
    expect(read.map((e) => [e['method'], e['status'], e['start']])).toEqual([
      ['REQUEST', 'CONFIRMED', '2026-12-01T19:00:00+00:00'],
      ['REQUEST', 'CONFIRMED', '2026-12-03T20:00:00+00:00'],
      ['CANCEL', 'CANCELLED', '2026-12-03T20:00:00+00:00'],
    ])
    const numbers = read.map((e) => Number(e['sequence']))
    expect(numbers[0]! < numbers[1]! && numbers[1]! < numbers[2]!).toBe(true)
    expect(read[0]!['attendees']).toBe('mailto:neutral@ode.example')
  })

  it('is withdrawn from those outside when its series ends or its matter is closed', async () => {
    const m = await office.matter(noor, 'Withdrawing Client Ltd')
    const { id } = await add(m, { title: 'Standing call', time: '10:00', repeats: 'FREQ=WEEKLY;COUNT=4' })
    const list = await docketOf(m)
    const to = (email: string) => ({ email, name: '', zone: 'UTC' })
    await noor.must('POST', `/docket/${list[1]!.id}/sent`, to('later@ode.example'))
    await noor.must('POST', `/docket/${id}/sent`, to('first@ode.example'))
    await noor.must('POST', `/docket/${id}/end-series`, {})
    expect((await lettersTo('later@ode.example')).map((l) => l.method)).toEqual(['REQUEST', 'CANCEL'])
    expect((await lettersTo('first@ode.example')).map((l) => l.method)).toEqual(['REQUEST'])
    await noor.must('POST', `/matters/${m.id}/closed`, { day: today, note: '', accepted: ['dates', 'conflicts', 'tasks'] })
    expect((await lettersTo('first@ode.example')).map((l) => l.method)).toEqual(['REQUEST', 'CANCEL'])
  })

  it('tells nothing to those who may not see the matter', async () => {
    const m = await office.matter(noor, 'Walled Client Ltd')
    const { id } = await add(m, {})
    await run(office.db.manager, `INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Jun')])
    const of = { email: 'a@b.example', zone: 'UTC' }
    expect((await jun.post(`/docket/${id}/sent`, of)).status).toBe(404)
    expect((await jun.put(`/docket/${id}/when`, { day: today, time: null, lengthMinutes: null })).status).toBe(404)
    expect((await jun.post(`/docket/${id}/end-series`, {})).status).toBe(404)
  })
})

describe('dates that recur', () => {
  it('stand a year ahead, are added as time goes on, and follow a change from one on', async () => {
    const m = await office.matter(noor, 'Recurring Client Ltd', { ruleSetKey: null })
    const made = await add(m, {
      title: 'Rent review',
      weight: 'firm practice',
      day: '2026-12-01',
      repeats: 'FREQ=MONTHLY',
      notice: { title: 'Tell the tenant', count: 10, unit: 'courtDay' },
    })
    const list = (await docketOf(m)).filter((r) => r.title === 'Rent review')
    expect(made.entries).toBe(list.length)
    expect([list[0]!.day, list.at(-1)!.day, list[0]!.series!.words]).toEqual(['2026-12-01', '2027-12-01', 'every month'])
    // Ten court days before Mon 1 Feb 2027: Dr. King's day, 18 Jan, is closed; Fri 15 Jan.
    expect((await docketOf(m)).filter((r) => r.title === 'Tell the tenant').map((r) => r.day)).toContain('2027-01-15')
    await noor.must('PUT', `/docket/${list[3]!.id}`, { title: 'Rent and service charge', following: true })
    const noted = await noor.must<{ what: string; why: string }[]>('GET', `/docket/${list[4]!.id}/history`)
    expect(noted[0]).toMatchObject({ what: 'changed', why: 'With an earlier date of its series' })
    const after = await docketOf(m)
    expect(after.filter((r) => r.title === 'Rent review')).toHaveLength(3)
    expect(after.filter((r) => r.title === 'Tell the tenant').length).toBeGreaterThan(8)
    await run(office.db.manager, `UPDATE docket_series SET made_to = '2027-11-01' WHERE matter_id = ?`, [m.id])
    await run(office.db.manager, `UPDATE docket_entry SET removed_at = created_at WHERE matter_id = ? AND recurs_on = '2027-12-01'`, [m.id])
    expect(await extendSeries(base())).toBe(1)
    expect(await extendSeries(base())).toBe(0)
    expect((await docketOf(m)).find((r) => r.day === '2027-12-01')!.title).toBe('Rent and service charge')
    const { gone } = await noor.must<{ gone: number }>('POST', `/docket/${list[1]!.id}/end-series`, {})
    expect(gone).toBeGreaterThan(15)
    expect(
      (await docketOf(m))
        .map((r) => r.day)
        .sort()
        .at(-1),
    ).toBe('2027-01-01')
    expect(await extendSeries(base())).toBe(0)
  })

  it('have their next one on the docket however far it is, and a faulty rule is refused', async () => {
    const m = await office.matter(noor, 'Mark Client Ltd', { ruleSetKey: null })
    await add(m, { title: 'Renew the mark', day: '2026-11-25', repeats: 'FREQ=YEARLY;INTERVAL=10' })
    expect((await docketOf(m)).map((r) => r.day)).toEqual(['2026-11-25'])
    const later = { ...base(), clock: { ...base().clock, today: (): Day => '2026-11-26' } }
    await extendSeries(later)
    expect((await docketOf(m)).map((r) => r.day)).toEqual(['2026-11-25', '2036-11-25'])
    const bad = await noor.post(`/matters/${m.id}/docket`, { title: 'X', weight: 'appointment', day: '2026-12-01', repeats: 'FREQ=HOURLY' })
    expect(bad.body.fields[0]).toMatchObject({ path: 'repeats' })
    const off = await noor.post(`/matters/${m.id}/docket`, {
      title: 'X',
      weight: 'appointment',
      day: '2026-12-01',
      repeats: 'FREQ=WEEKLY;BYDAY=MO',
    })
    expect(off.body.fields[0]!.message).toContain('Mon 7 Dec 2026')
  })
})

describe('a free hour', () => {
  interface Found {
    zone: string
    hours: { day: string; time: string; elsewhere: { zone: string; time: string }[] }[]
  }
  const find = (userIds: number[], day: string) => noor.must<Found>('POST', '/free-hours', { userIds, minutes: 60, from: day, to: day })
  it('is within everyone’s hours, misses what they have on whatever the matter, and is taken with invitations', async () => {
    const m = await office.matter(noor, 'Free Hour Client Ltd')
    const secret = await office.matter(noor, 'Secret Hour Client Ltd')
    await add(secret, {
      title: 'Hidden',
      day: '2027-02-03',
      time: '09:00',
      lengthMinutes: 120,
      responsibleId: ids.noor,
      attendeeIds: [ids.tomas],
    })
    // All day: makes nobody busy.
    await add(secret, { title: 'All day', day: '2027-02-03', responsibleId: ids.tomas })
    const tomas = await office.signIn('tomas')
    await tomas.must('PUT', '/my-hours', { zone: 'America/Chicago', from: '09:00', to: '16:00' })
    expect((await tomas.put('/my-hours', { zone: '', from: '10:00', to: '09:00' })).body.fields[0]!.path).toBe('to')
    const found = await find([ids.noor, ids.tomas], '2027-02-03')
    // Nine to four in Chicago is ten to five in New York; both are busy from nine to eleven.
    expect([found.hours[0], found.hours.at(-1)!.time]).toEqual([
      { day: '2027-02-03', time: '11:00', elsewhere: [{ zone: 'America/Chicago', day: '2027-02-03', time: '10:00' }] },
      '16:00',
    ])
    expect(JSON.stringify(found)).not.toContain('Hidden')
    // Presidents' Day, a Saturday: nothing.
    for (const closed of ['2027-02-15', '2027-02-06']) expect((await find([ids.noor], closed)).hours).toEqual([])
    const taken = await noor.must<{ id: number }>('POST', `/matters/${m.id}/appointments`, {
      title: 'Call on the survey',
      day: '2027-02-03',
      time: '11:00',
      lengthMinutes: 60,
      attendeeIds: [ids.noor, ids.tomas],
      invite: [{ email: 'surveyor@hull.example', zone: 'Europe/London' }],
    })
    expect((await docketOf(m)).find((r) => r.id === taken.id)).toMatchObject({
      day: '2027-02-03',
      time: '11:00',
      attendees: [{ name: 'Noor Haddad-Lind' }, { name: 'Tomas Okafor-Reyes' }],
    })
    expect((await lettersTo('surveyor@hull.example'))[0]!.body).toContain('16:00 (London time)')
    expect((await find([ids.noor, ids.tomas], '2027-02-03')).hours[0]!.time).toBe('12:00')
    // Someone who still sees the hour on their screen is told that it went meanwhile.
    const late = { title: 'Another call', day: '2027-02-03', time: '11:30', lengthMinutes: 30, attendeeIds: [ids.tomas] }
    expect((await noor.post(`/matters/${m.id}/appointments`, late)).body.code).toBe('taken')
    expect((await docketOf(m)).some((r) => r.title === 'Another call')).toBe(false)
    expect((await noor.post('/free-hours', { userIds: [999_999], minutes: 60, from: today, to: today })).body.fields[0]!.path).toBe(
      'userIds',
    )
  })
})

describe('reports', () => {
  it('of every kind come as PDF, CSV and XLSX and on screen', async () => {
    const m = await office.matter(noor, 'Report Client Ltd')
    await dates(noor).happens(m, 'trial-set', '2027-03-30')
    for (const kind of [`matter&matterId=${m.id}`, 'span', 'teams', 'closed']) {
      const ask = `/docket/report?kind=${kind}&from=2026-11-23&scope=mine`
      expect((await noor.get(`${ask}&format=pdf`)).bytes.subarray(0, 5).toString()).toBe('%PDF-')
      // A workbook is a ZIP archive.
      expect((await noor.get(`${ask}&format=xlsx`)).bytes.subarray(0, 2).toString()).toBe('PK')
      const table = await noor.must<{ columns: string[]; rows: string[][] }>('GET', ask.replace('report?', 'report/table?'))
      expect(table.rows.every((r) => r.length === table.columns.length)).toBe(true)
      expect(table.rows.length).toBeGreaterThan(0)
    }
    expect(
      (await noor.get(`/docket/report?kind=matter&matterId=${m.id}&from=2026-11-23&format=pdf&layout=line&paper=A4`)).bytes
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-')
    const closed = await noor.must<{ rows: string[][] }>('GET', '/docket/report/table?kind=closed&from=2026-11-23&to=2026-12-31')
    expect(closed.rows).toContainEqual(['2026-11-26', 'Thu', 'Thanksgiving Day', 'U.S. federal civil', 'closed'])
    // A state's holiday closes a federal court only for periods counted on.
    expect(closed.rows).toContainEqual([
      '2026-11-27',
      'Fri',
      'Day after Thanksgiving',
      'U.S. federal civil',
      'closed for periods counted on',
    ])
  })

  it('are sent, each as its reader may see it, now or every week, once', async () => {
    const m = await office.matter(noor, 'Weekly Client Ltd')
    await add(m, { title: 'Weekly only entry', day: '2026-12-01' })
    await run(office.db.manager, `INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, ids.billie])
    const ask = { kind: 'span', from: today, courtDays: 20, scope: 'firm', format: 'csv', q: 'Weekly only' }
    expect((await noor.post('/docket/report/letters', { ...ask, userIds: [ids.orla] })).body.fields[0]!.message).toContain(
      'does not see the docket',
    )
    expect(await noor.must('POST', '/docket/report/letters', { ...ask, userIds: [ids.tomas, ids.billie] })).toEqual({ sent: 2 })
    const contents = async (userId: number) => {
      const found = await row<{ sha: string }>(
        office.db.manager,
        `SELECT f.sha256 AS sha FROM mail x JOIN mail_file mf ON mf.message_key = x.message_key JOIN stored_file f ON f.id = mf.file_id JOIN user_account u ON u.email = x.to_address WHERE u.id = ? ORDER BY x.id DESC LIMIT 1`,
        [userId],
      )
      return (await base().files.get(found!.sha)).toString()
    }
    expect(await contents(ids.tomas)).toContain('Weekly only entry')
    expect(await contents(ids.billie)).not.toContain('Weekly only entry')
    // Set up on Monday for Wednesdays: nothing before, once on the day, late when the server stood still.
    const { id } = await noor.must<{ id: number }>('POST', '/docket/report/schedules', { ...ask, userIds: [ids.tomas], weekday: 3 })
    const on = (n: number) => ({ ...base(), clock: { ...base().clock, today: () => addDays(today, n) } })
    expect([
      await sendScheduled(on(1)),
      await sendScheduled(on(2)),
      await sendScheduled(on(2)),
      await sendScheduled(on(4)),
      await sendScheduled(on(11)),
      await sendScheduled(on(11)),
    ]).toEqual([0, 1, 0, 0, 1, 0])
    expect(await noor.must('GET', '/docket/report/schedules')).toMatchObject([
      { words: 'Dates of the firm, “Weekly only”, 20 court days ahead, CSV', weekday: 3, to: ['Tomas Okafor-Reyes'] },
    ])
    // Whoever set it up leaves: it goes on, and is its first reader's, who is told and may end it.
    await run(office.db.manager, `UPDATE user_account SET active = 0 WHERE id = ?`, [ids.noor])
    try {
      expect([await sendScheduled(on(18)), await sendScheduled(on(18))]).toEqual([1, 0])
    } finally {
      await run(office.db.manager, `UPDATE user_account SET active = 1 WHERE id = ?`, [ids.noor])
    }
    const told = await row<{ body: string }>(office.db.manager, `SELECT body FROM mail WHERE message_key = ?`, [
      `report ${id} of ${ids.tomas}`,
    ])
    expect(told?.body).toContain('Noor Haddad-Lind, who set it up, has left')
    expect((await noor.call('DELETE', `/docket/report/schedules/${id}`, {})).status).toBe(404)
    const tomas = await office.signIn('tomas')
    expect((await tomas.call('DELETE', `/docket/report/schedules/${id}`, {})).status).toBe(200)
    expect(await sendScheduled(on(25))).toBe(0)
    expect((await orla.get('/docket/report?from=2026-11-23')).status).toBe(403)
  })
})

describe('figures', () => {
  it('count from commencement to trial and from motion to ruling, for the matters one may see', async () => {
    const judge = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Judge Ada Quill', kinds: ['judge'] })
    const m = await office.matter(noor, 'Figures Client Ltd', { judgeId: judge.id })
    for (const [kind, day] of [
      ['complaint-filed', '2025-01-06'],
      ['motion-filed', '2025-03-03'],
      ['motion-decided', '2025-04-02'],
      ['trial-set', '2026-05-04'],
    ] as const)
      await dates(noor).happens(m, kind, day)
    const of = (what: string, who: Person = noor) =>
      who.must<{ spread: { count: number; median: number }; matters: { days: number }[]; judges: { name: string }[] }>(
        'GET',
        `/docket/figures?of=${what}&judgeId=${judge.id}`,
      )
    expect(await of('trial')).toMatchObject({ spread: { count: 1, median: 483 }, matters: [{ days: 483 }] })
    expect(await of('ruling')).toMatchObject({ spread: { count: 1, median: 30 } })
    await run(office.db.manager, `INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Jun')])
    expect(await of('trial', jun)).toMatchObject({ spread: { count: 0 }, matters: [] })
  })
})
