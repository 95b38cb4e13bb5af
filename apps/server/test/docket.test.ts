import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rows, run } from '../src/platform'
import { dates, datesSeen, seenOf, type Difference, type Row } from './dates'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let jun: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, jun] = await Promise.all([office.signIn('noor'), office.signIn('jun')])
})
afterAll(() => office.close())

let n = 0
const matter = (more: Record<string, unknown> = {}) => office.matter(noor, `Docket Client ${(n += 1)} Ltd`, more)

/** Every date and all it says, but for how often it has changed. */
const docketOf = async (m: { id: number }): Promise<Row[]> => (await dates(noor).docketOf(m)).map((d) => Object.assign(d, { version: 0 }))
const find = (m: { id: number }, title: string) => dates(noor).find(m, title)
const happens = (m: { id: number }, trigger: string, date: string, more: Record<string, unknown> = {}) =>
  dates(noor).happens(m, trigger, date, more)
const triggersOf = (m: { id: number }) =>
  noor.must<{ triggers: { id: number; label: string; day: string; dates: number }[]; facts: { key: string; holds: boolean }[] }>(
    'GET',
    `/matters/${m.id}/triggers`,
  )

async function act(m: { id: number }, what: Record<string, unknown>, more: Record<string, unknown> = {}) {
  const shown = await noor.must<{ text: string; differences: Difference[] }>('POST', `/matters/${m.id}/docket/acts/preview`, { act: what })
  const seen = seenOf(shown.differences)
  const done = await noor.must<{ changeId: number; moved: number }>('POST', `/matters/${m.id}/docket/acts`, {
    act: what,
    take: seen.map((d) => d.entryId),
    seen,
    ...more,
  })
  return { ...shown, ...done }
}
const change = (triggerId: number, day: string, more: Record<string, unknown> = {}) => ({
  kind: 'change',
  triggerId,
  day,
  tentative: false,
  service: null,
  label: '',
  ...more,
})

describe('a trial continued', () => {
  it('moves what the rules set, keeps what was met or fixed by the court, tells the team, and can be undone', async () => {
    const m = await matter()
    const { triggerId } = await happens(m, 'trial-set', '2027-03-09')
    await noor.must('PUT', `/docket/${(await find(m, 'Expert disclosures')).id}/mark`, { mark: 'met' })
    const offer = await find(m, 'Last day to serve an offer')
    await act(m, { kind: 'extend', entryId: offer.id, day: '2027-02-22', by: 'court', chainFollows: false }, { why: 'Order of 2 October' })
    const before = await docketOf(m)

    const moved = await act(m, change(triggerId, '2027-03-30'), { why: 'continued', tell: true })
    expect(moved.text).toBe('Trial set moved: Tue 9 Mar 2027 to Tue 30 Mar 2027')
    expect(moved.differences.filter((d) => d.effect === 'kept').map((d) => [d.title, d.because, d.becomes])).toEqual([
      ['Expert disclosures', 'met', '2026-12-30'],
      ['Last day to serve an offer of judgment', 'set by the court', '2027-03-16'],
    ])
    expect(await find(m, 'Pretrial disclosures')).toMatchObject({ day: '2027-02-26', setBy: 'rule' })
    expect(await find(m, 'Objections to pretrial')).toMatchObject({ day: '2027-03-12' })
    expect(await find(m, 'Last day to serve')).toMatchObject({ day: '2027-02-22', ruleDay: '2027-03-16', reason: 'Order of 2 October' })
    const letters = await rows<{ body: string }>(
      office.db.manager,
      `SELECT body FROM mail WHERE matter_id = ? AND subject LIKE 'Docket of%'`,
      [m.id],
    )
    expect(letters.length).toBeGreaterThan(0)
    expect(letters[0]!.body).toContain('Fri 26 Feb 2027  Pretrial disclosures, Fed. R. Civ. P. 26(a)(3)(B)')

    expect((await noor.must<{ what: string }[]>('GET', `/docket/${offer.id}/history`)).map((h) => h.what)).toEqual([
      'kept',
      'moved',
      'docketed',
    ])
    await noor.must('POST', `/docket-changes/${moved.changeId}/undo`, {})
    expect(await docketOf(m)).toEqual(before)
    expect((await noor.post(`/docket-changes/${moved.changeId}/undo`, {})).body.code).toBe('undone')
  })

  it('takes nothing that was not shown, and undoes nothing that was changed since', async () => {
    const m = await matter()
    const { triggerId } = await happens(m, 'trial-set', '2027-03-09')
    const stale = await noor.post(`/matters/${m.id}/docket/acts`, { act: change(triggerId, '2027-03-30'), take: [], seen: [] })
    expect(stale.body.code).toBe('changed-meanwhile')
    const moved = await act(m, change(triggerId, '2027-03-30'))
    await noor.must('PUT', `/docket/${(await find(m, 'Pretrial disclosures')).id}/mark`, { mark: 'met' })
    expect((await noor.post(`/docket-changes/${moved.changeId}/undo`, {})).body.code).toBe('changed-since')
  })

  it('is tentative until the court sets it', async () => {
    const m = await matter()
    const { triggerId } = await happens(m, 'trial-set', '2027-03-30', { tentative: true })
    expect((await docketOf(m)).every((r) => r.tentative)).toBe(true)
    const set = await act(m, change(triggerId, '2027-03-30'))
    expect([set.text, set.moved]).toEqual(['Trial set: no longer tentative', 0])
    expect((await docketOf(m)).some((r) => r.tentative)).toBe(false)
  })
})

