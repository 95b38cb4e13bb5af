import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { shippedRuleSets, type RuleDeadline, type RuleSet } from '@heron/core/docket'
import { writeRuleSet } from '@heron/core/formats'
import { dates } from './dates'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let jun: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, jun] = await Promise.all([office.signIn('noor'), office.signIn('jun')])
})
afterAll(() => office.close())

const superior = shippedRuleSets.find((s) => s.key === 'wexmoor-superior')!
/** A court of appeals that the firm wrote itself: one event, one deadline, a holiday of its own. */
const appeals = (days: number, more: Partial<RuleSet> = {}): RuleSet => ({
  ...superior,
  key: 'harrow-appeals',
  title: 'Harrow court of appeals',
  court: 'Harrow Court of Appeals',
  edition: `days ${days}`,
  counting: { ...superior.counting, shortPeriodUnder: null },
  holidays: ['us-federal', 'harrow'],
  holidaySets: [{ key: 'harrow', title: 'Harrow', rules: [{ kind: 'single', name: 'Founders’ Day', date: '2027-01-14' }] }],
  triggers: [{ key: 'record-filed', title: 'Record filed', order: 1, asksService: false }],
  facts: [],
  deadlines: [
    {
      key: 'opening-brief',
      trigger: 'record-filed',
      title: 'Opening brief',
      text: 'Serve and file the opening brief of the appellant.',
      authority: { cite: 'Harrow App. R. 4' },
      weight: 'rule',
      legs: [{ base: { kind: 'trigger' }, count: days, unit: 'day', direction: 'after', roll: 'default' }],
      serviceExtends: false,
    },
  ],
  ...more,
})
const save = (set: RuleSet) => jun.put<{ no: number }>('/rules', { file: writeRuleSet(set), note: 'by hand' })
interface Effect {
  moves: number
  adds: number
  matters: { matterId: number; differences: { title: string; was: string; becomes: string }[]; adds: { key: string; date: string }[] }[]
}
const effect = (key: string) => jun.must<Effect>('GET', `/rules/${key}/effect`)

