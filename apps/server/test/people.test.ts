import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readCards, readTable } from '@heron/core/formats'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let ingrid: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, ingrid, orla] = await Promise.all([office.signIn('noor'), office.signIn('ingrid'), office.signIn('orla')])
})
afterAll(() => office.close())

const contact = (who: Person, name: string, more: object = {}) =>
  who.must<{ id: number }>('POST', '/contacts', { kind: 'person', name, ...more })
interface Hit {
  id: number
  term: string
  name: string
  reasons: string[]
  score: number
  matters: { text: string }[]
  decision: string | null
}
interface Check {
  id: number
  hits: Hit[]
  namesOnRecord: number
}
const check = (who: Person, ...terms: (string | object)[]) => who.must<Check>('POST', '/conflict-checks', { terms })
interface Contact {
  id: number
  name: string
  notes: string
  version: number
  kinds: string[]
  aliases: { kind: string; name: string }[]
  reaches: { what: string; label: string; value: string }[]
  relations: { id: number; reads: string; other: string; title: string }[]
  parts: { number: string; part: string }[]
  money: { owed: number; held: number } | null
  mergedFrom: { name: string }[]
  fields: Record<string, string[]>
}
const read = (who: Person, id: number) => who.must<Contact>('GET', `/contacts/${id}`)

describe('a contact', () => {
  it('keeps several addresses and numbers, other names and kinds, and is found by each of them', async () => {
    const { id } = await contact(noor, 'Wilhelmina Quartermain', {
      kinds: ['expert', 'witness'],
      aliases: [{ kind: 'former name', name: 'Mina Featherstonehaugh' }],
      reaches: [
        { what: 'e-mail', label: 'work', value: 'mina@quartermain.example' },
        { what: 'phone', label: 'mobile', value: '(555) 019-7733' },
        { what: 'address', label: 'home', value: '1 Quay\nHarrow Sound' },
        { what: 'address', label: 'office', value: '2 Quay' },
      ],
      birthDate: '1970-02-28',
      taxNumber: '98-7654321',
    })
    const c = await read(noor, id)
    expect(c.reaches).toHaveLength(4)
    expect(c.kinds).toEqual(['expert', 'witness'])
    for (const q of ['quarterm', 'feathers', 'mina@quart', '0197733']) {
      const found = await noor.must<{ rows: { id: number }[] }>('GET', `/contacts?q=${encodeURIComponent(q)}`)
      expect(
        found.rows.map((r) => r.id),
        q,
      ).toContain(id)
    }
  })

  it('that two people change at once keeps the first change and tells the second', async () => {
    const { id } = await contact(noor, 'Twice Changed')
    const { version } = await read(noor, id)
    expect((await noor.put(`/contacts/${id}`, { kind: 'person', name: 'Twice Changed, once', version })).status).toBe(200)
    const second = await ingrid.put(`/contacts/${id}`, { kind: 'person', name: 'Twice Changed, twice', version })
    expect([second.status, second.body.code]).toEqual([409, 'changed-meanwhile'])
    expect((await read(noor, id)).name).toBe('Twice Changed, once')
  })

  it('takes its new name along into lists sorted by client', async () => {
    const m = await office.matter(noor, 'Aardvark Before')
    await noor.must('PUT', `/contacts/${m.clientId}`, { kind: 'organization', name: 'Zzyzx After' })
    const listed = (page: number) =>
      noor.must<{ total: number; rows: { client: string }[] }>('GET', `/matters?sort=client&state=all&size=200&page=${page}`)
    const last = await listed(Math.ceil((await listed(1)).total / 200))
    expect(last.rows.at(-1)!.client).toBe('Zzyzx After')
    expect((await noor.must<{ rows: { id: number }[] }>('GET', '/matters?q=zzyzx')).rows.map((r) => r.id)).toEqual([m.id])
  })

  it('refuses a bad e-mail at its line and a kind that the firm does not have', async () => {
    const bad = await noor.post('/contacts', { kind: 'person', name: 'Bad Lines', reaches: [{ what: 'e-mail', value: 'nowhere' }] })
    expect(bad.body.fields[0]).toMatchObject({ path: 'reaches.0.value' })
    expect((await noor.post('/contacts', { kind: 'person', name: 'Odd Kind', kinds: ['astronaut'] })).body.fields[0]).toMatchObject({
      path: 'kinds',
    })
  })

  it('that is private is nobody else’s, and still a restricted hit', async () => {
    const { id } = await contact(ingrid, 'Zephyrine Okonjo-Blakely', { isPrivate: true })
    expect((await noor.get(`/contacts/${id}`)).status).toBe(404)
    expect((await noor.must<{ rows: unknown[] }>('GET', '/contacts?q=zephyrine')).rows).toEqual([])
    expect((await noor.post(`/contacts/${id}/relations`, { otherId: id, kind: 'spouse of' })).status).toBe(404)
    const { hits } = await check(noor, 'Zephyrine Okonjo Blakely')
    expect(hits[0]).toMatchObject({ name: 'A private contact' })
    expect(JSON.stringify(hits)).not.toContain('Zephyrine Okonjo-Blakely')
  })

  it('stands to others in relations, read from both sides, each said once', async () => {
    const org = await contact(noor, 'Pintail Dredging Works', { kind: 'organization' })
    const who = await contact(noor, 'Ottoline Grieve')
    const made = await noor.must<{ id: number }>('POST', `/contacts/${who.id}/relations`, {
      otherId: org.id,
      kind: 'officer of',
      title: 'Treasurer',
    })
    expect((await read(noor, who.id)).relations).toMatchObject([
      { reads: 'officer of', other: 'Pintail Dredging Works', title: 'Treasurer' },
    ])
    expect((await read(noor, org.id)).relations).toMatchObject([{ reads: 'has as officer', other: 'Ottoline Grieve' }])
    expect(
      (await noor.post(`/contacts/${org.id}/relations`, { otherId: who.id, kind: 'officer of', inverse: true })).body.fields[0],
    ).toMatchObject({ path: 'otherId' })
    await noor.must('DELETE' as 'POST', `/relations/${made.id}`)
    expect((await read(noor, org.id)).relations).toEqual([])
  })

  it('shows what is owed and held to those who may see it', async () => {
    const m = await office.matter(noor, 'Moneyed Mollusk Farms')
    await office.deposit(orla, m, 5_000_00)
    await office.bill(noor, orla, m.id, 1_200_00)
    expect((await read(noor, m.clientId)).money).toEqual({ owed: 1_200_00, held: 5_000_00 })
    expect((await read(await office.signIn('jun'), m.clientId)).money).toBeNull()
  })
})