describe('a complaint served on a party', () => {
  it('counts that party as served, until the event is taken away', async () => {
    const m = await matter()
    const who = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name: 'Pellan Dredging Ltd.' })
    await noor.must('POST', `/matters/${m.id}/parties`, { contactId: who.id, role: 'defendant', side: 'adverse' })
    const party = async () =>
      (await noor.must<{ parties: { id: number; name: string; servedOn: string | null }[] }>('GET', `/matters/${m.id}`)).parties.find(
        (p) => p.name === 'Pellan Dredging Ltd.',
      )!
    const { triggerId } = await happens(m, 'complaint-served', '2026-11-09', { partyId: (await party()).id })
    expect((await party()).servedOn).toBe('2026-11-09')
    await act(m, { kind: 'remove', triggerId })
    expect((await party()).servedOn).toBeNull()
  })
  it('shows in the list of matters how many dates are overdue, without appointments', async () => {
    const m = await matter()
    const make = (title: string, weight: string) => noor.must('POST', `/matters/${m.id}/docket`, { title, weight, day: '2026-11-10' })
    await make('Brief owed', 'court order')
    await make('Lunch had', 'appointment')
    const { rows: list } = await noor.must<{ rows: { id: number; overdue: number }[] }>('GET', '/matters?size=200')
    expect(list.find((r) => r.id === m.id)!.overdue).toBe(1)
  })
})

describe('sets of discovery', () => {
  it('are each answered, withdrawn and labelled on their own', async () => {
    const m = await matter({ ruleSetKey: 'wexmoor-superior' })
    const first = await happens(m, 'discovery-served', '2026-11-02', { service: 'hand', label: 'first set to Munro' })
    const second = await happens(m, 'discovery-served', '2026-11-16', { service: 'hand', label: 'first set to Larkin' })
    await happens(m, 'discovery-response-served', '2026-11-23', { service: 'electronic', answersId: first.triggerId })
    expect((await docketOf(m)).filter((r) => r.title.startsWith('Response')).map((r) => [r.title, r.mark])).toEqual([
      ['Response to written discovery (first set to Munro)', 'met'],
      ['Response to written discovery (first set to Larkin)', 'open'],
    ])
    const gone = await act(m, { kind: 'remove', triggerId: second.triggerId })
    expect((await docketOf(m)).filter((r) => r.title.includes('Larkin'))).toEqual([])
    expect((await triggersOf(m)).triggers.map((t) => t.label)).not.toContain('first set to Larkin')
    await noor.must('POST', `/docket-changes/${gone.changeId}/undo`, {})
    expect(await find(m, 'Response to written discovery (first set to Larkin)')).toMatchObject({ day: '2026-12-11', leftOut: false })
    await act(m, change(first.triggerId, '2026-11-02', { service: 'hand', label: 'second set to Munro' }))
    expect((await docketOf(m)).some((r) => r.title.endsWith('(second set to Munro)'))).toBe(true)
  })

  it('docketing can be undone as a whole', async () => {
    const m = await matter()
    const before = await docketOf(m)
    const { changeId } = await happens(m, 'trial-set', '2027-03-30')
    const exact = await happens(m, 'expert-disclosures-made', '2026-12-16')
    expect(await find(m, 'Rebuttal')).toMatchObject({ day: '2027-01-15', provisional: false })
    await noor.must('POST', `/docket-changes/${exact.changeId}/undo`, {})
    expect(await find(m, 'Rebuttal')).toMatchObject({ day: '2027-01-29', provisional: true })
    await noor.must('POST', `/docket-changes/${changeId}/undo`, {})
    expect(await docketOf(m)).toEqual(before)
  })
})