describe('rule sets of the firm’s own', () => {
  it('are told what is wrong with them, and nothing is kept', async () => {
    const broken = { ...appeals(40), deadlines: [{ ...appeals(40).deadlines[0]!, trigger: 'moonrise' }] }
    const { faults, found } = await jun.must<{ faults: { where: string; what: string }[]; found: unknown }>('POST', '/rules/check', {
      file: writeRuleSet(broken),
    })
    expect({ faults, found }).toEqual({
      faults: [{ where: 'deadlines[1] (opening-brief)', what: 'The trigger “moonrise” is not in the set' }],
      found: null,
    })
    expect((await save(broken)).body.fields[0]).toMatchObject({ path: 'file' })
    expect((await save({ ...appeals(40), key: 'wexmoor-superior' })).body.fields[0]?.message).toContain('ships with the application')
    expect((await noor.put('/rules', { file: writeRuleSet(appeals(40)) })).status).toBe(403)
  })

  it('serve matters like any other, and amending them proposes and moves nothing by itself', async () => {
    expect((await save(appeals(40))).body.no).toBe(1)
    const { docketOf, happens } = dates(noor)
    const m = await office.matter(noor, 'Appeal Client Ltd', { ruleSetKey: 'harrow-appeals' })
    await happens(m, 'record-filed', '2026-11-23')
    // Mon 23 Nov 2026 + 40 days is Sat 2 Jan 2027, which rolls to Mon 4 Jan.
    expect((await docketOf(m))[0]).toMatchObject({ title: 'Opening brief', day: '2027-01-04' })
    const next = appeals(52)
    next.deadlines.push({
      ...next.deadlines[0]!,
      key: 'reply',
      title: 'Reply brief',
      legs: [{ ...next.deadlines[0]!.legs[0]!, count: 80 }],
    })
    const checked = await jun.must<{ found: { against: Record<string, string[]> } }>('POST', '/rules/check', { file: writeRuleSet(next) })
    expect(checked.found.against).toEqual({ added: ['Reply brief'], changed: ['Opening brief'], gone: [] })
    expect((await save(next)).body.no).toBe(2)
    expect((await docketOf(m)).map((r) => r.day)).toEqual(['2027-01-04'])
    // + 52 days is Thu 14 Jan 2027, the set's own holiday: Fri 15 Jan.
    const shown = await effect('harrow-appeals')
    expect(shown).toMatchObject({ moves: 1, adds: 1 })
    expect(shown.matters[0]).toMatchObject({
      matterId: m.id,
      differences: [{ was: '2027-01-04', becomes: '2027-01-15' }],
      adds: [{ key: 'reply', date: '2027-02-11' }],
    })
    expect((await jun.post('/rules/harrow-appeals/effect', { moves: 1, adds: 0 })).body.code).toBe('changed-meanwhile')
    await jun.must('POST', '/rules/harrow-appeals/effect', { moves: 1, adds: 1 })
    expect((await docketOf(m)).map((r) => [r.title, r.day])).toEqual([
      ['Opening brief', '2027-01-15'],
      ['Reply brief', '2027-02-11'],
    ])
    expect(await effect('harrow-appeals')).toMatchObject({ moves: 0, adds: 0 })
    // Each matter can undo its own share.
    const { last } = await noor.must<{ last: { id: number } }>('GET', `/matters/${m.id}/triggers`)
    await noor.must('POST', `/docket-changes/${last.id}/undo`, {})
    expect((await docketOf(m)).map((r) => r.day)).toEqual(['2027-01-04'])
    expect((await jun.call('DELETE', '/rules/harrow-appeals', {})).body.code).toBe('in-use')
  })

  it('go out and come back in the open format', async () => {
    const out = await jun.get('/rules/harrow-appeals/file')
    const back = await jun.must<{ faults: unknown[]; found: { against: unknown } }>('POST', '/rules/check', { file: out.bytes.toString() })
    expect(back).toMatchObject({ faults: [], found: { against: { added: [], changed: [], gone: [] } } })
    expect((await jun.get<{ title: string }>('/rule-set-schema')).type).toContain('application/schema+json')
  })

  it('are not written over by someone who began before another edition was kept', async () => {
    const set = (days: number) => appeals(days, { key: 'harrow-shared' })
    const keep = (days: number, after: number) => jun.call('PUT', '/rules', { file: writeRuleSet(set(days)), after })
    const check = () => jun.must<{ found: { no: number } }>('POST', '/rules/check', { file: writeRuleSet(set(12)) })
    expect((await check()).found.no).toBe(0)
    expect((await keep(10, 0)).status).toBe(200)
    const { no } = (await check()).found
    expect((await keep(11, no)).status).toBe(200)
    expect((await keep(12, no)).body.code).toBe('changed-meanwhile')
    expect((await keep(12, 0)).body.code).toBe('changed-meanwhile')
    expect((await jun.must<{ file: string }>('GET', '/rules/harrow-shared')).file).toContain('"count": 11')
    expect((await jun.call('DELETE', '/rules/harrow-shared', {})).status).toBe(200)
  })

  it('can be tried before they are kept, and taken away while nothing uses them', async () => {
    const set = appeals(10, { key: 'harrow-small' })
    const tried = await noor.must<{ proposals: { date: string }[] }>('POST', '/rules/try', {
      file: writeRuleSet(set),
      trigger: 'record-filed',
      date: '2026-11-23',
    })
    expect(tried.proposals[0]!.date).toBe('2026-12-03')
    await save(set)
    expect((await jun.call('DELETE', '/rules/harrow-small', {})).status).toBe(200)
    expect((await jun.get('/rules/harrow-small')).status).toBe(404)
  })
})

