import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import PizZip from 'pizzip'
import { docx, field, p as par, row as tableRow, table } from '../../../packages/core/test/docx'
import { openZip } from '../src/papers/apart/zip'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let billie: Person
let ferdi: Person
let tomas: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  billie = await office.signIn('billie')
  ferdi = await office.signIn('ferdi')
  tomas = await office.signIn('tomas')
})
afterAll(() => office.running.stop())

const form = async <T>(
  who: Person,
  path: string,
  fields: Record<string, string>,
  file?: { name: string; data: Uint8Array | string },
  method = 'POST',
) => {
  const body = new FormData()
  for (const [k, v] of Object.entries(fields)) body.set(k, v)
  if (file) body.set('file', new File([file.data as BlobPart], file.name))
  const answer = await fetch(`${who.base}/api${path}`, {
    method,
    body,
    headers: { cookie: who.cookie, 'x-heron-csrf': who.csrf, 'idempotency-key': randomUUID() },
  })
  const json = (await answer.json()) as T & { code: string; detail: string; fields: { path: string; message: string }[] }
  return { status: answer.status, body: json }
}
const filed = async (m: { id: number }, name: string, data: Uint8Array | string, folder = 'Discovery', who = noor) =>
  (await form<{ id: number }>(who, `/matters/${m.id}/papers/file`, { folder }, { name, data })).body.id
interface Row {
  id: number
  name: string
  folder: string
  version: number
  words: string
  rowVersion: number
  out: { name: string } | null
  shared: number
}
const list = (m: { id: number }, more = '', who = noor) =>
  who.must<{ rows: Row[]; total: number }>('GET', `/papers?matterId=${m.id}${more}`)
const settled = async (m: { id: number }) => {
  for (;;) {
    const { rows } = await list(m)
    if (rows.every((r) => r.words !== 'waiting')) return rows
    await new Promise((r) => setTimeout(r, 100))
  }
}
const jobDone = async (id: number, who = noor) => {
  for (;;) {
    const job = await who.must<{ state: string; error: string | null }>('GET', `/jobs/${id}`)
    if (job.state === 'done') return
    if (job.state === 'failed') throw new Error(job.error ?? 'failed')
    await new Promise((r) => setTimeout(r, 100))
  }
}
const docxOf = (...texts: string[]) => docx(texts.map((t) => par(t)).join('')).generate({ type: 'uint8array' })
const words = (q: string, who = noor, more = '') =>
  who.must<{ rows: (Row & { snippets: { text: string; hit: boolean }[][] })[]; total: number }>(
    'GET',
    `/papers/search?q=${encodeURIComponent(q)}${more}`,
  )

