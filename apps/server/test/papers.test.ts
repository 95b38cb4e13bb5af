import { createHash } from 'node:crypto'
import { connect } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import PizZip from 'pizzip'
import { openZip } from '../src/papers/apart/zip'
import { Office, type Person } from './office'
import { indexMissing } from '../src/papers/search'
import { actAs, form, filed, list, sentPiece, settled, jobDone, docxOf, until, uploaded, words, type Row } from './papers'

let office: Office
let noor: Person
let billie: Person
let tomas: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  actAs(noor)
  billie = await office.signIn('billie')
  tomas = await office.signIn('tomas')
})
afterAll(() => office.running.stop())

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
    const upload = (who: Person, text: string) => uploaded(who, m, text, id)
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
    const piece = (at: number, to: number, who = noor) => sentPiece<{ received: number; whole: boolean }>(who, id, at, data.slice(at, to))
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

  it('come once, also where the last piece races another of other bytes, or one breaks off that leaves a gap', async () => {
    const m = await office.matter(noor, 'Racebury')
    const start = async () => (await noor.must<{ id: number }>('POST', '/uploads', { name: 'raced.txt', size: 400_000 })).id
    const id = await start()
    const of = (letter: string) => new TextEncoder().encode(letter.repeat(400_000))
    await Promise.all(['a', 'b', 'c'].map((l) => sentPiece(noor, id, 0, of(l))))
    const kept = await noor.must<{ ids: number[] }>('POST', `/matters/${m.id}/papers/uploads`, { files: [{ uploadId: id, name: 'raced.txt', folder: 'Evidence' }] }) // prettier-ignore
    // All of it is one sender's, and agrees with its hash.
    const text = (await noor.get(`/papers/${kept.ids[0]}/file`)).bytes.toString()
    expect(new Set(text).size).toBe(1)
    const [file] = await office.db.query<{ sha256: string }[]>(`SELECT s.sha256 FROM paper p JOIN stored_file s ON s.id = p.file_id WHERE p.id = ?`, [kept.ids[0]]) // prettier-ignore
    expect(createHash('sha256').update(text).digest('hex')).toBe(file!.sha256)
    const gap = await start()
    const { port } = new URL(office.base)
    await new Promise<void>((resolve) => {
      const socket = connect(Number(port), '127.0.0.1', () =>
        socket.write(
          `PUT /api/uploads/${gap}?at=200000 HTTP/1.1\r\nHost: x\r\nCookie: ${noor.cookie}\r\nx-heron-csrf: ${noor.csrf}\r\nidempotency-key: ${crypto.randomUUID()}\r\ncontent-type: application/octet-stream\r\ncontent-length: 200000\r\n\r\nsome`,
          () => setTimeout(() => socket.destroy(), 100),
        ),
      )
      socket.on('close', () => resolve())
    })
    expect(await noor.must('GET', `/uploads/${gap}`)).toEqual({ received: 0, whole: false })
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

  it('are found by their names first, as they are called and read now, however many come at once', async () => {
    const m = await office.matter(noor, 'Findwick')
    const own = `brill${m.id}`
    const ids = await Promise.all(
      Array.from({ length: 14 }, (_, i) => filed(m, `${i === 5 ? own : `plain ${i}`}.txt`, `a ${own} and n${i}x${m.id}`)),
    )
    await settled(m)
    const found = await words(own)
    expect(found.total).toBe(14)
    expect(found.rows.map((r) => r.id)).toEqual([ids[5], ...ids.filter((_, i) => i !== 5).sort((a, b) => b - a)])
    expect((await words(`brill${String(m.id).slice(0, 1)}*`, noor, `&matterId=${m.id}`)).total).toBe(14)

    const paper = await noor.must<object>('GET', `/papers/${ids[0]}`)
    await noor.must('PUT', `/papers/${ids[0]}`, {
      ...paper,
      kind: '',
      author: '',
      day: null,
      tags: [],
      note: '',
      name: `turbot${m.id}.txt`,
    })
    await until(async () => (await words(`turbot${m.id}`)).total === 1)
    expect((await words(`plain ${own} n0x${m.id}`)).total).toBe(0)
    await uploaded(noor, m, `sole${m.id}`, ids[1]!)
    await until(async () => (await words(`sole${m.id}`)).total === 1)
    expect((await words(own)).total).toBe(13)
    // What is missing of the index is brought back.
    await office.db.query(`DELETE FROM paper_indexed WHERE paper_id = ?`, [ids[2]])
    await office.db.query(`DELETE p FROM paper_posting p JOIN paper_word w ON w.id = p.word_id WHERE w.word = ?`, [`n2x${m.id}`])
    expect((await words(`n2x${m.id}`)).total).toBe(0)
    await indexMissing(office.running.base)
    expect((await words(`n2x${m.id}`)).total).toBe(1)
    const named = await noor.must<{ groups?: unknown }>('GET', `/find?q=turbot${m.id}`)
    expect(JSON.stringify(named)).toContain(`turbot${m.id}.txt`)
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

describe('papers of someone who is away', () => {
  it('go over with what was checked out and what was to be read, and come back', async () => {
    const [ferdi, m] = [await office.signIn('ferdi'), await office.matter(noor, 'Awaymoor')]
    const [out, draft] = [await filed(m, 'out.txt', 'one'), await filed(m, 'draft.txt', 'two')]
    const [away, stays] = [await office.user('Billie'), await office.user('Tomas')]
    await billie.must('POST', `/papers/${out}/check-out`, { note: '' })
    await noor.must('POST', `/papers/${draft}/review`, { toId: away, dueOn: null, message: '' })
    const has = await ferdi.must<{ paper: { id: number }[]; review: { id: number; text: string }[] }>('GET', `/staff/${away}/holdings`)
    const review = has.review.find((r) => r.text === 'draft.txt')!
    const gives = (toId: number) => [
      { what: 'paper', subjectId: out, toId },
      { what: 'review', subjectId: review.id, toId },
    ]
    const leave = (toId: number) =>
      ferdi.post<{ id: number }>(`/staff/${away}/absences`, { kind: 'leave', from: '2026-11-23', to: '2026-12-01', gives: gives(toId) })
    // Whoever asked does not read the draft; nothing of the leave has then happened.
    expect((await leave(await office.user('Noor'))).status).toBe(400)
    expect((await list(m)).rows.find((r) => r.id === out)!.out).toMatchObject({ name: 'Billie Strand' })
    const { body } = await leave(stays)
    expect((await list(m)).rows.find((r) => r.id === out)!.out).toMatchObject({ name: 'Tomas Okafor-Reyes' })
    expect((await tomas.must<{ id: number }[]>('GET', '/reviews')).map((r) => r.id)).toContain(review.id)
    await ferdi.must('POST', `/absences/${body.id}/ended`, {})
    expect((await billie.must<{ id: number }[]>('GET', '/reviews')).map((r) => r.id)).toContain(review.id)
    await billie.must('POST', `/papers/${out}/release`, {})
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
      nobody.post<{ papers: { id: number; name: string }[]; total: number; needsCode: boolean; forWhom: string }>(`/outside/${token}`, {
        pass,
      })
    const { papers, total } = (await open(link.token)).body
    expect([papers.map((p) => p.name), total]).toEqual([['report.txt'], 1])
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