describe('the firm’s own dates on top of a court’s rules', () => {
  const own: Omit<RuleDeadline, 'key' | 'title'> = {
    trigger: 'complaint-served',
    text: 'Send the client the draft answer.',
    authority: { cite: 'Firm practice' },
    weight: 'firm practice',
    legs: [
      { base: { kind: 'deadline', key: 'answer', moment: 'final' }, count: 5, unit: 'courtDay', direction: 'before', roll: 'default' },
    ],
    serviceExtends: false,
  }
  const put = (deadline: object, title = 'Draft answer to the client') =>
    jun.put<{ deadlineKey: string }>('/rules/us-federal-civil/practice', { title, deadline: JSON.stringify(deadline) })

  it('are none of them lost when two people change them at once', async () => {
    const titles = ['Order the survey', 'Order the tide tables', 'Call the master', 'Book the interpreter']
    const made = await Promise.all(titles.map((title) => put(own, title)))
    expect(made.map((x) => x.status)).toEqual([200, 200, 200, 200])
    const kept = async () =>
      (JSON.parse((await jun.must<{ practice: string }>('GET', '/rules/us-federal-civil')).practice) as { title: string }[]).map(
        (d) => d.title,
      )
    expect((await kept()).sort()).toEqual([...titles].sort())
    await Promise.all(made.map((x) => jun.call('DELETE', `/rules/us-federal-civil/practice/${x.body.deadlineKey}`, {})))
    expect(await kept()).toEqual([])
  })

  it('are proposed for what is docketed already, taken one matter at a time, and refused when they do not hold together', async () => {
    const { docketOf, happens } = dates(noor)
    const m = await office.matter(noor, 'Practice Client Ltd', { ruleSetKey: 'us-federal-civil' })
    await happens(m, 'complaint-served', '2026-11-20', { service: 'hand' })
    const bad = await put({ ...own, legs: [{ ...own.legs[0], base: { kind: 'deadline', key: 'nothing', moment: 'final' } }] })
    expect(bad.body.fields[0]).toMatchObject({
      path: 'deadline',
      message: 'legs[1] It counts from “nothing”, which its trigger does not have',
    })
    const made = await put(own)
    expect(made.body.deadlineKey).toBe('firm-draft-answer-to-the-client')
    const { triggers } = await noor.must<{ triggers: { id: number; missing: { key: string; date: string }[] }[] }>(
      'GET',
      `/matters/${m.id}/triggers`,
    )
    // Answer Fri 11 Dec 2026; five court days back: 10, 9, 8, 7, Fri 4 Dec.
    expect(triggers[0]!.missing).toMatchObject([{ key: 'firm-draft-answer-to-the-client', date: '2026-12-04' }])
    const seen = triggers[0]!.missing.map(({ key, date }) => ({ key, date }))
    const path = `/matters/${m.id}/triggers/${triggers[0]!.id}/dates`
    expect((await noor.post(path, { triggerId: triggers[0]!.id, take: [], seen: [] })).body.code).toBe('changed-meanwhile')
    expect(await noor.must('POST', path, { take: [seen[0]!.key], seen })).toMatchObject({ docketed: 1 })
    expect((await docketOf(m)).map((r) => [r.day, r.title])).toContainEqual(['2026-12-04', 'Draft answer to the client'])
    // A date taken away by someone is not proposed again.
    const entry = (await docketOf(m)).find((r) => r.title.startsWith('Draft'))!
    await noor.call('DELETE', `/docket/${entry.id}`, {})
    expect(
      (await noor.must<typeof triggers & { triggers: typeof triggers }>('GET', `/matters/${m.id}/triggers`)).triggers[0]!.missing,
    ).toEqual([])
  })

  it('stay out of the court’s own file, and go with it only on request', async () => {
    const plain = JSON.parse((await jun.get('/rules/us-federal-civil/file')).bytes.toString()) as RuleSet
    const whole = JSON.parse((await jun.get('/rules/us-federal-civil/file?practice=true')).bytes.toString()) as RuleSet
    expect(whole.deadlines.length - plain.deadlines.length).toBe(1)
    expect((await jun.call('DELETE', '/rules/us-federal-civil/practice/firm-draft-answer-to-the-client', {})).status).toBe(200)
    const { practice, editions } = await jun.must<{ practice: string; editions: unknown[] }>('GET', '/rules/us-federal-civil')
    // Four added and taken out above, one here.
    expect([practice, editions.length]).toEqual(['[]', 10])
  })
})

describe('a day on which only the clerk’s office cannot be reached', () => {
  it('moves what is filed, and nothing that is served', async () => {
    const { happens } = dates(noor)
    const m = await office.matter(noor, 'Outage Client Ltd', { ruleSetKey: 'us-federal-civil' })
    await happens(m, 'judgment-entered', '2026-11-06')
    await happens(m, 'interrogatories-served', '2026-11-06', { service: 'hand' })
    // Both end on Sun 6 Dec 2026 and roll to Mon 7 Dec.
    const closure = { day: '2026-12-07', name: 'Filing system down', ruleSetKey: 'us-federal-civil', filingOnly: true }
    const shown = await jun.must<Effect>('POST', '/court-closures/preview', closure)
    const of = (list: Effect['matters']) =>
      list.filter((x) => x.matterId === m.id).flatMap((x) => x.differences.map((d) => [d.title, d.becomes]))
    expect(of(shown.matters)).toContainEqual(['Notice of appeal', '2026-12-08'])
    expect(of(shown.matters).some(([title]) => title === 'Answers to interrogatories')).toBe(false)
    const whole = await jun.must<Effect>('POST', '/court-closures/preview', { ...closure, filingOnly: false })
    expect(of(whole.matters)).toContainEqual(['Answers to interrogatories', '2026-12-08'])
  })
})