describe('papers of a matter', () => {
  it('have folders that are made, renamed with all in them, and taken away when empty', async () => {
    const m = await office.matter(noor, 'Foldermoor')
    const paths = async () => (await noor.must<{ folders: { path: string; count: number }[] }>('GET', `/matters/${m.id}/folders`)).folders
    expect((await paths()).map((f) => f.path)).toContain('Pleadings')
    await noor.must('POST', `/matters/${m.id}/folders`, { path: 'Discovery / Served' })
    const id = await filed(m, 'a.txt', 'one', 'Discovery/Served')
    expect((await paths()).find((f) => f.path === 'Discovery')!.count).toBe(1)
    expect((await noor.post(`/matters/${m.id}/folders/remove`, { path: 'Discovery/Served' })).body.fields[0]!.message).toMatch(
      /Move them first/,
    )
    expect((await noor.post(`/matters/${m.id}/folders/move`, { from: 'Discovery', to: 'Discovery/x' })).status).toBe(400)
    await noor.must('POST', `/matters/${m.id}/folders/move`, { from: 'Discovery/Served', to: 'Served on us' })
    expect((await list(m)).rows[0]).toMatchObject({ id, folder: 'Served on us' })
    await noor.must('POST', `/papers/move`, { ids: [id], folder: 'Pleadings' })
    await noor.must('POST', `/matters/${m.id}/folders/remove`, { path: 'Served on us' })
    expect((await paths()).map((f) => f.path)).not.toContain('Served on us')
  })

  it('are checked out by one and refused to another, until given back by a keeper', async () => {
    const m = await office.matter(noor, 'Checkoutwick')
    const id = await filed(m, 'draft.txt', 'first')
    await billie.must('POST', `/papers/${id}/check-out`, { note: 'redlines' })
    expect((await list(m)).rows[0]!.out).toMatchObject({ name: 'Billie Strand', note: 'redlines' })
    const upload = async (who: Person, text: string) => {
      const { id: uploadId } = await who.must<{ id: number }>('POST', '/uploads', { name: 'draft.txt', size: text.length })
      await form(who, `/uploads/${uploadId}`, { at: '0' }, { name: 'piece', data: text }, 'PUT')
      return who.post<{ ids: number[] }>(`/matters/${m.id}/papers/uploads`, {
        files: [{ uploadId, name: 'draft.txt', folder: 'Discovery', versionOf: id, why: 'redlined' }],
      })
    }
    expect(await upload(tomas, 'second')).toMatchObject({ status: 409, body: { code: 'paper-checked-out' } })
    expect((await tomas.post(`/papers/remove`, { ids: [id] })).body.code).toBe('paper-checked-out')
    expect((await tomas.post(`/papers/${id}/release`, {})).body.code).toBe('paper-checked-out')
    await noor.must('POST', `/papers/${id}/release`, {})
    expect((await upload(tomas, 'second words')).status).toBe(200)
    const one = await noor.must<Row & { versions: { number: number; why: string; current: boolean }[] }>('GET', `/papers/${id}`)
    expect(one.versions.map((v) => [v.number, v.why, v.current])).toEqual([[2, 'redlined', true], [1, '', false]]) // prettier-ignore
    const compared = await noor.must<{ pieces: { text: string; how: string }[] }>('GET', `/papers/${id}/compare?from=1&to=2`)
    expect(compared.pieces.filter((x) => x.how !== 'same').map((x) => x.how)).toEqual(['gone', 'added'])
    await noor.must('POST', `/papers/${id}/current`, { number: 1 })
    expect((await noor.get(`/papers/${id}/file`)).bytes.toString()).toBe('first')
    expect((await list(m)).rows[0]!.version).toBe(3)
  })

  it('go into a bin and come back; what a date hangs on stays', async () => {
    const m = await office.matter(noor, 'Binholm')
    const [a, b] = [await filed(m, 'a.txt', 'a'), await filed(m, 'order.txt', 'b')]
    await noor.must('POST', `/matters/${m.id}/docket`, { title: 'Hearing', day: '2027-01-12', weight: 'appointment', paperIds: [b] })
    await noor.must('POST', `/papers/remove`, { ids: [a] })
    expect((await list(m)).rows.map((r) => r.id)).toEqual([b])
    expect((await list(m, '&bin=yes')).rows.map((r) => r.id)).toEqual([a])
    expect((await noor.get(`/papers/${a}/file`)).status).toBe(404)
    await noor.must('POST', `/papers/restore`, { ids: [a] })
    expect((await list(m)).total).toBe(2)
    const refused = await noor.post(`/papers/remove`, { ids: [a, b] })
    expect(refused).toMatchObject({ status: 409, body: { code: 'paper-in-use' } })
    expect((await list(m)).total).toBe(2)
  })

  it('come in pieces, are resumed, and noticed when they are there already', async () => {
    const m = await office.matter(noor, 'Piecebury')
    const data = new TextEncoder().encode('0123456789'.repeat(30))
    const { id } = await noor.must<{ id: number }>('POST', '/uploads', { name: 'long.txt', size: data.length })
    const piece = (at: number, to: number, who = noor) =>
      form<{ received: number; whole: boolean }>(who, `/uploads/${id}`, { at: String(at) }, { name: 'p', data: data.slice(at, to) }, 'PUT')
    expect((await piece(0, 100)).body).toEqual({ received: 100, whole: false })
    expect((await piece(200, 300)).body.received).toBe(100)
    expect((await piece(100, 200, tomas)).status).toBe(404)
    expect((await piece(0, 100)).body.received).toBe(100)
    const keep = (doubles = false) =>
      noor.post<{ ids: number[]; doubles: unknown[] }>(`/matters/${m.id}/papers/uploads`, {
        files: [{ uploadId: id, name: 'long.txt', folder: 'Evidence' }],
        doubles,
      })
    expect((await keep()).body.fields[0]!.message).toMatch(/has not come whole/)
    expect((await piece(100, 300)).body).toEqual({ received: 300, whole: true })
    const first = (await keep()).body
    expect(first.ids).toHaveLength(1)
    expect((await noor.get(`/papers/${first.ids[0]}/file`)).bytes.equals(Buffer.from(data))).toBe(true)
    expect((await keep()).body).toMatchObject({ ids: [], doubles: [{ paperId: first.ids[0], name: 'long.txt' }] })
    expect((await keep(true)).body.ids).toHaveLength(1)
    const zip = new PizZip((await noor.get(`/papers/zip?ids=${(await list(m)).rows.map((r) => r.id).join(',')}`)).bytes)
    expect(Object.keys(zip.files).sort()).toEqual(['Evidence/long (2).txt', 'Evidence/long.txt'])
  })

  it('are found by the words in them, with access holding for every hit and count', async () => {
    const m = await office.matter(noor, 'Wordmere')
    const secret = `quillfeather${m.id}`
    await filed(m, 'survey.docx', docxOf('The hull survey found', `a ${secret} below the “waterline” café.`), 'Evidence')
    await filed(m, 'letter.eml', `Subject: ${secret}\r\nFrom: a@b.example\r\nMessage-ID: <${secret}@x>\r\n\r\nwords`, 'Correspondence')
    await filed(m, 'sheet.csv', `a,b\r\n${secret},2`, 'Evidence')
    await filed(m, 'scan.pdf', '%PDF-1.4 broken', 'Evidence')
    const rows = await settled(m)
    expect(rows.find((r) => r.name === 'scan.pdf')!.words).toMatch(/none|failed/)
    const found = await words(secret)
    expect(found.total).toBe(3)
    expect(found.rows.find((r) => r.name === 'survey.docx')!.snippets.flat().filter((x) => x.hit).map((x) => x.text)).toContain(secret) // prettier-ignore
    expect((await words(`${secret} cafe`)).total).toBe(1)
    expect((await words(`${secret} -hull`)).total).toBe(2)
    expect((await words('"hull survey"', noor, `&matterId=${m.id}`)).total).toBe(1)
    expect((await words('"survey hull"', noor, `&matterId=${m.id}`)).total).toBe(0)
    expect((await words(secret, noor, '&folder=Evidence')).total).toBe(2)
    expect((await words('the a of')).total).toBe(0)
    for (const odd of ['+++', '"', '(((', '*', '@5', `${secret}*`, '~<>', 'a'.repeat(200)])
      expect((await noor.get(`/papers/search?q=${encodeURIComponent(odd)}`)).status).toBe(200)
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Tomas')])
    expect(await words(secret, tomas)).toMatchObject({ rows: [], total: 0 })
    expect((await tomas.get(`/papers/${rows[0]!.id}`)).status).toBe(404)
    expect((await tomas.get(`/papers/zip?ids=${rows[0]!.id}`)).status).toBe(404)
  })

  it('are shown as what they are, not as they say; nothing of a letter runs or reaches out', async () => {
    const m = await office.matter(noor, 'Showham')
    const view = async (id: number) =>
      noor.must<{ as: string; mediaType: string; ready: boolean; text: string | null; why: string }>('GET', `/papers/${id}/view`)
    const html = await filed(m, 'page.pdf', '<script>alert(1)</script>')
    expect(await view(html)).toMatchObject({ as: 'text', mediaType: 'text/plain' })
    const mail = await filed(
      m,
      'x.eml',
      'Subject: Hi\r\nFrom: Ada <ada@example.com>\r\nContent-Type: text/html\r\n\r\n<p onclick="x()">Hello <img src="http://evil.example/a.png"><script>bad()</script><a href="javascript:x()">go</a><style>p{background:url(http://e)}</style></p>',
    )
    expect((await view(mail)).as).toBe('mail')
    const shown = await noor.must<{ html: string; blocked: number }>('GET', `/papers/${mail}/mail`)
    expect(shown.html).not.toMatch(/script|onclick|evil|javascript|style/)
    expect(shown.blocked).toBe(1)
    const doc = await filed(m, 'a.docx', docxOf('Words of a document'))
    expect(await view(doc)).toMatchObject({ as: 'pdf', ready: false })
    const { jobId } = await noor.must<{ jobId: number }>('POST', `/papers/${doc}/pdf`, {})
    await jobDone(jobId)
    expect(await view(doc)).toMatchObject({ as: 'pdf', ready: true })
    expect((await noor.get(`/papers/${doc}/pdf`)).bytes.subarray(0, 5).toString()).toBe('%PDF-')
  })

  it('refuses documents that are bombs or lie', async () => {
    const bomb = new PizZip()
    for (let i = 0; i < 10_002; i += 1) bomb.file(`a${i}`, '')
    await expect(openZip(bomb.generate({ type: 'uint8array' }))).rejects.toThrow(/10,000 parts/)
    const big = new PizZip()
    big.file('word/document.xml', '0'.repeat(201_000_000))
    await expect(openZip(big.generate({ type: 'uint8array', compression: 'DEFLATE' }))).rejects.toThrow(/200 MB/)
    const entities = new PizZip()
    entities.file('word/document.xml', '<!DOCTYPE x [<!ENTITY a "b">]><x>&a;</x>')
    await expect(openZip(entities.generate({ type: 'uint8array' }))).rejects.toThrow(/entities/)
    await expect(openZip(new Uint8Array([0x50, 0x4b, 3, 4, 1, 2, 3]))).rejects.toThrow(/damaged/)
  })
})