describe('facts of the matter', () => {
  it('are kept, and decide which dates apply', async () => {
    const m = await matter()
    await happens(m, 'judgment-entered', '2026-10-29')
    await act(m, { kind: 'facts', facts: ['us-party'] })
    expect((await triggersOf(m)).facts.map((f) => f.holds)).toEqual([true])
    expect(await find(m, 'Notice of appeal when the United States')).toMatchObject({ leftOut: false, day: '2026-12-28' })
    expect((await docketOf(m)).find((r) => r.title === 'Notice of appeal')).toMatchObject({ leftOut: true })
  })
})

describe('one date', () => {
  it('is extended with its reason and paper, and moves what hangs on it only when asked', async () => {
    const m = await matter({ ruleSetKey: 'wexmoor-superior' })
    await happens(m, 'hearing-set', '2027-02-17', { service: 'hand' })
    const opposition = await find(m, 'Opposition')
    const reply = await find(m, 'Reply')
    const extend = { kind: 'extend', entryId: opposition.id, day: '2027-02-09', by: 'hand', chainFollows: false }
    const bare = await noor.post(`/matters/${m.id}/docket/acts`, { act: extend, seen: [] })
    expect(bare.body.fields[0]?.path).toBe('why')
    expect((await act(m, extend, { why: 'stipulation' })).moved).toBe(1)
    expect((await find(m, 'Reply')).day).toBe(reply.day)
    const again = await act(m, { ...extend, day: '2027-02-10', chainFollows: true }, { why: 'second stipulation' })
    expect(again.differences.map((d) => d.title)).toEqual(['Reply'])
    expect((await find(m, 'Reply')).day > reply.day).toBe(true)
    const motion = { ...extend, entryId: (await find(m, 'Serve and file the motion')).id, day: '2027-02-01' }
    const unknown = await noor.post(`/matters/${m.id}/docket/acts`, { act: motion, seen: [], why: 'order', paperId: 999_999 })
    expect(unknown.body.fields[0]?.path).toBe('paperId')
  })

  it('is changed by nobody who only sees the docket, or is screened from the matter', async () => {
    const m = await matter({ team: [{ userId: await office.user('Sable'), role: 'outside' }] })
    const { triggerId, changeId } = await happens(m, 'trial-set', '2027-03-09')
    const sable = await office.signIn('sable')
    expect((await sable.call('GET', `/matters/${m.id}/triggers`)).status).toBe(200)
    expect((await sable.post(`/matters/${m.id}/docket/acts`, { act: change(triggerId, '2027-03-30'), seen: [] })).status).toBe(403)
    await noor.must('POST', `/matters/${m.id}/screens`, { userId: await office.user('Jun'), reason: 'test' })
    expect((await jun.post(`/matters/${m.id}/docket/acts/preview`, { act: change(triggerId, '2027-03-30') })).status).toBe(404)
    expect((await jun.post(`/docket-changes/${changeId}/undo`, {})).status).toBe(404)
  })
})

