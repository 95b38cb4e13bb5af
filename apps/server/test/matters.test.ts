import { contract, type RouteMeta } from '@heron/contract'
import { readTable } from '@heron/core/formats'
import { traverseContractProcedures } from '@orpc/server'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'ingrid' | 'billie' | 'tomas' | 'jun' | 'orla' | 'sable' | 'ferdi', Person>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'ingrid', 'billie', 'tomas', 'jun', 'orla', 'sable', 'ferdi'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.close())

interface Matter {
  id: number
  number: string
  name: string
  version: number
  conflictState: string
  missing: string[]
  team: { userId: number; role: string; keeps: boolean; grants: Record<string, number> }[]
  own: Record<string, number> & { keeps: boolean }
  figures: object | null
  closedOn: string | null
  stages: { id: number; name: string; days: number }[]
  stageId: number | null
  areaId: number
  clientId: number
  tags: string[]
  counts: Record<string, number>
}
const read = (p: Person, id: number) => p.must<Matter>('GET', `/matters/${id}`)
const area = async (name: string) =>
  (await row<{ id: number }>(office.db.manager, `SELECT id FROM practice_area WHERE name = ?`, [name]))!.id

describe('opening', () => {
  it('needs no more than a client, a name and a day; the file says what is missing', async () => {
    const client = await who.noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Bare Minimum' })
    const made = await who.noor.must<{ id: number; number: string }>('POST', '/matters', {
      clientId: client.id,
      name: 'Bare matter',
      openedOn: '2026-11-20',
    })
    expect(made.number).toMatch(/^26-\d{4}$/)
    const m = await read(who.noor, made.id)
    expect(m.missing).toEqual(expect.arrayContaining(['whom to bill', 'practice area', 'parties']))
    expect(m.conflictState).toBe('cleared')
    expect(m.team).toMatchObject([{ role: 'lead', keeps: true }])
  })

  it('takes from the area its stage and who may see it, and starts its procedure', async () => {
    const clinic = await area('Benefits clinic')
    const procedure = (await who.noor.must<{ id: number; name: string }[]>('GET', '/procedures')).find(
      (p) => p.name === 'Opening a court matter',
    )!
    const m = await office.matter(who.noor, 'Clinic Client One', {
      areaId: clinic,
      ruleSetKey: null,
      procedures: [{ procedureId: procedure.id, start: '2026-11-23' }],
    })
    expect(await read(who.noor, m.id)).toMatchObject({ stages: [{ name: 'Intake' }, {}, {}, {}], counts: { tasks: 7 } })
    // Staff outside the team may see this area's files, and change nothing.
    expect((await read(who.tomas, m.id)).own).toMatchObject({ file: 1, docket: 1, money: 0, keeps: false })
    expect((await who.tomas.put(`/matters/${m.id}/stage`, { stageId: 1 })).body.code).toBe('part-not-open')
    expect((await read(who.tomas, m.id)).figures).toBeNull()
  })

  it('gives practice and firm matters series of their own, so that clients’ numbers have no gaps', async () => {
    const before = await office.matter(who.noor, 'Number Before')
    const practice = await office.matter(who.noor, 'Trying Things Out', { kind: 'practice' })
    const after = await office.matter(who.noor, 'Number After')
    expect(practice.number).toMatch(/^P-\d+$/)
    expect(Number(after.number.slice(3))).toBe(Number(before.number.slice(3)) + 1)
  })

  it('checks by itself where no check was made, and the file waits until its hits are decided', async () => {
    const old = await office.matter(who.ingrid, 'Marchbanks Ropery')
    await who.ingrid.must('POST', `/matters/${old.id}/parties`, {
      contactId: (await who.noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Evangeline Marchbanks' })).id,
      role: 'claimant',
      side: 'adverse',
    })
    const client = await who.noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Evangeline Marchbank' })
    const made = await who.noor.must<{ id: number }>('POST', '/matters', {
      clientId: client.id,
      name: 'Near hit',
      openedOn: '2026-11-20',
      billToId: client.id,
    })
    expect((await read(who.noor, made.id)).conflictState).toBe('to decide')
    const listed = await who.noor.must<{ rows: { id: number; conflicts: string }[] }>('GET', '/matters?conflicts=open&q=near+hit')
    expect(listed.rows).toMatchObject([{ id: made.id, conflicts: 'to decide' }])
    const { conflicts } = await who.noor.must<{ conflicts: { hits: { id: number; decision: string | null }[] } }>(
      'GET',
      `/matters/${made.id}`,
    )
    for (const h of conflicts.hits.filter((x) => !x.decision))
      await who.noor.must('POST', `/conflict-hits/${h.id}/decision`, { decision: 'waiver needed', note: 'asked' })
    expect((await read(who.noor, made.id)).conflictState).toBe('waiver needed')
    for (const h of conflicts.hits.filter((x) => !x.decision))
      await who.noor.must('POST', `/conflict-hits/${h.id}/decision`, { decision: 'waiver on file' })
    expect((await read(who.noor, made.id)).conflictState).toBe('cleared')
  })

  it('tells whoever is put on the team, once', async () => {
    const m = await office.matter(who.noor, 'Told By Letter', { team: [{ userId: await office.user('Tomas'), role: 'lawyer' }] })
    const letters = () =>
      rows<{ to: string }>(office.db.manager, `SELECT to_address AS \`to\` FROM mail WHERE matter_id = ? AND message_key LIKE 'team %'`, [
        m.id,
      ])
    expect(await letters()).toEqual([{ to: 'tomas@callowayfenn.example' }])
    await who.noor.must('PUT', `/matters/${m.id}/team`, { userId: await office.user('Tomas'), role: 'lawyer', rate: 240_00 })
    expect(await letters()).toHaveLength(1)
  })
})

describe('a file', () => {
  it('is changed with a trace of what changed, and not over someone else’s change', async () => {
    const m = await office.matter(who.noor, 'Changing File')
    const own = {
      clientId: m.clientId,
      name: 'Changed name',
      openedOn: '2026-09-01',
      court: 'Superior Court',
      tags: ['Storm', 'storm', 'Dock'],
    }
    const { version } = await read(who.noor, m.id)
    await who.noor.must('PUT', `/matters/${m.id}`, { ...own, version })
    expect(await read(who.noor, m.id)).toMatchObject({ name: 'Changed name', tags: ['dock', 'storm'] })
    expect((await who.ingrid.put(`/matters/${m.id}`, { ...own, name: 'x', version })).body.code).toBe('changed-meanwhile')
    const log = await who.noor.must<{
      rows: { kind: string; changes: { what: string; was: string; became: string }[] }[]
      kinds: string[]
    }>('GET', `/matters/${m.id}/log?kind=changed`)
    expect(log.rows[0]!.changes).toContainEqual({ what: 'court', was: '', became: 'Superior Court' })
    expect(log.kinds).toContain('opened')
    const byDay = await who.noor.must<{ total: number }>('GET', `/matters/${m.id}/log?from=2020-01-01&to=2020-01-02`)
    expect(byDay.total).toBe(0)
  })

  it('tells a page that stands open what others did since, as far as they may see it in the log', async () => {
    const m = await office.matter(who.noor, 'Newsworth')
    interface News {
      last: number
      others: { id: number; who: string; text: string }[]
    }
    const news = (p: Person, after: number) => p.must<News>('GET', `/matters/${m.id}/news?after=${after}`)
    const { last, others } = await news(who.noor, 0)
    expect([last > 0, others]).toEqual([true, []])
    await who.noor.must('POST', '/notes', { matterId: m.id, html: '<p>Mine</p>' })
    const own = await news(who.noor, last)
    expect([own.last > last, own.others]).toEqual([true, []])
    const sheet = await who.orla.must<{ id: number }>('POST', '/trust/sheets', { bankAccountId: await office.bank('pooled'), day: '2026-11-20', controlTotal: 100, receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind: 'wire', amount: 100 }] }) // prettier-ignore
    await who.orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    const seen = await news(who.noor, last)
    expect(seen.others.length).toBeGreaterThan(0)
    expect(new Set(seen.others.map((o) => o.who))).toEqual(new Set(['Orla Petrakis']))
    expect((await news(who.noor, seen.last)).others).toEqual([])
    // Nobody reads here what their log does not have.
    for (const p of [who.billie, who.jun]) {
      const log = await p.must<{ rows: { id: number }[] }>('GET', `/matters/${m.id}/log?size=50`)
      const ids = new Set(log.rows.map((r) => r.id))
      expect((await news(p, last)).others.every((o) => ids.has(o.id))).toBe(true)
    }
    expect((await who.sable.get(`/matters/${m.id}/news?after=0`)).status).toBe(404)
  })

  it('moves through stages and adds up the days in each', async () => {
    const m = await office.matter(who.noor, 'Staged Matter', { areaId: await area('Estates'), ruleSetKey: null })
    const { stages } = await read(who.noor, m.id)
    await who.noor.must('PUT', `/matters/${m.id}/stage`, { stageId: stages[2]!.id })
    const after = await read(who.noor, m.id)
    expect(after.stageId).toBe(stages[2]!.id)
    // Opened on 1 September, moved on 23 November: 29 + 31 + 23 days.
    expect(after.stages[0]!.days).toBe(83)
    const other = await row<{ id: number }>(office.db.manager, `SELECT id FROM stage WHERE area_id <> ? LIMIT 1`, [after.areaId])
    expect((await who.noor.put(`/matters/${m.id}/stage`, { stageId: other!.id })).body.fields[0]).toMatchObject({ path: 'stageId' })
  })

  it('keeps the firm’s own fields, asked by area and condition, for lists, filters and export', async () => {
    const group = await who.ferdi.must<{ id: number }>('POST', '/field-groups', { owner: 'matter', name: 'Test craft', repeating: true })
    const estates = await area('Estates')
    const make = (more: object) =>
      who.ferdi.must<{ id: number }>('POST', '/fields', { groupId: group.id, name: 'x', type: 'text', ...more })
    const craft = await make({ name: 'Craft', required: true, areaIds: [estates] })
    const worth = await make({ name: 'Worth', type: 'money', areaIds: [estates], shownIf: { fieldId: craft.id, value: 'sloop' } })
    const m = await office.matter(who.noor, 'Fielded Estate', { areaId: estates, ruleSetKey: null })
    expect((await read(who.noor, m.id)).missing).not.toContain('Craft (Test craft 1)')
    const bad = await who.noor.put(`/matters/${m.id}/fields`, { fields: { [craft.id]: ['sloop'], [worth.id]: ['a lot'] } })
    expect(bad.body.fields[0]).toMatchObject({ path: `fields.${worth.id}.0` })
    await who.noor.must('PUT', `/matters/${m.id}/fields`, { fields: { [craft.id]: ['sloop', 'ketch'], [worth.id]: ['1,200', '99'] } })
    const list = await who.noor.must<{ rows: { id: number; fields: Record<string, string> }[] }>(
      'GET',
      `/matters?fieldId=${craft.id}&fieldIs=ket&fields=${craft.id},${worth.id}`,
    )
    expect(list.rows).toMatchObject([{ id: m.id, fields: { [craft.id]: 'sloop, ketch', [worth.id]: '$1,200.00' } }])
    const csv = readTable((await who.noor.get(`/matters/export?q=fielded&columns=name,f${worth.id}`)).bytes)
    expect(csv).toMatchObject({ columns: ['Matter', 'Worth'], rows: [['Fielded Estate, test matter', '1200.00']] })
    // An amount is found however it is written, and not by a part of it in cents.
    const by = async (typed: string) =>
      (await who.noor.must<{ rows: unknown[] }>('GET', `/matters?fieldId=${worth.id}&fieldIs=${encodeURIComponent(typed)}`)).rows.length
    expect([await by('$1,200.00'), await by('1200'), await by('12'), await by('%')]).toEqual([1, 1, 0, 0])
    // A condition may not come round to itself, and a field with values is retired rather than removed.
    expect(
      (
        await who.ferdi.put(`/fields/${craft.id}`, {
          groupId: group.id,
          name: 'Craft',
          type: 'text',
          shownIf: { fieldId: worth.id, value: '1' },
        })
      ).body.fields[0],
    ).toMatchObject({ path: 'shownIf' })
    expect((await who.ferdi.call('DELETE', `/fields/${craft.id}`)).body.code).toBe('field-in-use')
    expect((await who.ferdi.put(`/fields/${craft.id}`, { groupId: group.id, name: 'Craft', type: 'date' })).body.fields[0]).toMatchObject({
      path: 'type',
    })
  })
})

