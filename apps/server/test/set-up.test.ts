import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readTable } from '@heron/core/formats'
import { row, runOneJob } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let ferdi: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, ferdi] = await Promise.all([office.signIn('noor'), office.signIn('ferdi')])
})
afterAll(() => office.close())

interface Import {
  id: number
  state: string
  total: number
  good: number
  encoding: string
  mapping: Record<string, string>
  faults: { row: number; column: string; text: string }[]
}
async function read(what: string, content: string | Uint8Array): Promise<Import & { detail: string; fields: { path: string }[] }> {
  const form = new FormData()
  form.set('what', what)
  form.set('file', new File([content as BlobPart], 'table.csv', { type: 'text/csv' }))
  const answer = await fetch(`${noor.base}/api/imports`, {
    method: 'POST',
    headers: { cookie: noor.cookie, 'x-heron-csrf': noor.csrf, 'idempotency-key': randomUUID() },
    body: form,
  })
  return (await answer.json()) as Awaited<ReturnType<typeof read>>
}
/** Waits for the worker of the server under test, or does the job itself. */
async function until(jobId: number) {
  for (let i = 0; i < 600; i += 1) {
    const job = await noor.must<{ state: string; error: string | null }>('GET', `/jobs/${jobId}`)
    if (job.state === 'done' || job.state === 'failed') return job
    await runOneJob(office.running.base)
  }
  throw new Error('The job did not end')
}
async function tryOut(i: Import, mapping = i.mapping) {
  const { jobId } = await noor.must<{ jobId: number }>('POST', `/imports/${i.id}/tried`, { mapping })
  await until(jobId)
  return noor.must<Import>('GET', `/imports/${i.id}`)
}
async function load(i: Import) {
  const answer = await noor.post<{ jobId: number }>(`/imports/${i.id}/loaded`, {})
  return answer.status === 200 ? until(answer.body.jobId) : answer.body
}
const count = async (name: string) =>
  (await row<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM contact WHERE name LIKE ?`, [name]))!.n

describe('an import of contacts', () => {
  it('knows its columns, shows every row that fails and why, and loads all or nothing', async () => {
    const text =
      'Full name;Email;Telephone;Category;Employer;Job title;Born\nImp One;one@imp.example;555 0101 22;witness;Imp Works;Clerk;1980-02-28\nImp Two;not an address;;astronaut;;;30 Feb 1980\n;x@imp.example;;;;;\n'
    const first = await read('contacts', text)
    expect(first.mapping).toMatchObject({
      Name: 'Full name',
      'E-mail': 'Email',
      Phone: 'Telephone',
      Kinds: 'Category',
      'Works for': 'Employer',
      Title: 'Job title',
      'Date of birth': 'Born',
    })
    const tried = await tryOut(first)
    expect([tried.good, tried.total]).toEqual([1, 3])
    expect(tried.faults.map((f) => [f.row, f.column])).toEqual([
      [3, 'Kinds'],
      [3, 'Date of birth'],
      [3, 'E-mail'],
      [4, 'Name'],
    ])
    expect(await load(tried)).toMatchObject({ code: 'rows-fail' })
    expect(await count('Imp %')).toBe(0)
    const mend = readTable((await noor.get(`/imports/${first.id}/faults`)).bytes)
    expect(mend.columns.at(-1)).toBe('Why it fails')
    expect(mend.rows).toHaveLength(2)

    const mended = await tryOut(
      await read(
        'contacts',
        text
          .replace('not an address', 'two@imp.example')
          .replace('astronaut', 'expert')
          .replace('30 Feb', '28 Feb')
          .replace('\n;x@', '\nImp Three;x@'),
      ),
    )
    expect(mended.faults).toEqual([])
    expect(await load(mended)).toMatchObject({ state: 'done' })
    expect(await count('Imp %')).toBe(4)
    const one = (await noor.must<{ rows: { id: number }[] }>('GET', '/contacts?q=imp+one')).rows[0]!
    expect(await noor.must('GET', `/contacts/${one.id}`)).toMatchObject({
      birthDate: '1980-02-28',
      kinds: ['witness'],
      relations: [{ reads: 'works for', other: 'Imp Works', title: 'Clerk' }],
    })
    expect(await load(mended)).toMatchObject({ code: 'not-tried' })
    const again = await tryOut(await read('contacts', text.split('\n').slice(0, 2).join('\n')))
    expect(again.faults[0]!.text).toContain('on record')
    const { hits } = await noor.must<{ hits: { name: string }[] }>('POST', '/conflict-checks', { terms: ['Imp Onne'] })
    expect(hits.map((h) => h.name)).toContain('Imp One')
  })

  it('reads other encodings, and refuses what is no table', async () => {
    const latin = Uint8Array.from([...'Name\r\nAgn'].map((c) => c.charCodeAt(0)).concat([0xe8, 0x73, 0x0d, 0x0a]))
    const got = await read('contacts', latin)
    expect(got).toMatchObject({ encoding: 'Windows-1252', total: 1 })
    expect((await read('contacts', 'Name\n')).fields[0]).toMatchObject({ path: 'file' })
    const noName = await read('contacts', 'Colour\nred\n')
    expect((await noor.post(`/imports/${noName.id}/tried`, { mapping: {} })).body.fields[0]).toMatchObject({ path: 'mapping.Name' })
  })

  it('carries back what CSV took out', async () => {
    await noor.must('POST', '/contacts', {
      kind: 'organization',
      name: 'Roundtrip Räucherei GmbH',
      kinds: ['vendor'],
      aliases: [{ kind: 'trading name', name: 'Smoke & Co' }],
      reaches: [
        { what: 'phone', label: '', value: '+49 40 555 0100' },
        { what: 'address', label: '', value: 'Hafen 1\nHamburg' },
        { what: 'e-mail', label: '', value: 'a@rauch.example' },
        { what: 'e-mail', label: '', value: 'b@rauch.example' },
      ],
    })
    const csv = (await noor.get('/contacts/export?format=csv&q=raucherei')).bytes.toString().replace('Roundtrip R', 'Returned R')
    const tried = await tryOut(await read('contacts', csv))
    expect(tried.faults).toEqual([])
    await load(tried)
    const [a, b] = await Promise.all(
      ['roundtrip', 'returned'].map(async (q) =>
        noor.must<Record<string, unknown>>(
          'GET',
          `/contacts/${(await noor.must<{ rows: { id: number }[] }>('GET', `/contacts?q=${q}`)).rows[0]!.id}`,
        ),
      ),
    )
    // CSV has no labels and puts e-mails, phones and addresses in that order.
    const sorted = (c: Record<string, unknown>) => ({
      kind: c['kind'],
      kinds: c['kinds'],
      aliases: c['aliases'],
      reaches: [...(c['reaches'] as { value: string }[])].map((r) => r.value).sort(),
    })
    expect(sorted(b!)).toEqual(sorted(a!))
  })
})

describe('an import of matters', () => {
  it('finds clients, lawyers, areas and stages by their names, and gives numbers where there are none', async () => {
    await noor.must('POST', '/contacts', { kind: 'person', name: 'Ximena Imported', kinds: ['client'] })
    const head = 'Matter,Client,Opened,Practice area,Stage,Lead,Number,Opponent,Close date\n'
    const bad = await tryOut(
      await read(
        'matters',
        `${head}Old case,Ximena Imported,2020-01-05,Estates,Claims,DF,OLD-1,,\nTwin,Nobody Here,someday,Alchemy,,ZZ,OLD-1,,2019-01-01\n`,
      ),
    )
    expect(bad.faults.map((f) => f.column).sort()).toEqual(['Client', 'Lead lawyer', 'Number', 'Opened', 'Practice area'])
    const good = await tryOut(
      await read(
        'matters',
        `${head}Old case,Ximena Imported,2020-01-05,Estates,Claims,DF,OLD-1,,2021-02-01\nNewer,Ximena Imported,2026-01-05,,,,,Ximena Imported,\n`,
      ),
    )
    expect(good.faults).toEqual([])
    await load(good)
    const list = await noor.must<{ rows: { number: string; name: string; closedOn: string | null; stage: string; conflicts: string }[] }>(
      'GET',
      '/matters?q=ximena&state=all&sort=opened',
    )
    expect(list.rows).toMatchObject([
      { name: 'Newer', closedOn: null, number: expect.stringMatching(/^26-\d{4}$/) as string, conflicts: 'not checked' },
      { name: 'Old case', closedOn: '2021-02-01', number: 'OLD-1', stage: 'Claims' },
    ])
  })
})

describe('the set-up', () => {
  it('is the administrator’s, and keeps the firm usable', async () => {
    expect((await noor.get('/firm')).status).toBe(403)
    const firm = await ferdi.must<Record<string, unknown>>('GET', '/firm')
    const { holidays: _h, nextNumber: _n, districts: _d, ...own } = firm
    expect((await ferdi.put('/firm', { ...own, matterPattern: '{yy}' })).body.fields[0]).toMatchObject({ path: 'matterPattern' })
    expect((await ferdi.put('/firm', { ...own, workDays: [] })).status).toBe(400)
    expect((await ferdi.put('/firm', { ...own, zone: 'Wexmoor/Quay' })).body.fields[0]).toMatchObject({ path: 'zone' })
    expect(own['zone']).toBe('America/New_York')
    expect((await ferdi.put('/firm', own)).status).toBe(200)
    expect(
      (
        await ferdi.put('/firm/holidays', {
          holidays: [
            { day: '2027-01-02', name: 'a' },
            { day: '2027-01-02', name: 'b' },
          ],
        })
      ).body.fields[0],
    ).toMatchObject({ path: 'holidays.1.day' })
    expect((await ferdi.post('/set-up', { firm: { name: 'x', address: 'y' } })).status).toBe(400)
  })

  it('closed days of the firm’s own are no business days of procedures', async () => {
    await ferdi.must('PUT', '/firm/holidays', { holidays: [{ day: '2026-12-01', name: 'Harbor day' }] })
    const p = await ferdi.must<{ id: number }>('POST', '/procedures', {
      name: 'Own holidays',
      steps: [
        {
          key: 'a',
          text: 'x',
          assignTo: { kind: 'starter' },
          due: { count: 1, unit: 'business', direction: 'after', anchor: { kind: 'start' } },
        },
      ],
    })
    const m = await office.matter(noor, 'Own Holidays')
    const plan = await noor.must<{ steps: { dueOn: string }[] }>('POST', `/matters/${m.id}/procedures/preview`, {
      procedureId: p.id,
      start: '2026-11-30',
    })
    expect(plan.steps[0]!.dueOn).toBe('2026-12-02')
    await ferdi.must('PUT', '/firm/holidays', { holidays: [] })
  })

  it('a rate from a day on ends the one before, so that one is in force on every day', async () => {
    const made = await ferdi.must<{ id: number }>('POST', '/staff', {
      name: 'Rated Person',
      initials: 'RP',
      email: 'rated@callowayfenn.example',
      role: 'paralegal',
      password: 'long enough to keep',
    })
    await ferdi.must('POST', `/staff/${made.id}/rates`, { from: '2026-01-01', rate: 100_00 })
    await ferdi.must('POST', `/staff/${made.id}/rates`, { from: '2026-12-01', rate: 120_00 })
    const rates = (await ferdi.must<{ id: number; rates: { from: string; to: string | null; rate: number }[] }[]>('GET', '/staff')).find(
      (p) => p.id === made.id,
    )!.rates
    expect(rates).toMatchObject([
      { from: '2026-12-01', to: null, rate: 120_00 },
      { from: '2026-01-01', to: '2026-11-30', rate: 100_00 },
    ])
    expect((await ferdi.post(`/staff/${made.id}/rates`, { from: '2026-06-01', rate: 1 })).body.fields[0]).toMatchObject({ path: 'from' })
    expect(
      (
        await ferdi.post('/staff', {
          name: 'Twin',
          initials: 'TW',
          email: 'RATED@callowayfenn.example',
          role: 'lawyer',
          password: 'long enough to keep',
        })
      ).body.fields[0],
    ).toMatchObject({ path: 'email' })
  })

  it('stages and kinds that are in use are retired, not lost', async () => {
    const areas = await ferdi.must<
      {
        id: number
        name: string
        stages: { id: number; name: string; retired: boolean }[]
        staff: object
        team: object[]
        procedureIds: number[]
        ruleSetKey: string | null
      }[]
    >('GET', '/areas')
    const wages = areas.find((a) => a.name === 'Wages')!
    await office.matter(noor, 'Wage Claimant', { areaId: wages.id })
    const put = (stages: object[]) => ferdi.put(`/areas/${wages.id}`, { ...wages, stages })
    expect((await put(wages.stages.slice(1))).body.code).toBe('stage-in-use')
    expect((await put([...wages.stages].reverse())).status).toBe(200)
    expect((await put([...wages.stages, { name: 'Appeal' }])).status).toBe(200)
    const kinds = await noor.must<string[]>('GET', '/contact-kinds')
    expect((await ferdi.put('/contact-kinds', { kinds: kinds.filter((k) => k !== 'client') })).body.fields[0]).toMatchObject({
      path: 'kinds',
    })
    await ferdi.must('PUT', '/contact-kinds', { kinds: [...kinds, 'harbor master'] })
    expect(await noor.must('GET', '/contact-kinds')).toContain('harbor master')
  })
})
