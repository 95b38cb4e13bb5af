import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { docx, field, p as par, row as tableRow, table } from '../../../packages/core/test/docx'
import { Office, today, type Person } from './office'
import { actAs, form, list, settled, jobDone, docxOf, words } from './papers'

let office: Office
let noor: Person
let billie: Person
let ferdi: Person
let tomas: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  actAs(noor)
  billie = await office.signIn('billie')
  ferdi = await office.signIn('ferdi')
  tomas = await office.signIn('tomas')
})
afterAll(() => office.running.stop())

describe('filing e-mail', () => {
  const scan = '%PDF-1.4 not really'
  const eml = (id: string, subject: string, more = '') =>
    [
      `From: Ada Finch <ada@finch.example>`,
      `To: noor@callowayfenn.example`,
      `Subject: ${subject}`,
      'Date: Mon, 16 Nov 2026 09:00:00 -0500',
      `Message-ID: <${id}>`,
      'MIME-Version: 1.0',
      'Content-Type: multipart/mixed; boundary=x',
      '',
      '--x',
      'Content-Type: text/plain',
      '',
      `Body of the letter ${more}`,
      '--x',
      'Content-Type: text/plain; name="scan0001.txt"',
      'Content-Disposition: attachment; filename="scan0001.txt"',
      '',
      'ORDER GRANTING MOTION TO COMPEL',
      'and more',
      '--x',
      'Content-Type: application/pdf; name="b.pdf"',
      'Content-Disposition: attachment; filename="b.pdf"',
      '',
      scan,
      '--x--',
      '',
    ].join('\r\n')
  const drop = async (text: string, who = noor) =>
    (await form<{ id: number }>(who, '/filing/read', {}, { name: 'm.eml', data: text })).body.id
  interface Mail {
    parts: { index: number; proposed: string; why: string }[]
    proposals: { matterId: number; why: string[] }[]
    before: { paperId: number }[]
    name: string
  }
  const one = (id: number, who = noor) => who.must<Mail>('GET', `/filing/${id}`)

  it('proposes matter and names, and files all in one act with a task and a word', async () => {
    const m = await office.matter(noor, 'Mailcombe', { caseNumber: '3:26-cv-00777' })
    const id = await drop(eml(`m1-${m.id}@x`, `Re: ${m.number} survey`))
    const mail = await one(id)
    expect(mail.proposals[0]).toMatchObject({ matterId: m.id })
    expect(mail.proposals[0]!.why[0]).toContain(m.number)
    expect(mail.name).toBe(`2026-11-16 Ada Finch, Re ${m.number} survey.eml`)
    expect(mail.parts[0]).toMatchObject({ proposed: 'ORDER GRANTING MOTION TO COMPEL.txt', why: 'its first line' })
    const input = {
      matterId: m.id,
      name: mail.name,
      folder: 'Correspondence',
      parts: [{ index: 0, name: mail.parts[0]!.proposed, folder: 'Pleadings' }],
      task: { text: 'Read the order', assigneeId: await office.user('Billie'), dueOn: '2026-11-25' },
      tell: [await office.user('Billie')],
      tellText: 'See <this>',
    }
    const filedNow = await noor.post<{ paperId: number; partIds: number[] }>(`/filing/${id}`, input)
    expect(filedNow.status).toBe(200)
    expect((await list(m)).rows.map((r) => [r.name, r.folder])).toEqual(expect.arrayContaining([[mail.name, 'Correspondence'], ['ORDER GRANTING MOTION TO COMPEL.txt', 'Pleadings']])) // prettier-ignore
    const task = await billie.must<{ rows: { text: string }[] }>('GET', '/tasks?view=mine&size=200')
    expect(JSON.stringify(task)).toContain('Read the order')
    expect((await noor.get(`/papers/${filedNow.body.paperId}/file`)).bytes.toString()).toContain('Body of the letter')
    expect((await noor.post(`/filing/${id}`, input)).body.code).toBe('already-filed')
    // The same message again, and forwarded within another one.
    const again = await drop(eml(`m1-${m.id}@x`, 'Fwd'))
    expect((await one(again)).before).toHaveLength(1)
    expect((await noor.post(`/filing/${again}`, { ...input, task: null, tell: [] })).body.code).toBe('already-filed')
    expect((await noor.post(`/filing/${again}`, { ...input, task: null, tell: [], again: true })).status).toBe(200)
    const forward = await drop(
      [
        `From: noor@callowayfenn.example`,
        'Subject: Fwd',
        `Message-ID: <f-${m.id}@x>`,
        'Content-Type: multipart/mixed; boundary=y',
        '',
        '--y',
        'Content-Type: message/rfc822',
        '',
        eml(`m1-${m.id}@x`, 'inner'),
        '--y--',
      ].join('\r\n'),
    )
    expect((await one(forward)).before.length).toBeGreaterThan(0)
    expect((await tomas.get(`/filing/${forward}`)).status).toBe(404)
  })

  it('knows a matter by an address and by a case number, and never one behind a wall', async () => {
    const m = await office.matter(noor, 'Wallmail', { caseNumber: `9:26-cv-${String(10000 + Math.floor(Math.random() * 80000))}` })
    const [{ caseNumber }] = (await office.db.query<{ caseNumber: string }[]>(`SELECT case_number AS caseNumber FROM matter WHERE id = ?`, [
      m.id,
    ])) as [{ caseNumber: string }]
    expect((await one(await drop(eml(`w1-${m.id}@x`, `hearing in ${caseNumber}`)))).proposals[0]!.matterId).toBe(m.id)
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Tomas')])
    const mail = await drop(eml(`w2-${m.id}@x`, `hearing in ${caseNumber} Wallmail`), tomas)
    expect((await one(mail, tomas)).proposals.map((p) => p.matterId)).not.toContain(m.id)
    expect(
      (await tomas.post(`/filing/${mail}`, { matterId: m.id, name: 'x', folder: 'Notes', parts: [], task: null, tell: [] })).status,
    ).toBe(404)
  })

  it('takes letters at the address for filing: from staff into their tray, from strangers marked', async () => {
    await office.db.query(`UPDATE firm SET filing_address = 'file@callowayfenn.example'`)
    const key = randomUUID()
    const arrive = async (from: string, text: string, secret = 'of the mail server', to = 'FILE@callowayfenn.example') => {
      const body = new FormData()
      for (const [k, v] of Object.entries({ to, from })) body.set(k, v)
      body.set('file', new File([text], 'm.eml'))
      return fetch(`${office.base}/api/filing/arrive`, { method: 'POST', body, headers: { 'x-heron-secret': secret } })
    }
    const staff = eml(`s-${key}@x`, 'From staff').replace('ada@finch.example', 'noor@callowayfenn.example')
    expect((await arrive('noor@callowayfenn.example', staff)).status).toBe(200)
    // Another letter that bears the same id is not taken for it: both wait.
    expect((await arrive('x@y.example', eml(`s-${key}@x`, 'Same id'))).status).toBe(200)
    expect((await arrive('x@y.example', eml(`t-${key}@x`, 'From a stranger'))).status).toBe(200)
    expect((await arrive('x@y.example', staff.replace(`s-${key}`, `u-${key}`).replace('From staff', 'Pretending'))).status).toBe(200)
    expect((await arrive('x@y.example', staff, 'guess')).status).toBe(403)
    expect((await arrive('x@y.example', staff, undefined, 'other@callowayfenn.example')).status).toBe(404)
    const tray = async (who: Person) =>
      (await who.must<{ rows: { subject: string; known: boolean }[] }>('GET', '/filing/tray?size=200')).rows.map((r) => [
        r.subject,
        r.known,
      ])
    expect(await tray(noor)).toContainEqual(['From staff', true])
    expect(await tray(noor)).not.toContainEqual(['From a stranger', false])
    expect(await tray(ferdi)).toEqual(expect.arrayContaining([['From a stranger', false], ['Pretending', false], ['Same id', false]])) // prettier-ignore
    expect(await tray(tomas)).not.toContainEqual(['From staff', true])
  })

  it('keeps what cannot be read, and files odd letters whole', async () => {
    const m = await office.matter(noor, 'Oddmail')
    for (const odd of [
      '',
      'nonsense',
      'Subject: only\r\n',
      '\u0000\u0001\u0002',
      `Content-Type: multipart/mixed; boundary=q\r\n\r\n--q\r\n`,
    ]) {
      const id = await form<{ id: number }>(noor, '/filing/read', {}, { name: 'o.eml', data: odd })
      if (!odd) {
        expect(id.status).toBe(400)
        continue
      }
      const mail = await one(id.body.id)
      const kept = await noor.post<{ paperId: number }>(`/filing/${id.body.id}`, {
        matterId: m.id,
        name: mail.name,
        folder: 'Correspondence',
        parts: mail.parts.map((p) => ({ index: p.index, name: p.proposed, folder: 'Evidence' })),
        task: null,
        tell: [],
      })
      expect(kept.status).toBe(200)
      expect((await noor.get(`/papers/${kept.body.paperId}/file`)).bytes.toString()).toBe(odd)
    }
  })
})