describe('working out dates', () => {
  it('dockets what was shown and nothing else: where the rules give other dates now, it refuses whole', async () => {
    const m = await matter()
    const asked = { trigger: 'judgment-entered', date: '2026-10-29' }
    const { proposals } = await noor.must<{ proposals: { key: string; title: string; date: string | null }[] }>(
      'POST',
      `/matters/${m.id}/dates/proposed`,
      asked,
    )
    const seen = datesSeen(proposals)
    const take = seen.map((s) => s.key)
    // Shown for another day, with one deadline more, or with one fewer: each could cost a client an appeal.
    const stale = [
      { ...asked, date: '2026-10-30', take, seen },
      { ...asked, take: [...take, 'gone'], seen: [...seen, { key: 'gone', date: '2026-12-01' }] },
      { ...asked, take, seen: seen.slice(1) },
    ]
    for (const body of stale) expect((await noor.post(`/matters/${m.id}/dates`, body)).body.code).toBe('changed-meanwhile')
    expect([await docketOf(m), (await triggersOf(m)).triggers]).toEqual([[], []])
    await noor.must('POST', `/matters/${m.id}/dates`, { ...asked, take, seen })
    expect((await find(m, 'Notice of appeal')).day).toBe('2026-11-30')
  })
})

describe('what an entry says', () => {
  it('is kept with the sum that gave its day, and changed with its history', async () => {
    const m = await matter()
    const sum = await noor.must<{ day: string; text: string }>('GET', `/day-sum?text=${encodeURIComponent('30 Mar 2027 - 6 court days')}`)
    expect(sum).toEqual({ day: '2027-03-22', text: '6 court days before Tue 30 Mar 2027, by the days of U.S. federal civil' })
    const { id } = await noor.must<{ id: number }>('POST', `/matters/${m.id}/docket`, {
      title: 'Retain an expert',
      weight: 'firm practice',
      day: sum.day,
      sum: sum.text,
    })
    const words = {
      title: 'Retain the expert',
      time: '09:30',
      lengthMinutes: 45,
      place: 'Room 2',
      meetingLink: 'https://meet.example/x',
      responsibleId: await office.user('Tomas'),
      urgent: true,
      tags: ['Experts'],
    }
    await noor.must('PUT', `/docket/${id}`, words)
    type Full = Row & { trace: { text: string }[]; tags: string[]; urgent: boolean; responsible: string; time: string }
    const entry = (await docketOf(m)).find((r) => r.id === id) as Full
    expect(entry.trace[0]!.text).toBe(
      'Entered by hand: Mon 22 Mar 2027, 6 court days before Tue 30 Mar 2027, by the days of U.S. federal civil',
    )
    expect(entry).toMatchObject({
      title: 'Retain the expert',
      time: '09:30',
      tags: ['experts'],
      urgent: true,
      responsible: 'Tomas Okafor-Reyes',
    })
    expect((await noor.must<{ what: string }[]>('GET', `/docket/${id}/history`)).map((h) => h.what)).toContain('changed: time')
    expect((await noor.put(`/docket/${id}`, { ...words, time: '25:00' })).body.fields[0]?.path).toBe('time')
    await noor.call('DELETE', `/docket/${id}`, {})
    expect((await docketOf(m)).some((r) => r.id === id)).toBe(false)
  })
})

