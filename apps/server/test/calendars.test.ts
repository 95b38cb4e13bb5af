import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { run } from '../src/platform'
import { readByAnother } from './icalendar'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let jun: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, jun] = await Promise.all([office.signIn('noor'), office.signIn('jun')])
})
afterAll(() => office.close())

const addressOf = async (who: Person, feed: object) => await who.must<{ id: number; address: string }>('POST', '/calendar-feeds', feed)
async function read(address: string): Promise<string> {
  const answer = await fetch(`${office.base}${address}`)
  expect(answer.headers.get('content-type')).toBe('text/calendar; charset=utf-8')
  return answer.text()
}

describe('a calendar with a secret address', () => {
  it('is read by another program before and after a change: days, times, folding, letters beyond ASCII', async () => {
    const m = await office.matter(noor, 'Réunion Océan Ltd')
    const entry = (more: object) => noor.must<{ id: number }>('POST', `/matters/${m.id}/docket`, more)
    const long = 'Conférence de gestion; with counsel, experts and the master — about soundings, moorings and the œuvre of the pilot'
    const allDay = await entry({
      title: long,
      weight: 'court order',
      day: '2026-12-03',
      text: 'First line\nSecond, with “quotes”',
      place: '',
    })
    const timed = await entry({
      title: 'Mediation',
      weight: 'appointment',
      day: '2027-03-14',
      time: '09:30',
      lengthMinutes: 90,
      place: 'Room 2, Harrow',
    })
    const feed = await addressOf(noor, { scope: 'matter', matterId: m.id })
    const text = await read(feed.address)
    expect(text.split('\r\n').every((l) => new TextEncoder().encode(l).length <= 75)).toBe(true)
    const before = readByAnother(text)
    const find = (list: typeof before, id: number) => list.find((e) => String(e['uid']).startsWith(`docket-${id}@`))!
    expect(find(before, allDay.id)).toMatchObject({
      start: '2026-12-03',
      end: '2026-12-04',
      summary: `${long}, ${'Réunion Océan Ltd, test matter'}`,
      transp: 'TRANSPARENT',
    })
    expect(String(find(before, allDay.id)['description'])).toContain('First line\nSecond, with “quotes”')
    // Half past nine in the court's zone, on the day its clocks go forward.
    expect(find(before, timed.id)).toMatchObject({
      start: '2027-03-14T13:30:00+00:00',
      end: '2027-03-14T15:00:00+00:00',
      transp: 'OPAQUE',
      place: 'Room 2, Harrow',
    })

    await noor.must('POST', `/matters/${m.id}/docket/acts`, {
      act: { kind: 'extend', entryId: allDay.id, day: '2026-12-10', by: 'court', chainFollows: false },
      why: 'continued',
    })
    await noor.must('PUT', `/docket/${timed.id}/mark`, { mark: 'in hand' })
    const after = readByAnother(await read(feed.address))
    expect(find(after, allDay.id)).toMatchObject({ uid: find(before, allDay.id)['uid'], start: '2026-12-10' })
    expect(Number(find(after, allDay.id)['sequence'])).toBeGreaterThan(Number(find(before, allDay.id)['sequence']))
    expect(String(find(after, timed.id)['summary'])).toMatch(/^\(in hand\) Mediation/)

    await noor.call('DELETE', `/calendar-feeds/${feed.id}`, {})
    expect((await fetch(`${office.base}${feed.address}`)).status).toBe(404)
  })

  it('shows what its owner may see at the time of reading, and nothing of who has left', async () => {
    const m = await office.matter(noor, 'Walled Calendar Ltd', { team: [{ userId: await office.user('Jun'), role: 'assistant' }] })
    await noor.must('POST', `/matters/${m.id}/docket`, { title: 'Walled conference', weight: 'appointment', day: '2026-12-01' })
    const firm = await addressOf(jun, { scope: 'firm' })
    const own = await addressOf(jun, { scope: 'person', userId: await office.user('Jun') })
    for (const f of [firm, own]) expect(await read(f.address)).toContain('Walled conference')
    await noor.must('POST', `/matters/${m.id}/screens`, { userId: await office.user('Jun'), reason: 'test' })
    for (const f of [firm, own]) expect(await read(f.address)).not.toContain('Walled')
    expect((await jun.post('/calendar-feeds', { scope: 'matter', matterId: m.id })).status).toBe(404)
    await run(office.db.manager, `UPDATE user_account SET active = FALSE WHERE name LIKE 'Jun%'`)
    expect((await fetch(`${office.base}${firm.address}`)).status).toBe(404)
    await run(office.db.manager, `UPDATE user_account SET active = TRUE WHERE name LIKE 'Jun%'`)
    expect((await fetch(`${office.base}/api/calendars/${'x'.repeat(43)}`)).status).toBe(404)
  })

  it('loses the dates of a closed matter, and has them again when it is reopened', async () => {
    const m = await office.matter(noor, 'Closing Calendar Ltd')
    await noor.must('POST', `/matters/${m.id}/docket`, { title: 'Far conference', weight: 'appointment', day: '2027-05-03' })
    const feed = await addressOf(noor, { scope: 'person', userId: await office.user('Noor') })
    expect(await read(feed.address)).toContain('Far conference')
    await noor.must('POST', `/matters/${m.id}/closed`, { day: '2026-11-23', accepted: ['dates', 'conflicts'] })
    expect(await read(feed.address)).not.toContain('Far conference')
    await noor.must('POST', `/matters/${m.id}/reopened`, { reason: 'again' })
    expect(await read(feed.address)).toContain('Far conference')
  })
})