describe('merging two records', () => {
  it('moves all that pointed at the other, keeps what differs, and leaves a trace', async () => {
    const m = await office.matter(noor, 'Thistlewood Cooperage')
    await office.deposit(orla, m, 900_00)
    await office.bill(noor, orla, m.id, 400_00)
    const keep = await contact(ingrid, 'Thistlewood Cooperage Company', { kind: 'organization', greeting: 'Dear all', notes: 'first' })
    await contact(noor, 'Peverell Thistlewood').then((p) =>
      noor.must('POST', `/contacts/${p.id}/relations`, { otherId: m.clientId, kind: 'owner of' }),
    )
    const preview = await noor.must<{ moves: { what: string; count: number }[]; differs: { what: string }[] }>(
      'GET',
      `/contacts/${keep.id}/merge/${m.clientId}`,
    )
    expect(preview.moves.map((x) => x.what)).toEqual(expect.arrayContaining(['matters as client', 'trust ledgers', 'relations']))
    expect(preview.differs.map((d) => d.what)).toEqual(expect.arrayContaining(['name', 'greeting in letters']))
    // Trust money comes under the kept record: for those who keep it to do.
    expect((await noor.post(`/contacts/${keep.id}/merge`, { otherId: m.clientId })).body.code).toBe('trust-right')
    await orla.must('POST', `/contacts/${keep.id}/merge`, { otherId: m.clientId })

    const merged = await read(noor, keep.id)
    expect(merged.parts.map((p) => p.part)).toContain('client')
    expect(merged.money).toEqual({ owed: 400_00, held: 900_00 })
    expect(merged.aliases).toContainEqual({ kind: 'also known as', name: 'Thistlewood Cooperage' })
    expect(merged.relations.map((r) => r.other)).toContain('Peverell Thistlewood')
    expect(merged.notes).toContain('Ms. Test')
    expect(merged.mergedFrom[0]).toMatchObject({ name: 'Thistlewood Cooperage' })
    expect((await noor.get(`/contacts/${m.clientId}`)).status).toBe(404)
    expect((await check(noor, 'Thistlewood Cooperage')).hits.map((h) => h.name)).toEqual([
      'Thistlewood Cooperage Company',
      'Peverell Thistlewood',
    ])
    // The bill that was issued to the other is still paid from the same client's trust money.
    const bill = (await noor.must<{ rows: { id: number }[] }>('GET', `/bills?matterId=${m.id}`)).rows[0]!
    expect((await orla.post(`/bills/${bill.id}/payments`, { kind: 'check', day: '2026-11-20', amount: 100_00 })).status).toBe(200)
    expect(
      (await noor.must<{ rows: { id: number }[] }>('GET', '/matters?q=thistlewood+cooperage+company')).rows.map((r) => r.id),
    ).toContain(m.id)
    expect(await office.agrees()).toBe(true)
  })

  it('is refused where two trust ledgers would become one', async () => {
    const [a, b] = [await office.matter(noor, 'Ledger Left Ltd'), await office.matter(noor, 'Ledger Right Ltd')]
    for (const m of [a, b]) {
      const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', {
        bankAccountId: await office.bank('pooled'),
        day: '2026-10-01',
        controlTotal: 100_00,
        receipts: [{ clientId: m.clientId, matterId: null, depositor: 'Client', kind: 'wire', amount: 100_00 }],
      })
      await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    }
    const refused = await noor.post(`/contacts/${a.clientId}/merge`, { otherId: b.clientId })
    expect(refused.body.code).toBe('ledgers-in-the-way')
    expect((await noor.get(`/contacts/${b.clientId}`)).status).toBe(200)
  })
})