describe('the list', () => {
  it('is narrowed by any mix, by beginnings of words of anything, and sums what is shown', async () => {
    const m = await office.matter(who.noor, 'Zubenel Trawling', { court: 'Court of Zubenel', tags: ['zstorm'], description: 'x' })
    await office.deposit(who.orla, m, 2_000_00)
    await office.bill(who.noor, who.orla, m.id, 300_00)
    const list = async (q: string) =>
      (await who.noor.must<{ rows: { id: number; owed: number; held: number }[] }>('GET', `/matters?${q}`)).rows
    for (const q of [
      'q=zub',
      'q=trawl+zub',
      `q=${m.number.replace('-', '')}`,
      'tag=zstorm',
      'court=Court+of+Zubenel',
      `partyId=${m.clientId}`,
      'heldOver=199999&q=zub',
    ])
      expect(
        (await list(q)).map((r) => r.id),
        q,
      ).toEqual([m.id])
    for (const q of [
      'q=ubenel',
      'q=zub&state=closed',
      'q=zub&openedFrom=2026-10-01',
      'q=zub&idleSince=2026-01-01',
      'heldOver=200000&q=zub',
      'q=zub&unbilledOver=0',
    ])
      expect(await list(q), q).toEqual([])
    expect((await list('q=zub&money=true'))[0]).toMatchObject({ owed: 300_00, held: 2_000_00 })
    expect(await who.noor.must('GET', '/matters/totals?q=zub')).toEqual({ matters: 1, unbilled: 0, owed: 300_00, held: 2_000_00 })
    expect(await who.jun.must('GET', '/matters/totals?q=zub')).toEqual({ matters: 1, unbilled: null, owed: null, held: null })
  })
  it('keeps named views, one’s own and those for all', async () => {
    const state = JSON.stringify({ q: 'zub' })
    await who.noor.must('POST', '/views', { list: 'matters', name: 'Zub', state, shared: true })
    const mine = await who.noor.must<{ id: number; own: boolean }[]>('GET', '/views?list=matters')
    expect(await who.ingrid.must('GET', '/views?list=matters')).toMatchObject([{ name: 'Zub', own: false, by: 'Noor Haddad-Lind' }])
    expect((await who.ingrid.call('DELETE', `/views/${mine[0]!.id}`)).status).toBe(404)
    await who.noor.must('DELETE' as 'POST', `/views/${mine[0]!.id}`)
    // Of one list somebody keeps a hundred; one of them can still be kept anew.
    for (let i = 0; i < 100; i += 1) await who.noor.must('POST', '/views', { list: 'many', name: `View ${i}`, state })
    expect((await who.noor.post('/views', { list: 'many', name: 'One more', state })).body.fields[0]!.path).toBe('name')
    expect((await who.noor.post('/views', { list: 'many', name: 'View 7', state, shared: true })).status).toBe(200)
  })
})