describe('links for outsiders', () => {
  it('show what was chosen until they end, by a code where wanted, and nothing else', async () => {
    const m = await office.matter(noor, 'Linkstow')
    const [a, b] = [await filed(m, 'report.txt', 'for the expert'), await filed(m, 'secret.txt', 'not for the expert')]
    const base = {
      forWhom: 'Dr. Ann Expert',
      email: 'ann@example.com',
      message: 'Please read',
      paperIds: [a],
      folder: null,
      endsOn: '2026-12-31',
      needsCode: false,
      mayUpload: true,
      send: false,
    }
    const link = await noor.must<{ id: number; token: string }>('POST', `/matters/${m.id}/links`, base)
    const nobody = office.nobody()
    const open = (token: string, pass = '') =>
      nobody.post<{ papers: { id: number; name: string }[]; needsCode: boolean; forWhom: string }>(`/outside/${token}`, { pass })
    expect((await open(link.token)).body.papers.map((p) => p.name)).toEqual(['report.txt'])
    expect((await nobody.get(`/outside/${link.token}/papers/${a}`)).bytes.toString()).toBe('for the expert')
    expect((await nobody.get(`/outside/${link.token}/papers/${b}`)).status).toBe(404)
    expect((await form(nobody, `/outside/${link.token}/files`, {}, { name: '../opinion.txt', data: 'my opinion' })).status).toBe(200)
    expect((await list(m)).rows.map((r) => r.name)).toContain('opinion.txt')
    expect((await list(m)).rows.find((r) => r.id === a)!.shared).toBe(1)
    const [seen] = await noor.must<{ visits: { what: string; paper: string | null }[] }[]>('GET', `/matters/${m.id}/links`)
    expect(seen!.visits.map((v) => v.what)).toEqual(['sent', 'read', 'opened'])
    await noor.must('POST', `/links/${link.id}/withdraw`, {})
    expect((await open(link.token)).status).toBe(404)
    expect((await nobody.get(`/outside/${link.token}/papers/${a}`)).status).toBe(404)

    const coded = await noor.must<{ id: number; token: string }>('POST', `/matters/${m.id}/links`, {
      ...base,
      paperIds: [],
      folder: 'Discovery',
      needsCode: true,
      mayUpload: false,
    })
    expect((await open(coded.token)).body).toMatchObject({ needsCode: true, papers: [], forWhom: '' })
    expect((await nobody.get(`/outside/${coded.token}/papers/${a}`)).status).toBe(403)
    await nobody.post(`/outside/${coded.token}/send-code`, {})
    const [letter] = await office.db.query<{ subject: string }[]>(
      `SELECT subject FROM mail WHERE message_key LIKE 'link code ${coded.id} %'`,
    )
    for (let i = 0; i < 3; i += 1) expect((await nobody.post(`/outside/${coded.token}/code`, { code: '000000' })).status).toBe(400)
    const given = await nobody.post<{ pass: string }>(`/outside/${coded.token}/code`, { code: /\d{6}/.exec(letter!.subject)![0] })
    expect((await open(coded.token, given.body.pass)).body.papers.map((p) => p.name)).toEqual(
      expect.arrayContaining(['report.txt', 'secret.txt']),
    )
    expect((await open(coded.token, 'x'.repeat(24))).body.papers).toEqual([])
    expect((await open('a'.repeat(32))).status).toBe(404)
  })
})

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
    process.env['HERON_FILING_SECRET'] = 'of the mail server'
    await office.db.query(`UPDATE firm SET filing_address = 'file@callowayfenn.example'`)
    const key = randomUUID()
    const arrive = (from: string, text: string, secret = 'of the mail server', to = 'FILE@callowayfenn.example') =>
      form(office.nobody(), '/filing/arrive', { secret, to, from }, { name: 'm.eml', data: text })
    const staff = eml(`s-${key}@x`, 'From staff').replace('ada@finch.example', 'noor@callowayfenn.example')
    expect((await arrive('noor@callowayfenn.example', staff)).status).toBe(200)
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
    expect(await tray(ferdi)).toEqual(expect.arrayContaining([['From a stranger', false], ['Pretending', false]])) // prettier-ignore
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
    await ferdi.call(
      'PUT',
      `/templates/${body.id}/questions`,
      {
        id: body.id,
        questions: [
          { key: 'tone', text: 'Tone', type: 'choice', choices: ['measured', 'firm'], required: true, when: '', help: '' },
          { key: 'list', text: 'Which costs', type: 'costs', choices: [], required: false, when: 'answers.tone = "firm"', help: '' },
        ],
      },
      { 'idempotency-key': randomUUID() },
    )
    await noor.must('POST', `/matters/${m.id}/costs`, { day: '2026-11-02', kind: 'soft cost', text: 'Courier', amount: 1895, payee: '' })
    const first = await noor.must<Prepared & { costs: { id: number }[] }>('POST', '/papers/prepare', making(m, body.id))
    expect(first.ready).toBe(false)
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
        })
      ).jobId,
    )
    const [{ court }] = (await office.db.query<{ court: string }[]>(`SELECT court FROM matter WHERE id = ?`, [m.id])) as [{ court: string }]
    expect(court).toBe('Superior Court of Alder')
    await settled(m)
    const made = (await list(m)).rows.find((r) => r.name === 'Demand.docx')!
    const said = (await words('insist', noor, `&matterId=${m.id}`)).rows.map((r) => r.name).sort()
    expect(said).toEqual(['Demand.docx', 'Demand.pdf'])
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