describe('files of contacts', () => {
  it('vCard goes out and comes back with everything, and the same card is not read twice', async () => {
    const org = await contact(noor, 'Halibut & Hake, Ltd.', {
      kind: 'organization',
      aliases: [{ kind: 'trading name', name: 'The Hake House' }],
    })
    const who = await contact(noor, 'Señora Núñez Grönlund', {
      kinds: ['interpreter'],
      notes: 'Line one\nline; two, "three"',
      language: 'Spanish',
      reaches: [{ what: 'phone', label: 'home', value: '+1 555 019 8811' }],
    })
    await noor.must('POST', `/contacts/${who.id}/relations`, { otherId: org.id, kind: 'works for', title: 'Interpreter' })
    const out = await noor.get(`/contacts/export?format=vcard&id=${who.id}`)
    expect(out.type).toContain('text/vcard')
    const card = readCards(out.bytes.toString()).cards[0]!
    expect(card).toMatchObject({
      name: 'Señora Núñez Grönlund',
      notes: 'Line one\nline; two, "three"',
      relations: [{ kind: 'works for', name: 'Halibut & Hake, Ltd.', title: 'Interpreter' }],
    })
    const send = async (text: string) => {
      const form = new FormData()
      form.set('file', new File([text], 'cards.vcf', { type: 'text/vcard' }))
      form.set('tryOnly', 'false')
      const answer = await fetch(`${noor.base}/api/contacts/cards`, {
        method: 'POST',
        headers: { cookie: noor.cookie, 'x-heron-csrf': noor.csrf, 'idempotency-key': randomUUID() },
        body: form,
      })
      return (await answer.json()) as { made: number; alike: number; faults: unknown[] }
    }
    expect(await send(out.bytes.toString())).toMatchObject({ made: 0, alike: 1 })
    expect(
      await send(
        out.bytes
          .toString()
          .replace(/UID:.*\r\n/, '')
          .replace('Grönlund', 'Grönlund Again'),
      ),
    ).toMatchObject({ made: 1 })
    const again = (await noor.must<{ rows: { id: number }[] }>('GET', '/contacts?q=gronlund+again')).rows[0]!
    expect((await read(noor, again.id)).relations).toMatchObject([{ reads: 'works for', other: 'Halibut & Hake, Ltd.' }])
    expect(await send('BEGIN:VCARD\r\nVERSION:4.0\r\nNOTE:x\r\nEND:VCARD\r\n')).toMatchObject({ made: 0, faults: [{ row: 1 }] })
  })

  it('CSV carries what was found, and never a private contact of someone else', async () => {
    await contact(ingrid, 'Hushed Person Unlisted', { isPrivate: true })
    const table = readTable((await noor.get('/contacts/export?format=csv')).bytes)
    expect(table.columns).toContain('Former names')
    expect(JSON.stringify(table.rows)).toContain('Mina Featherstonehaugh')
    expect(JSON.stringify(table.rows)).not.toContain('Hushed Person')
  })
})