describe('access by part', () => {
  it('is given by whoever keeps the matter, to see or to change', async () => {
    const m = await office.matter(who.noor, 'Parted Access', { access: 'team' })
    const tomas = await office.user('Tomas')
    expect((await who.tomas.get(`/matters/${m.id}`)).status).toBe(404)
    expect((await who.tomas.put(`/matters/${m.id}/team`, { userId: tomas, role: 'lawyer' })).status).toBe(404)
    await who.noor.must('PUT', `/matters/${m.id}/team`, {
      userId: tomas,
      role: 'lawyer',
      grants: { file: 1, docket: 2, papers: 0, money: 0, trust: 0 },
    })
    expect((await read(who.tomas, m.id)).own).toMatchObject({ file: 1, docket: 2, papers: 0, money: 0, trust: 0 })
    expect((await who.tomas.post(`/matters/${m.id}/docket`, { title: 'Call', weight: 'appointment', day: '2026-12-01' })).status).toBe(200)
    expect((await who.tomas.post(`/matters/${m.id}/parties`, { contactId: m.clientId, role: 'heir', side: 'other' })).body.code).toBe(
      'part-not-open',
    )
    expect((await who.tomas.must<{ rows: unknown[] }>('GET', `/papers?matterId=${m.id}`)).rows).toEqual([])
    expect((await who.tomas.post('/pre-bills', { matterId: m.id, workTo: '2026-11-01' })).status).toBe(403)
    expect(
      (await who.tomas.put(`/matters/${m.id}/access`, { staff: { file: 2, docket: 2, papers: 2, money: 2, trust: 2 } })).body.code,
    ).toBe('not-keeper')
    // Seeing a part without the file makes no sense, and is refused at its field.
    expect(
      (await who.noor.put(`/matters/${m.id}/access`, { staff: { file: 0, docket: 1, papers: 0, money: 0, trust: 0 } })).body.fields[0],
    ).toMatchObject({ path: 'staff.file' })
    await who.noor.must('PUT', `/matters/${m.id}/access`, { staff: { file: 1, docket: 0, papers: 0, money: 0, trust: 0 } })
    expect((await read(who.billie, m.id)).own).toMatchObject({ file: 1, docket: 0 })
    expect((await who.billie.get(`/matters/${m.id}/docket`)).body.code).toBe('part-not-open')
    expect((await who.jun.get(`/matters/${m.id}/docket`)).status).toBe(200)
  })

  it('a new lead takes the place of the old, and the lead stays on the team', async () => {
    const m = await office.matter(who.noor, 'New Lead Matter')
    const ingrid = await office.user('Ingrid')
    await who.noor.must('PUT', `/matters/${m.id}/team`, { userId: ingrid, role: 'lead' })
    const team = (await read(who.ingrid, m.id)).team
    expect(team.filter((t) => t.role === 'lead').map((t) => t.userId)).toEqual([ingrid])
    expect((await who.ingrid.call('DELETE', `/matters/${m.id}/team/${ingrid}`)).body.code).toBe('lead-stays')
  })
})