describe('a day on which the court is closed', () => {
  it('shows what it moves in every matter before it does, moves it in one act, and leaves what is fixed', async () => {
    const m = await matter()
    await happens(m, 'complaint-served', '2026-11-04')
    const fixed = await matter()
    await happens(fixed, 'complaint-served', '2026-11-04')
    const kept = await find(fixed, 'Answer')
    await act(fixed, { kind: 'extend', entryId: kept.id, day: '2026-12-04', by: 'court', chainFollows: false }, { why: 'order' })
    // The answer would be due on Wed 25 November; Thanksgiving, the state’s day after it and the weekend follow.
    const storm = { day: '2026-11-25', name: 'Storm', ruleSetKey: 'us-federal-civil' }
    expect((await noor.post('/court-closures/preview', storm)).status).toBe(403)
    const shown = await jun.must<{ moves: number; matters: { matterId: number; differences: Difference[] }[] }>(
      'POST',
      '/court-closures/preview',
      storm,
    )
    const own = shown.matters.find((x) => x.matterId === m.id)!
    expect(own.differences.map((d) => [d.title, d.becomes])).toEqual([['Answer or Rule 12 motion', '2026-11-30']])
    expect(shown.matters.some((x) => x.matterId === fixed.id)).toBe(false)
    expect((await find(m, 'Answer')).day).toBe('2026-11-25')
    expect((await jun.post('/court-closures', { ...storm, moves: shown.moves + 1 })).body.code).toBe('changed-meanwhile')
    const { id } = await jun.must<{ id: number }>('POST', '/court-closures', { ...storm, moves: shown.moves })
    expect((await find(m, 'Answer')).day).toBe('2026-11-30')
    expect((await jun.post('/court-closures', { ...storm, moves: 0 })).body.fields[0]?.path).toBe('day')
    // What is worked out from now on knows of it.
    const later = await noor.must<{ proposals: { key: string; date: string }[] }>('POST', `/matters/${fixed.id}/dates/proposed`, {
      trigger: 'complaint-served',
      date: '2026-11-04',
    })
    expect(later.proposals.find((p) => p.key === 'answer')!.date).toBe('2026-11-30')
    await jun.call('DELETE', `/court-closures/${id}`, {})
    // Whoever is screened is told nothing of that matter, not even how many of its dates move; they move all the same.
    const walled = await matter()
    await happens(walled, 'complaint-served', '2026-11-04')
    const told = async () => (await jun.must<{ moves: number }>('POST', '/court-closures/preview', storm)).moves
    const before = await told()
    await noor.must('POST', `/matters/${walled.id}/screens`, { userId: await office.user('Jun'), reason: 'test' })
    expect(await told()).toBe(before - 1)
    const again = await jun.must<{ id: number; moved: number }>('POST', '/court-closures', { ...storm, moves: before - 1 })
    expect([again.moved, (await find(walled, 'Answer')).day]).toEqual([before - 1, '2026-11-30'])
    await jun.call('DELETE', `/court-closures/${again.id}`, {})
    // Taken back, its dates stand until they are counted again.
    const counted = await act(walled, { kind: 'recount' })
    expect([counted.moved, (await find(walled, 'Answer')).day]).toEqual([1, '2026-11-25'])
    // What hangs on a date that moves follows it, however far from the closure.
    const chain = await matter()
    await happens(chain, 'trial-set', '2027-03-30')
    const far = await jun.must<{ matters: { matterId: number; differences: Difference[] }[] }>('POST', '/court-closures/preview', {
      ...storm,
      day: '2026-12-30',
    })
    expect(far.matters.find((x) => x.matterId === chain.id)!.differences.map((d) => [d.title, d.becomes])).toEqual([
      ['Expert disclosures', '2026-12-29'],
      ['Rebuttal expert disclosures', '2027-01-28'],
    ])
  })
})

describe('an event', () => {
  const paper = async (m: { id: number }, name: string) => {
    const form = new FormData()
    form.set('folder', 'Pleadings')
    form.set('file', new File(['%PDF-1.7'], name, { type: 'application/pdf' }))
    const sent = await fetch(`${office.base}/api/matters/${m.id}/papers/file`, {
      method: 'POST',
      headers: { cookie: noor.cookie, 'x-heron-csrf': noor.csrf, 'idempotency-key': randomUUID() },
      body: form,
    })
    return ((await sent.json()) as { id: number }).id
  }
  it('names the party it concerns in the titles of its dates, and the paper it comes of', async () => {
    const m = await matter()
    const contact = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name: 'Corvane Towing Co.' })
    await noor.must('POST', `/matters/${m.id}/parties`, { contactId: contact.id, role: 'defendant', side: 'adverse' })
    type Triggers = {
      triggers: { label: string; party: string | null; paper: { name: string } | null }[]
      parties: { id: number; name: string }[]
    }
    const party = (await noor.must<Triggers>('GET', `/matters/${m.id}/triggers`)).parties.find((p) => p.name === 'Corvane Towing Co.')!
    const paperId = await paper(m, 'Summons.pdf')
    await happens(m, 'complaint-served', '2026-11-04', { service: 'hand', partyId: party.id, paperId })
    const answer = (await noor.must<(Row & { paper: { name: string } | null })[]>('GET', `/matters/${m.id}/docket`))[0]!
    expect([answer.title, answer.day, answer.paper?.name]).toEqual([
      'Answer or Rule 12 motion (Corvane Towing Co.)',
      '2026-11-25',
      'Summons.pdf',
    ])
    const [event] = (await noor.must<Triggers>('GET', `/matters/${m.id}/triggers`)).triggers
    expect([event!.label, event!.party, event!.paper?.name]).toEqual(['Corvane Towing Co.', 'Corvane Towing Co.', 'Summons.pdf'])
    // A party or paper of another matter is none of this one.
    const other = await matter()
    const served = { trigger: 'complaint-served', date: '2026-11-04', service: 'hand', take: [], seen: [] }
    expect((await noor.post(`/matters/${other.id}/dates`, { ...served, partyId: party.id })).body.fields[0]?.path).toBe('partyId')
    expect((await noor.post(`/matters/${other.id}/dates`, { ...served, paperId })).body.fields[0]?.path).toBe('paperId')
    // Taken off the matter, the party leaves its name in the label.
    await noor.call('DELETE', `/parties/${party.id}`, {})
    expect((await noor.must<Triggers>('GET', `/matters/${m.id}/triggers`)).triggers[0]).toMatchObject({
      label: 'Corvane Towing Co.',
      party: null,
    })
  })
})