describe('a conflict check', () => {
  it('says why, where and how surely: sound, near spelling, short form, other order, other name', async () => {
    await office.matter(noor, 'Achterdijk Shipping Co.')
    await contact(noor, 'Theodora Villanueva-Strand', { aliases: [{ kind: 'former name', name: 'Theodora Blackwood' }] })
    const { hits, namesOnRecord } = await check(noor, 'Akterdijk Shiping Inc', 'Teddy Villanueva Strand', 'Blackwood, Theodora')
    expect(namesOnRecord).toBeGreaterThan(5)
    const of = (term: string) => hits.find((h) => h.term === term)!
    expect(of('Akterdijk Shiping Inc')).toMatchObject({ name: 'Achterdijk Shipping Co.' })
    expect(of('Akterdijk Shiping Inc').matters[0]!.text).toContain('client in')
    expect(of('Blackwood, Theodora').reasons.join()).toContain('former name Theodora Blackwood')
    expect(hits.every((h) => h.score > 0 && h.score <= 100)).toBe(true)
  })

  it('drops no name that shares a rare word exactly, though it stands in no matter; weak ones come last', async () => {
    for (const name of [
      'Lars Tyden',
      'Sela Hartigan',
      'Corvane Towage Ltd.',
      'Brackwater Pilots Association',
      'Tule Growers Cooperative Pool',
    ])
      await contact(noor, name)
    const found = async (term: string) => (await check(noor, term)).hits
    for (const [term, name] of [
      ['Tyden', 'Lars Tyden'],
      ['Dr Hartigan', 'Sela Hartigan'],
      ['Corvane Barge', 'Corvane Towage Ltd.'],
      ['Brackwater', 'Brackwater Pilots Association'],
      ['Growers Pool', 'Tule Growers Cooperative Pool'],
    ] as const) {
      const hits = await found(term)
      expect(hits.map((h) => h.name)).toContain(name)
      expect(hits.map((h) => h.score)).toEqual([...hits.map((h) => h.score)].sort((a, b) => b - a))
    }
  })

  it('takes the names of the opening itself for no hits, and each check gives way to the next', async () => {
    const fresh = await contact(noor, 'Yolanda Brightmoor')
    const first = await check(noor, { name: 'Yolanda Brightmoor', contactId: fresh.id })
    expect(first.hits).toEqual([])
    const other = await contact(noor, 'Brightmoor Shipping Inc.')
    const second = await noor.must<Check>('POST', '/conflict-checks', {
      terms: [
        { name: 'Yolanda Brightmoor', contactId: fresh.id },
        { name: 'Brightmoor Shipping Inc.', contactId: other.id },
      ],
      replaces: first.id,
    })
    const { rows } = await noor.must<{ rows: { id: number }[] }>('GET', '/conflict-checks')
    expect(rows.map((k) => k.id)).toContain(second.id)
    expect(rows.map((k) => k.id)).not.toContain(first.id)
  })

  it('finds whoever shares a phone or tax number, and goes along relations', async () => {
    const org = await contact(noor, 'Gravelly Bar Sand & Stone', { kind: 'organization', taxNumber: '44-5556667' })
    const m = await office.matter(noor, 'Petronella Vance')
    await noor.must('POST', `/contacts/${m.clientId}/relations`, { otherId: org.id, kind: 'owner of' })
    expect((await check(noor, '44 555 6667')).hits[0]).toMatchObject({
      name: 'Gravelly Bar Sand & Stone',
      reasons: ['shares the tax number'],
    })
    const { hits } = await check(noor, 'Gravelly Bar Sand and Stone LLC')
    expect(hits.find((h) => h.name === 'Petronella Vance')?.reasons[0]).toBe('owner of Gravelly Bar Sand & Stone, which matches')
  })

  it('knows those an enquiry was against, also after it was declined', async () => {
    const made = await noor.must<{ id: number }>('POST', '/enquiries', {
      name: 'Cressida Plum',
      about: 'a fence',
      adverse: ['Bartholomew Ogilvy-Trent'],
    })
    await noor.must('POST', `/enquiries/${made.id}/declined`, { reason: 'No agreement on fees' })
    const { hits } = await check(noor, 'Bartholomew Ogilvy Trent')
    expect(hits[0]!.matters[0]!.text).toMatch(/^Named as against in an enquiry of Cressida Plum .*declined: No agreement on fees/)
    expect((await check(noor, 'Cressida Plum')).hits[0]!.matters[0]!.text).toContain('Asked for help')
  })

  it('is kept with every decision and its note, as PDF too, and is open only to whoever made it', async () => {
    await office.matter(noor, 'Kittiwake Cannery')
    const made = await check(noor, 'Kittiwake Cannery')
    await noor.must('POST', `/conflict-hits/${made.hits[0]!.id}/decision`, { decision: 'waiver on file', note: 'signed 3 May' })
    const kept = await noor.must<{ hits: (Hit & { note: string; decidedBy: string })[] }>('GET', `/conflict-checks/${made.id}`)
    expect(kept.hits[0]).toMatchObject({ decision: 'waiver on file', note: 'signed 3 May', decidedBy: 'Noor Haddad-Lind' })
    const pdf = await noor.get(`/conflict-checks/${made.id}/pdf`)
    expect(pdf.bytes.subarray(0, 5).toString()).toBe('%PDF-')
    expect((await ingrid.get(`/conflict-checks/${made.id}`)).status).toBe(404)
    expect((await ingrid.post(`/conflict-hits/${made.hits[0]!.id}/decision`, { decision: 'decline' })).status).toBe(404)
  })
})

