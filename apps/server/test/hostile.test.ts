import { randomUUID } from 'node:crypto'
import { connect } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, stillAnswers, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
let ferdi: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  ferdi = await office.signIn('ferdi')
})
afterAll(() => office.close())

/** Sends a raw request whose body never ends by itself, and gives what was answered and how much was taken. */
function pour(head: string, chunk: Buffer, most: number): Promise<{ answer: string; sent: number }> {
  return new Promise((resolve) => {
    const socket = connect(office.running.port, '127.0.0.1')
    let answer = ''
    let sent = 0
    const write = () => {
      while (sent < most && !socket.destroyed) {
        sent += chunk.length
        if (!socket.write(chunk)) return void socket.once('drain', write)
      }
    }
    socket.on('data', (d) => (answer += d.toString()))
    socket.on('error', () => undefined)
    socket.on('close', () => resolve({ answer, sent }))
    socket.write(head)
    write()
    setTimeout(() => socket.destroy(), 4000).unref()
  })
}

describe('bodies', () => {
  it('of 300 MB each, fourteen at once, to sign in: refused from their head, nothing of them is kept', async () => {
    const head = 'POST /api/session HTTP/1.1\r\nhost: x\r\ncontent-type: application/json\r\ncontent-length: 300000000\r\n\r\n'
    const before = process.memoryUsage().rss
    const answers = Promise.all(Array.from({ length: 14 }, () => pour(head, Buffer.alloc(65_536, ' '), 3_000_000)))
    await stillAnswers(office, answers)
    for (const a of await answers) expect(a.answer).toContain('413')
    expect(process.memoryUsage().rss - before).toBeLessThan(200_000_000)
  })
  it('without a length, in pieces: not read at all', async () => {
    const head = 'POST /api/session HTTP/1.1\r\nhost: x\r\ncontent-type: application/json\r\ntransfer-encoding: chunked\r\n\r\n'
    const piece = Buffer.concat([Buffer.from('10000\r\n'), Buffer.alloc(65_536, '['), Buffer.from('\r\n')])
    const { sent } = await pour(head, piece, 50_000_000)
    expect(sent).toBeLessThan(40_000_000)
  })
  it('of another kind than JSON, or forms without a length, are not read', async () => {
    const plain = await fetch(`${office.base}/api/notes`, {
      method: 'POST',
      headers: { cookie: noor.cookie, 'x-heron-csrf': noor.csrf, 'idempotency-key': randomUUID(), 'content-type': 'text/plain' },
      body: 'a note',
    })
    expect(plain.status).toBe(415)
    const head = `POST /api/imports HTTP/1.1\r\nhost: 127.0.0.1\r\ncookie: ${noor.cookie}\r\nx-heron-csrf: ${noor.csrf}\r\nidempotency-key: ${randomUUID()}\r\ncontent-type: multipart/form-data; boundary=x\r\ntransfer-encoding: chunked\r\n\r\n`
    expect((await pour(head, Buffer.from('5\r\n--x\r\n\r\n'), 1000)).answer).toContain('411')
  })
  it('nested ten thousand deep, or with brackets for a query: answered as faulty', async () => {
    const deep = await fetch(`${office.base}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '['.repeat(10_000) + ']'.repeat(10_000),
    })
    expect(deep.status).toBe(400)
    const query = await stillAnswers(office, noor.get(`/contacts?q${'[a]'.repeat(2500)}=1`))
    expect([200, 400]).toContain(query.status)
  })
})

describe('words', () => {
  it('a note of 200,000 signs that begin a tag is refused at once, and 60,000 of them are read at once', async () => {
    for (const n of [200_000, 59_000]) {
      const answer = noor.post('/notes', { matterId: 1, html: '<'.repeat(n) })
      await stillAnswers(office, answer)
      expect([200, 400, 404]).toContain((await answer).status)
    }
  })
  it('a search of many words, or of every letter, does not grow with them', async () => {
    await Promise.all(
      Array.from({ length: 30 }, (_, i) =>
        noor.must('POST', '/contacts', { kind: 'person', name: `Alba Bram Cleo Dov Eli Fay Gus ${'abcdefghij'[i % 10]}${i}` }),
      ),
    )
    for (const q of [
      'a b c d e f g h i j k l m n o p q r s t u v w x y z',
      'alba bram cleo dov eli fay gus',
      'a a a a a a a a a a a a a a',
    ]) {
      for (const path of ['/contacts', '/find', '/matters', '/enquiries']) {
        const answer = await stillAnswers(office, noor.get(`${path}?q=${encodeURIComponent(q)}`))
        expect(answer.status, `${path} ${q}`).toBe(200)
      }
    }
    expect((await noor.get<{ total: number }>('/contacts?q=alba%20bram%20cleo')).body.total).toBeGreaterThanOrEqual(30)
  })
  it('per cent and underscore are letters in a search', async () => {
    await noor.must('POST', '/contacts', { kind: 'organization', name: 'Plain Name Holding' })
    const found = await noor.get<{ title: string }[]>('/find?q=%25%25')
    expect(found.body.filter((f) => f.title.includes('Plain'))).toEqual([])
  })
  it('reading ends with whoever asked: a statement does not outlive its request', async () => {
    const running = () =>
      rows<{ n: number }>(
        office.db.manager,
        `SELECT COUNT(*) AS n FROM information_schema.processlist WHERE command = 'Query' AND info LIKE '%contact%' AND time_ms > 3000 AND info NOT LIKE '%processlist%'`,
      )
    const gone = new AbortController()
    const asked = fetch(`${office.base}/api/contacts?q=a`, { headers: { cookie: noor.cookie }, signal: gone.signal }).catch(() => null)
    gone.abort()
    await asked
    expect((await running())[0]!.n).toBe(0)
    expect((await noor.get('/contacts?q=alba')).status).toBe(200)
  })
  it('no statement of the application runs without end', async () => {
    const limit = await row<{ s: number }>(office.db.manager, `SELECT @@max_statement_time AS s`)
    expect(limit!.s).toBeGreaterThan(0)
    expect(limit!.s).toBeLessThanOrEqual(30)
  })
})

describe('counts and dates', () => {
  it('a thousand million court days, or a day in the year 9999, are refused in words', async () => {
    for (const text of ['+1000000000 court days', '+9999 court days', '30 Mar 2027 + 9999 years']) {
      const answer = noor.get(`/day-sum?text=${encodeURIComponent(text)}`)
      await stillAnswers(office, answer)
      expect((await answer).status, text).toBe(400)
    }
    const m = await office.matter(noor, 'Far Off Dates Ltd')
    for (const day of ['9999-12-31', '1000-01-01', '2201-01-01', '2027-02-30', '2027-13-01']) {
      const entry = await noor.post(`/matters/${m.id}/docket`, { day, weight: 'appointment', title: 'Far off' })
      expect(entry.status, day).toBe(400)
      expect(entry.body.detail, day).toMatch(/1900 to 2200/)
    }
    expect((await noor.post(`/matters/${m.id}/docket`, { day: '2200-12-31', weight: 'appointment', title: 'The last one' })).status).toBe(
      200,
    )
    expect((await stillAnswers(office, noor.get(`/matters/${m.id}/docket`))).status).toBe(200)
    expect((await noor.get(`/docket?from=${today}&scope=firm&to=2029-11-01`)).status).toBe(200)
  })
  it('rules that close a court all year, or count a million days, end with a fault', async () => {
    const shipped = await ferdi.get(`/rules/wexmoor-superior/file`)
    const set = JSON.parse(shipped.bytes.toString()) as Record<string, unknown> & { deadlines: { legs: { count: number }[] }[] }
    const asked = { trigger: 'complaint-served', date: today, service: null, facts: [] }
    const closed = {
      key: 'never',
      title: 'Never open',
      rules: [{ kind: 'recess', name: 'Recess', fromMonth: 1, fromDay: 1, toMonth: 12, toDay: 31 }],
    }
    const never = { ...set, key: 'own-never', holidays: ['never'], holidaySets: [closed] }
    const answer = ferdi.post('/rules/try', {
      ...asked,
      trigger: (set['triggers'] as { key: string }[])[0]!.key,
      file: JSON.stringify(never),
    })
    await stillAnswers(office, answer)
    expect((await answer).status).toBeLessThan(500)
    const many = structuredClone(set)
    many.deadlines[0]!.legs[0]!.count = 1_000_000
    const counted = await ferdi.post<{ faults: unknown[] }>('/rules/try', { ...asked, file: JSON.stringify({ ...many, key: 'own-many' }) })
    expect(counted.status === 400 || counted.body.faults.length > 0).toBe(true)
  })
  it('a rule of recurrence that never comes true ends', async () => {
    const m = await office.matter(noor, 'Never Recurring Ltd')
    for (const repeats of [
      'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30',
      'FREQ=DAILY;BYMONTH=2;BYMONTHDAY=31',
      'FREQ=MONTHLY;BYMONTHDAY=40',
      'FREQ=MONTHLY;INTERVAL=12;BYMONTH=3',
    ]) {
      const answer = noor.post(`/matters/${m.id}/docket`, { day: '2026-12-01', weight: 'appointment', title: 'Never', repeats })
      await stillAnswers(office, answer)
      expect((await answer).status, repeats).toBe(400)
    }
  })
})

describe('amounts', () => {
  it('a rate of 9e15 and an amount without bounds are refused where they are typed', async () => {
    const m = await office.matter(noor, 'Large Amounts Ltd')
    const time = await noor.post('/time', { matterId: m.id, day: today, text: 'Work', duration: '1', rate: 9e15 })
    expect(time.body).toMatchObject({ code: 'invalid', fields: [{ path: 'rate' }] })
    const who = await office.user('Noor')
    expect((await ferdi.post(`/staff/${who}/rates`, { from: '2027-01-01', rate: 9e15 })).status).toBe(400)
    expect((await noor.post(`/matters/${m.id}/costs`, { day: today, kind: 'soft cost', text: 'x', amount: 9e15 })).status).toBe(400)
    expect((await noor.post(`/matters/${m.id}/costs`, { day: today, kind: 'soft cost', text: 'x', amount: -100 })).status).toBe(400)
    const sheet = await orla.post('/trust/sheets', {
      bankAccountId: await office.bank('pooled'),
      day: today,
      controlTotal: 9e15,
      receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'x', kind: 'cash', amount: 9e15 }],
    })
    expect(sheet.status).toBe(400)
    await expect(
      office.db.query(
        `INSERT INTO cost_entry (matter_id, day, kind, text, amount, entered_by, created_at) VALUES (?, ?, 'soft cost', 'x', 9000000000000000, ?, NOW(6))`,
        [m.id, today, who],
      ),
    ).rejects.toThrow(/sensible/)
  })
  it('what is named and not on record is a fault of the request, not of the server', async () => {
    const m = await office.matter(noor, 'Unknown Names Ltd')
    const time = await noor.post('/time', { matterId: m.id, day: today, text: 'Work', duration: '1', activity: 'NO-SUCH' })
    expect(time.status).toBe(400)
    const journal = await orla.post('/books/journals', {
      day: today,
      memo: 'x',
      lines: [
        { accountId: 4_000_000, amount: 5 },
        { accountId: 4_000_001, amount: -5 },
      ],
    })
    expect(journal.body).toMatchObject({ code: 'invalid', fields: [{ path: 'lines.0.accountId' }] })
    expect((await noor.get('/matters/99999999999999999999')).status).toBe(400)
  })
  it('what has happened lies neither ahead nor a thousand years back', async () => {
    const m = await office.matter(noor, 'Sensible Dates Ltd')
    for (const day of ['1000-01-01', '1950-01-01', '2026-11-24', '2030-01-01', '2099-01-01']) {
      expect((await noor.post('/time', { matterId: m.id, day, text: 'Work', duration: '1' })).status, `time ${day}`).toBe(400)
      expect((await noor.post(`/matters/${m.id}/costs`, { day, kind: 'soft cost', text: 'x', amount: 100 })).status, `cost ${day}`).toBe(
        400,
      )
      const opened = await noor.post('/matters', { clientId: m.clientId, name: 'Odd', openedOn: day })
      expect(opened.status, `opened ${day}`).toBe(400)
      const sheet = {
        bankAccountId: await office.bank('pooled'),
        day,
        controlTotal: 5,
        receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'x', kind: 'cash', amount: 5 }],
      }
      expect((await orla.post('/trust/sheets', sheet)).status, `sheet ${day}`).toBe(400)
      const accounts = await rows<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE code IN ('5010', '5020')`)
      const journal = { day, memo: 'x', lines: accounts.map((a, i) => ({ accountId: a.id, amount: i ? -5 : 5 })) }
      expect((await orla.post('/books/journals', journal)).status, `journal ${day}`).toBe(400)
    }
  })
})

describe('signing in', () => {
  const attempt = (email: string, password: string) =>
    fetch(`${office.base}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    }).then((r) => r.status)
  it('of 40 wrong passwords at the same moment only the first six are judged, and colleagues are not held up', async () => {
    const answers = await Promise.all(Array.from({ length: 40 }, () => attempt('sable@callowayfenn.example', 'wrong')))
    expect(answers.filter((s) => s === 401)).toHaveLength(6)
    expect(answers.filter((s) => s === 429)).toHaveLength(34)
    await office.signIn('jun')
    await office.signIn('noor')
    await office.db.query(`DELETE FROM sign_in_guard`)
  })
  it('a secret of a calendar and the missing file of an earlier version', async () => {
    expect((await fetch(`${office.base}/api/calendars/${'x'.repeat(40)}`)).status).toBe(404)
  })
})