describe('the docket as a list', () => {
  it('has what is off calendar, which calendars do not, and says when there is more than it shows', async () => {
    const m = await matter()
    const add = (title: string, more: object = {}) =>
      noor.must('POST', `/matters/${m.id}/docket`, { title, weight: 'firm practice', day: '2026-12-02', ...more })
    await add('Cassowary plain')
    await add('Cassowary off', { offCalendar: true })
    type Found = { rows: (Row & { zone: string })[]; more: { rows: boolean } }
    const ask = (more = '') => jun.must<Found>('GET', `/docket?from=2026-11-23&courtDays=20&scope=firm&q=Cassowary${more}`)
    expect((await ask()).rows.map((r) => r.title)).toEqual(['Cassowary plain', 'Cassowary off'])
    expect((await ask('&onCalendar=true')).rows.map((r) => r.title)).toEqual(['Cassowary plain'])
    const one = await ask('&size=1')
    expect([one.rows.length, one.more.rows, one.rows[0]!.zone]).toEqual([1, true, 'America/New_York'])
  })

  it('is narrowed by words, person, weight and what needs a look, and leaves as CSV and PDF', async () => {
    const m = await matter()
    await happens(m, 'trial-set', '2027-01-28', { tentative: true, label: 'Pelican trial' })
    const ask = (more: string) =>
      jun.must<{ rows: Row[]; late: Row[] }>('GET', `/docket?from=2026-11-23&courtDays=65&scope=firm&q=Pelican${more}`)
    expect((await ask('')).rows.length).toBeGreaterThan(1)
    expect((await ask('&weight=strict')).rows).toEqual([])
    expect((await ask('&only=unconfirmed')).rows.length).toBe((await ask('')).rows.length)
    expect((await ask('+disclosures')).rows.every((r) => r.title.includes('isclosures'))).toBe(true)
    const late = (await ask('&only=late')).late
    expect(late.map((r) => r.title)).toEqual(['Expert disclosures (Pelican trial)'])
    await run(office.db.manager, `UPDATE docket_entry SET responsible_id = NULL WHERE id = ?`, [late[0]!.id])
    expect((await ask('&only=unassigned')).late.map((r) => r.id)).toEqual([late[0]!.id])
    const csv = await jun.get(`/docket/report?from=2026-11-23&courtDays=65&scope=firm&q=Pelican&format=csv`)
    const lines = csv.bytes.toString().split('\r\n')
    expect(lines[0]).toContain('Date,Time,Matter,Title,Weight,Authority')
    expect(lines.some((l) => l.includes('Pretrial disclosures (Pelican trial)') && l.includes('tentative'))).toBe(true)
    for (const paper of ['LETTER', 'A4']) {
      const pdf = await noor.get(`/docket/report?kind=matter&matterId=${m.id}&from=2026-11-23&texts=true&format=pdf&paper=${paper}`)
      expect([pdf.type, pdf.bytes.subarray(0, 5).toString()]).toEqual(['application/pdf', '%PDF-'])
    }
  })
})