describe('an enquiry', () => {
  it('goes from first call to matter with what it gathered', async () => {
    const made = await noor.must<{ id: number }>('POST', '/enquiries', {
      name: 'Lysander Pomfret',
      phone: '(555) 019-1212',
      about: 'A leaking hull',
      adverse: ['Slipway Nine'],
      consultFee: 150_00,
      consultOn: '2026-11-25',
      consultAt: '10:30',
    })
    const own = await noor.must<Check>('POST', `/enquiries/${made.id}/conflicts`, {})
    expect(own.hits.every((h) => h.decision !== null || h.name !== 'Slipway Nine')).toBe(true)
    const e = await noor.must<{ contactId: number; hitsOpen: number; consultAt: string }>('GET', `/enquiries/${made.id}`)
    expect(e.consultAt).toBe('10:30')
    const matter = await noor.must<{ id: number }>('POST', '/matters', {
      clientId: e.contactId,
      name: 'Pomfret, hull',
      openedOn: '2026-11-23',
      enquiryId: made.id,
    })
    expect(await noor.must('GET', `/enquiries/${made.id}`)).toMatchObject({ state: 'matter', matterId: matter.id })
    expect((await noor.put(`/enquiries/${made.id}`, { about: 'changed' })).body.code).toBe('enquiry-settled')
  })
  it('needs someone who asks, and a reason when it is declined', async () => {
    expect((await noor.post('/enquiries', { about: 'x' })).body.fields[0]).toMatchObject({ path: 'name' })
    const made = await noor.must<{ id: number }>('POST', '/enquiries', { name: 'Ada Finch-Hatton' })
    expect((await noor.post(`/enquiries/${made.id}/declined`, { reason: '' })).body.fields[0]).toMatchObject({ path: 'reason' })
  })
})