describe('a screened person', () => {
  it('finds no trace on any route, in any list, count, search, log, export or report', async () => {
    const word = 'Quixwald'
    const m = await office.matter(who.noor, `${word} Fisheries`, {
      caseNumber: 'QXW-77',
      tags: ['quixtag'],
      court: 'Quixwald County Court',
      team: [{ userId: await office.user('Tomas'), role: 'lawyer' }],
    })
    const tomas = await office.user('Tomas')
    await who.tomas.must('POST', '/tasks', { text: `${word} task`, matterId: m.id, assigneeId: tomas, dueOn: '2026-11-24' })
    await who.tomas.must('POST', '/time', { matterId: m.id, day: '2026-11-20', text: `${word} work`, duration: '1' })
    await who.noor.must('POST', `/matters/${m.id}/docket`, { title: `${word} hearing`, weight: 'court order', day: '2026-12-01' })
    await who.noor.must('POST', '/notes', {
      matterId: m.id,
      html: `<p>${word} note <span data-type="mention" data-id="${tomas}" data-label="Tomas">@Tomas</span></p>`,
    })
    await who.noor.must('POST', `/matters/${m.id}/topics`, { title: `${word} topic`, html: '<p>hello</p>' })
    await who.tomas.must('PUT', `/matters/${m.id}/follow`, { on: true })
    await office.deposit(who.orla, m, 1_000_00)
    await office.bill(who.noor, who.orla, m.id, 200_00)
    expect(JSON.stringify((await who.tomas.get('/mentions')).body)).toContain(word)
    await who.noor.must('POST', `/matters/${m.id}/screens`, { userId: tomas, reason: 'advised the other side' })
    for (const name of ['Orla', 'Jun', 'Sable'])
      await who.noor.must('POST', `/matters/${m.id}/screens`, { userId: await office.user(name), reason: 'related to the other side' })

    const known: { method: string; path: string; meta: RouteMeta }[] = []
    traverseContractProcedures({ path: [], router: contract }, ({ contract: c }) => {
      const { route, meta } = c['~orpc'] as unknown as { route: { method: string; path: string }; meta: RouteMeta }
      known.push({ method: route.method, path: route.path, meta })
    })
    const ids = await row<{
      entry: number
      task: number
      topic: number
      note: number
      bill: number
      time: number
      ledger: number
      check: number
      journal: number
      party: number
    }>(
      office.db.manager,
      `SELECT (SELECT MAX(id) FROM docket_entry WHERE matter_id = ?) AS entry, (SELECT MAX(id) FROM task WHERE matter_id = ?) AS task, (SELECT MAX(id) FROM topic WHERE matter_id = ?) AS topic,
              (SELECT MAX(id) FROM note WHERE matter_id = ?) AS note, (SELECT MAX(id) FROM bill WHERE matter_id = ?) AS bill, (SELECT MAX(id) FROM time_entry WHERE matter_id = ?) AS time,
              (SELECT MAX(id) FROM client_ledger WHERE matter_id = ?) AS ledger, (SELECT MAX(id) FROM conflict_check WHERE matter_id = ?) AS \`check\`,
              (SELECT MAX(journal_id) FROM journal_line WHERE matter_id = ?) AS journal, 0 AS party`,
      Array.from({ length: 9 }, () => m.id),
    )
    // Contacts are in the address book for all; the first has nothing to do with this matter.
    const { entry, task, topic, note, bill, time, ledger, journal } = ids!
    const own = { docket: entry, tasks: task, topics: topic, notes: note, bills: bill, time, 'trust/ledgers': ledger }
    const idsOf: Record<string, number> = { ...own, 'conflict-checks': ids!.check, 'books/journals': journal, contacts: 1, payers: 1 }
    const idFor = (path: string) => Object.entries(idsOf).find(([area]) => path.startsWith(`/${area}`))?.[1] ?? m.id
    const queries: Record<string, string> = {
      '/docket': '?from=2026-11-20&courtDays=30&scope=firm',
      '/time': '?from=2026-09-01&to=2026-12-31',
      '/find': `?q=${word}`,
      '/matters': `?state=all&money=true&q=`,
      '/matters/export': '?state=all',
      '/tasks': '?view=all&done=all',
      '/notes': `?matterId=${m.id}`,
      '/people-to-mention': `?matterId=${m.id}`,
      '/contacts/export': '?format=csv&q=nobody-by-that-name',
      '/views': '?list=matters',
    }
    const traces: string[] = []
    // A lawyer, a bookkeeper, a docket clerk and a lawyer from outside each have routes of their own.
    for (const one of ['tomas', 'orla', 'jun', 'sable'] as const)
      for (const { method, path } of known.filter((k) => k.method === 'GET')) {
        // The contact itself stays in the address book; only the matter is hidden.
        if (['/contacts', '/contacts/{id}', '/contacts/{id}/alike', '/contacts/{id}/merge/{otherId}'].includes(path)) continue
        const url = path.replace(/\{id\}/, String(idFor(path))).replace(/\{\w+\}/g, String(m.id)) + (queries[path] ?? '')
        const answer = await who[one].call(method, url)
        const said = answer.bytes.toString('latin1')
        const shown = path === '/find' ? said.replaceAll(/\{"kind":"person"[^}]*\}/g, '') : said
        if ([word, 'QXW-77', 'quixtag', m.number].some((trace) => shown.includes(trace)))
          traces.push(`${one} ${url}: ${shown.slice(Math.max(0, shown.indexOf(word) - 80), shown.indexOf(word) + 60)}`)
      }
    expect(traces).toEqual([])

    // Acts on it are refused as if it were not there.
    for (const [method, url, body] of [
      ['PUT', `/tasks/${ids!.task}/done`, { done: true }],
      ['PUT', `/docket/${ids!.entry}/mark`, { mark: 'met' }],
      ['POST', '/time', { matterId: m.id, day: '2026-11-20', text: 'x', duration: '1' }],
      ['POST', '/notes', { topicId: ids!.topic, html: '<p>x</p>' }],
      ['PUT', `/matters/${m.id}/follow`, { on: true }],
      ['POST', `/matters/${m.id}/closed`, { day: '2026-11-23' }],
      ['DELETE', `/matters/${m.id}`, undefined],
    ] as const)
      expect((await who.tomas.call(method, url, body, { 'idempotency-key': `screened-${url}` })).status, url).toBe(404)

    // What lay with the person is the lead's now, and a conflict check says only that there is a hit and whom to ask.
    const lead = await office.user('Noor')
    expect(await row(office.db.manager, `SELECT assignee_id AS id FROM task WHERE id = ?`, [ids!.task])).toEqual({ id: lead })
    const check = await who.tomas.must<{ hits: { matters: { text: string }[] }[] }>('POST', '/conflict-checks', {
      terms: [`${word} Fisheries`],
    })
    expect(check.hits[0]!.matters).toEqual([{ text: 'In a matter that is not open to you; ask Noor Haddad-Lind' }])
    await expect(who.noor.post('/tasks', { text: 'x', matterId: m.id, assigneeId: tomas })).resolves.toMatchObject({ status: 400 })

    await who.noor.must('DELETE' as 'POST', `/matters/${m.id}/screens/${tomas}`)
    expect((await who.tomas.get(`/matters/${m.id}`)).status).toBe(200)
  })

  it('cannot be the lead, and only a keeper screens', async () => {
    const m = await office.matter(who.noor, 'Screening Rules')
    expect((await who.noor.post(`/matters/${m.id}/screens`, { userId: await office.user('Noor') })).body.fields[0]).toMatchObject({
      path: 'userId',
    })
    expect((await who.ingrid.post(`/matters/${m.id}/screens`, { userId: await office.user('Tomas') })).body.code).toBe('not-keeper')
  })
})