describe('templates and papers made from them', () => {
  const add = async (name: string, data: Uint8Array, who = ferdi) =>
    form<{ id: number }>(who, '/templates', { name }, { name: `${name}.docx`, data })
  const making = (m: { id: number }, templateId: number, more = {}) => ({ matterId: m.id, templateId, ...more })
  interface Prepared {
    name: string
    values: { path: string; value: string; missing: boolean; writes: boolean }[]
    questions: { key: string; asked: boolean }[]
    ready: boolean
    faulty: boolean
  }

  it('keeps a faulty template and does not use it until it is mended', async () => {
    const m = await office.matter(noor, 'Faultley')
    const { body } = await add(`Faulty ${m.id}`, docxOf('Dear {client.nmae}', '{if client.is_person}x'))
    const one = await ferdi.must<{ faultList: { text: string; words: string }[] }>('GET', `/templates/${body.id}`)
    expect(one.faultList.map((f) => f.text).join()).toMatch(/opened and not closed/)
    expect(
      (await noor.post('/papers/make', { ...making(m, body.id), name: 'x', folder: 'Notes', as: 'docx', writeBack: [] })).body.code,
    ).toBe('template-faulty')
    expect(
      (
        await form<{ number: number }>(
          ferdi,
          `/templates/${body.id}/versions`,
          { why: 'mended' },
          { name: 'a.docx', data: docxOf('Dear {client.name}') },
        )
      ).body.number,
    ).toBe(2)
    expect((await noor.must<Prepared>('POST', '/papers/prepare', making(m, body.id))).ready).toBe(true)
    expect((await add('x', new TextEncoder().encode('no docx'))).status).toBe(400)
    expect((await add('x', docxOf('a'), noor)).status).toBe(403)
  })

  it('asks, writes back what is ticked, is made again when the record changed, and goes to a colleague', async () => {
    const m = await office.matter(noor, 'Makewell')
    const text = docx(
      [
        par('{today | long date}'),
        par('{client.name | possessive} matter in {court.name}, judge {court.judge | otherwise "the Court"}'),
        par('{if answers.tone = "firm"}We insist.{else}We ask.{end}'),
        table(tableRow('{for each c in costs}{c.text}', '{c.amount | money}{end for}')),
        par('Sum {costs_total | money}'),
        par(field([' MERGEFIELD Client_Address '])),
      ].join(''),
    ).generate({ type: 'uint8array' })
    const { body } = await add(`Demand ${m.id}`, text)
    const asking = (after: number, questions: object[]) =>
      ferdi.call<{ code?: string }>('PUT', `/templates/${body.id}/questions`, { after, questions }, { 'idempotency-key': randomUUID() })
    const asked = await asking(1, [
      { key: 'tone', text: 'Tone', type: 'choice', choices: ['measured', 'firm'], required: true, when: '', help: '' },
      { key: 'list', text: 'Which costs', type: 'costs', choices: [], required: false, when: 'answers.tone = "firm"', help: '' },
    ])
    expect(asked.status).toBe(200)
    // Whoever saw the version before writes over nothing; neither does whoever ties its fields.
    expect((await asking(1, [])).body.code).toBe('changed-meanwhile')
    const tied = (after: number) => ferdi.call<{ code?: string }>('PUT', `/templates/${body.id}/ties`, { after, ties: { Client_Address: 'client.address' } }, { 'idempotency-key': randomUUID() }) // prettier-ignore
    expect((await tied(1)).body.code).toBe('changed-meanwhile')
    await noor.must('POST', `/matters/${m.id}/costs`, { day: '2026-11-02', kind: 'soft cost', text: 'Courier', amount: 1895, payee: '' })
    const { id: slip } = await noor.must<{ id: number }>('POST', `/matters/${m.id}/costs`, { day: '2026-11-03', kind: 'soft cost', text: 'Slip', amount: 99, payee: '' }) // prettier-ignore
    await (await office.signIn('orla')).must('POST', `/costs/${slip}/reverse`, { reason: 'not ours' })
    const first = await noor.must<Prepared & { costs: { id: number }[] }>('POST', '/papers/prepare', making(m, body.id))
    expect(first.ready).toBe(false)
    // What was reversed is not offered.
    expect(first.costs).toHaveLength(1)
    expect(first.values.filter((v) => v.missing).map((v) => v.path)).toEqual(['court.name'])
    expect(first.questions.map((q) => [q.key, q.asked])).toEqual([['tone', true], ['list', false]]) // prettier-ignore
    const answers = { tone: 'firm', list: [String(first.costs[0]!.id)] }
    const input = {
      ...making(m, body.id, { answers, values: { 'court.name': 'Superior Court of Alder' } }),
      name: 'Demand',
      folder: 'Correspondence',
      as: 'both',
      writeBack: ['court.name'],
    }
    const preview = await noor.must<{ jobId: number; previewId: number }>('POST', '/papers/preview', making(m, body.id, { answers }))
    await jobDone(preview.jobId)
    expect((await noor.get(`/papers/preview/${preview.previewId}`)).bytes.subarray(0, 4).toString()).toBe('%PDF')
    expect((await tomas.get(`/papers/preview/${preview.previewId}`)).status).toBe(404)
    await jobDone(
      (
        await noor.must<{ jobId: number }>('POST', '/papers/make', {
          ...input,
          review: { toId: await office.user('Billie'), dueOn: '2026-11-27', message: 'please' },
          share: { forWhom: 'Dr. Expert', email: 'expert@example.com', endsOn: '2026-12-24', needsCode: true },
        })
      ).jobId,
    )
    const [{ court }] = (await office.db.query<{ court: string }[]>(`SELECT court FROM matter WHERE id = ?`, [m.id])) as [{ court: string }]
    expect(court).toBe('Superior Court of Alder')
    await settled(m)
    const made = (await list(m)).rows.find((r) => r.name === 'Demand.docx')!
    const said = (await words('insist', noor, `&matterId=${m.id}`)).rows.map((r) => r.name).sort()
    expect(said).toEqual(['Demand.docx', 'Demand.pdf'])
    const [link] = await noor.must<{ forWhom: string; papers: { name: string }[] }[]>('GET', `/matters/${m.id}/links`)
    expect(link).toMatchObject({ forWhom: 'Dr. Expert', needsCode: true })
    expect(link!.papers.map((x) => x.name)).toEqual(['Demand.docx', 'Demand.pdf'])
    const from = () => noor.must<{ changed: { path: string; was: string; is: string }[] }>('GET', `/papers/${made.id}/made`)
    expect((await from()).changed).toEqual([])
    await office.db.query(`UPDATE matter SET court = 'Court of Appeal' WHERE id = ?`, [m.id])
    await office.db.query(`UPDATE contact SET name = 'Makewell Anew' WHERE id = ?`, [m.clientId])
    expect((await from()).changed.map((c) => [c.path, c.is])).toEqual(expect.arrayContaining([['client.name', 'Makewell Anew']])) // prettier-ignore
    await jobDone(
      (await noor.must<{ jobId: number }>('POST', '/papers/make', { ...input, values: {}, writeBack: [], versionOf: made.id })).jobId,
    )
    const rows = (await list(m)).rows
    expect(rows.filter((r) => r.name.startsWith('Demand')).map((r) => [r.name, r.version]).sort()).toEqual([['Demand.docx', 2], ['Demand.pdf', 2]]) // prettier-ignore
    const [review] = (await billie.must<{ id: number; paper: string; matterId: number }[]>('GET', '/reviews')).filter(
      (r) => r.matterId === m.id,
    )
    expect((await billie.post(`/reviews/${review!.id}`, { approved: false, remarks: '' })).status).toBe(400)
    expect((await tomas.post(`/reviews/${review!.id}`, { approved: true, remarks: '' })).status).toBe(404)
    await billie.must('POST', `/reviews/${review!.id}`, { approved: true, remarks: 'Good' })
    expect((await billie.post(`/reviews/${review!.id}`, { approved: true, remarks: '' })).body.code).toBe('changed-meanwhile')
  })

  it('lists every field with its value, and lets only those use a template who may', async () => {
    const m = await office.matter(noor, 'Fieldstone')
    const { fields } = await noor.must<{ fields: { path: string; value: string; type: string }[] }>(
      'GET',
      `/template-fields?matterId=${m.id}`,
    )
    expect(fields.find((f) => f.path === 'client.name')!.value).toBe('Fieldstone')
    expect(fields.find((f) => f.path === 'today')!.value).toBe('November 23, 2026')
    expect(today).toBe('2026-11-23')
    const { body } = await add(`Kept ${m.id}`, docxOf('x'))
    const head = (await ferdi.must<{ id: number; rowVersion: number }[]>('GET', '/templates')).find((t) => t.id === body.id)!
    await ferdi.must('PUT', `/templates/${body.id}`, {
      ...head,
      name: `Kept ${m.id}`,
      description: '',
      shelf: '',
      folder: 'Notes',
      areaId: null,
      tags: [],
      language: 'en',
      namePattern: '',
      needsPerson: false,
      peopleIds: [await office.user('Billie')],
    })
    expect((await noor.post('/papers/prepare', making(m, body.id))).status).toBe(404)
    expect((await billie.post('/papers/prepare', making(m, body.id))).status).toBe(200)
  })
})
