import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createHash } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { addTemplate } from '../src/papers'
import { engagementLetter } from '@heron/demo/letter'
import { datesSeen } from './dates'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
})
afterAll(() => office.close())

let n = 0
const client = (more: Record<string, unknown> = {}) => office.matter(noor, `Work Client ${(n += 1)} Ltd`, more)
const textOf = (pdf: Buffer) => {
  const file = join(mkdtempSync(join(tmpdir(), 'heron-pdf-')), 'a.pdf')
  writeFileSync(file, pdf)
  return execFileSync('pdftotext', ['-layout', file, '-']).toString()
}

describe('opening a matter', () => {
  it('needs a stored check that covers its names', async () => {
    const client = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Wren Applegate' })
    const adverse = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Osric Vane' })
    const open = (conflictCheckId: number) =>
      office.user('Noor').then((leadId) =>
        noor.post<{ number: string }>('/matters', {
          clientId: client.id,
          name: 'Applegate v. Vane',
          openedOn: today,
          conflictCheckId,
          leadId,
          parties: [{ contactId: adverse.id, role: 'defendant', side: 'adverse' }],
        }),
      )
    expect((await open(0)).body.fields[0]?.path).toBe('conflictCheckId')
    const narrow = await noor.must<{ id: number }>('POST', '/conflict-checks', { terms: ['Wren Applegate'] })
    expect((await open(narrow.id)).body).toMatchObject({
      code: 'conflict-check-needed',
      detail: expect.stringContaining('Osric Vane') as string,
    })
    const whole = await noor.must<{ id: number }>('POST', '/conflict-checks', { terms: ['Wren Applegate', 'Osric Vane'] })
    const opened = await open(whole.id)
    expect(opened.body.number).toMatch(/^26-\d{4}$/)
    expect((await open(whole.id)).body.code).toBe('conflict-check-needed')
    const early = await noor.must<{ id: number }>('POST', '/conflict-checks', { terms: ['Wren Applegate', 'Osric Vane', 'Ada Quist'] })
    const late = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Ada Quist' })
    const leadId = await office.user('Noor')
    const stale = await noor.post('/matters', { clientId: late.id, name: 'Quist', openedOn: today, conflictCheckId: early.id, leadId })
    expect(stale.body.detail).toContain('came on record after the conflict check')
  })
  it('shows a hit with its reason and part, until someone decides', async () => {
    await client()
    const check = await noor.must<{ hits: { id: number; reason: string; matters: { text: string }[] }[] }>('POST', '/conflict-checks', {
      terms: [`WORK CLIENT ${n}`],
    })
    expect(check.hits[0]).toMatchObject({ reason: 'same name normalized' })
    expect(check.hits[0]!.matters[0]!.text).toMatch(/^client in 26-/)
    expect((await noor.post(`/conflict-hits/${check.hits[0]!.id}/decision`, { decision: 'waiver needed' })).status).toBe(200)
  })
})

describe('a screened person', () => {
  it('finds no trace of the matter, and a conflict hit says only whom to ask', async () => {
    const m = await client()
    const billie = await office.signIn('billie')
    expect((await billie.get(`/matters/${m.id}`)).status).toBe(200)
    await noor.must('POST', `/matters/${m.id}/screens`, { userId: await office.user('Billie') })
    for (const part of ['', '/docket', '/time', '/log']) expect((await billie.get(`/matters/${m.id}${part}`)).status, part).toBe(404)
    const list = await billie.must<{ rows: { id: number }[] }>('GET', `/matters?q=${m.number}`)
    expect(list.rows).toEqual([])
    expect(await billie.must<unknown[]>('GET', `/find?q=${m.number}`)).toEqual([])
    const check = await billie.must<{ hits: { matters: { text: string }[] }[] }>('POST', '/conflict-checks', {
      terms: [`Work Client ${n} Ltd`],
    })
    expect(check.hits[0]!.matters).toEqual([{ text: 'In a matter that is not open to you; ask Noor Haddad-Lind' }])
    expect((await billie.post('/time', { matterId: m.id, day: today, text: 'x', duration: '1' })).status).toBe(404)
  })
  it('an outside lawyer sees only matters of the own team', async () => {
    const m = await client()
    const sable = await office.signIn('sable')
    expect((await sable.get(`/matters/${m.id}`)).status).toBe(404)
  })
})

describe('docketing', () => {
  it('keeps what is left out and dockets the rest with trace and authority', async () => {
    const m = await client()
    const trigger = { trigger: 'judgment-entered', date: '2026-10-29' }
    const { proposals } = await noor.must<{ proposals: { key: string; date: string; applies: boolean }[] }>(
      'POST',
      `/matters/${m.id}/dates/proposed`,
      trigger,
    )
    expect(proposals.find((p) => p.key === 'notice-of-appeal')?.date).toBe('2026-11-30')
    const take = proposals.filter((p) => p.applies && p.key !== 'attorney-fees-motion').map((p) => p.key)
    expect(await noor.must('POST', `/matters/${m.id}/dates`, { ...trigger, take, seen: datesSeen(proposals) })).toMatchObject({
      docketed: take.length,
    })
    const docket = await noor.must<{ title: string; leftOut: boolean; trace: unknown[]; authority: string; id: number }[]>(
      'GET',
      `/matters/${m.id}/docket`,
    )
    const out = docket.filter((d) => d.leftOut)
    expect(out.map((d) => d.title)).toContain("Motion for attorney's fees")
    expect(docket.find((d) => d.title === 'Notice of appeal')?.trace.length).toBeGreaterThan(1)
    await noor.must('PUT', `/docket/${out[0]!.id}/left-out`, { leftOut: false })
    expect((await rows(office.db.manager, `SELECT what FROM docket_history WHERE entry_id = ?`, [out[0]!.id])).length).toBe(2)
  })
  it('asks how it was served where that matters', async () => {
    const m = await client()
    const answer = await noor.post(`/matters/${m.id}/dates/proposed`, { trigger: 'interrogatories-served', date: '2026-10-30' })
    expect(answer.body.fields[0]).toEqual({ path: 'service', message: 'Say how it was served' })
  })
})

describe('time and bills', () => {
  it('38 minutes at $285.00 in 6-minute units: 0.7 h, $199.50, by the own rate in force', async () => {
    const m = await client()
    const quote = await noor.must('POST', '/time/quote', { matterId: m.id, day: today, duration: '38m' })
    expect(quote).toMatchObject({ minutes: 42, rate: 28500, origin: 'own rate in force', amount: 19950 })
  })

  it('one timer runs at a time, on the server', async () => {
    await noor.must('POST', '/timers', { text: 'first' })
    await noor.must('POST', '/timers', { text: 'second' })
    const timers = await noor.must<{ id: number; text: string; running: boolean }[]>('GET', '/timers')
    expect(timers.filter((t) => t.text).map((t) => [t.text, t.running])).toEqual([
      ['second', true],
      ['first', false],
    ])
    for (const t of timers) await noor.call('DELETE', `/timers/${t.id}`, {})
  })

  it('a bill keeps its own lines, names and bytes whatever changes afterwards', async () => {
    const m = await client()
    const bill = await office.bill(noor, orla, m.id, 120_000)
    const first = await orla.get(`/bills/${bill.id}/pdf`)
    const hash = createHash('sha256').update(first.bytes).digest('hex')
    expect((await orla.must<{ pdfHash: string }>('GET', `/bills/${bill.id}`)).pdfHash).toBe(hash)
    expect(textOf(first.bytes)).toMatch(/This bill\s+\$1,200\.00/)
    await noor.must('PUT', `/contacts/${m.clientId}`, { kind: 'organization', name: 'Renamed Client', kinds: [] })
    await office.db.query(`UPDATE user_account SET name = 'Noor Renamed' WHERE name = 'Noor Haddad-Lind'`)
    await office.db.query(`UPDATE user_rate SET rate = 1 WHERE user_id = (SELECT id FROM user_account WHERE name = 'Noor Renamed')`)
    const again = await orla.get(`/bills/${bill.id}/pdf`)
    expect(again.bytes.equals(first.bytes)).toBe(true)
    const kept = await row<{ name: string }>(
      office.db.manager,
      `SELECT timekeeper_name AS name FROM bill_line WHERE bill_id = ? AND kind = 'time'`,
      [bill.id],
    )
    expect(kept?.name).toBe('Noor Haddad-Lind')
    await office.db.query(
      `UPDATE user_rate SET rate = 28500 WHERE user_id = (SELECT id FROM user_account WHERE name = 'Noor Renamed') AND to_day IS NULL`,
    )
    await office.db.query(`UPDATE user_account SET name = 'Noor Haddad-Lind' WHERE name = 'Noor Renamed'`)
  })

  it('numbers bills without gaps, also when issuing fails in between', async () => {
    const m = await client()
    const one = await office.bill(noor, orla, m.id, 10_000)
    const entry = await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: today, text: 'More', duration: '1' })
    await noor.must('POST', '/time/post', { ids: [entry.id] })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    expect((await orla.post(`/pre-bills/${pre.id}/issue`, { day: today })).body.code).toBe('not-approved')
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    await office.db.query(`UPDATE firm SET books_closed_to = '2026-10-31'`)
    expect((await orla.post(`/pre-bills/${pre.id}/issue`, { day: '2026-10-30' })).body.code).toBe('period-closed')
    await office.db.query(`UPDATE firm SET books_closed_to = NULL`)
    const two = await orla.must<{ number: string }>('POST', `/pre-bills/${pre.id}/issue`, { day: today })
    expect(Number(two.number.slice(2)) - Number(one.number.slice(2))).toBe(1)
  })

  it('collected fees stand with their timekeepers, and a reversed payment takes them away', async () => {
    const m = await client()
    const bill = await office.bill(noor, orla, m.id, 100_000)
    const collected = async () =>
      (
        await orla.must<{ sections: { rows: { name: string; amounts: number[] }[] }[] }>(
          'GET',
          `/books/statements/income?from=2026-11-01&to=${today}&basis=cash&by=timekeeper`,
        )
      ).sections[0]!.rows.find(
        // prettier-ignore
        (r) => r.name.startsWith('Noor'),
      )?.amounts[0] ?? 0
    const before = await collected()
    const paid = await orla.must<{ id: number }>('POST', `/bills/${bill.id}/payments`, { day: today, amount: 40_000, kind: 'check' })
    expect(await collected()).toBe(before + 40_000)
    await orla.must('POST', `/payments/${paid.id}/reverse`, { day: today, reason: 'returned unpaid' })
    expect(await collected()).toBe(before)
    expect((await orla.must<{ open: number }>('GET', `/bills/${bill.id}`)).open).toBe(100_000)
    expect((await orla.post(`/payments/${paid.id}/reverse`, { day: today, reason: 'twice' })).body.code).toBe('already-reversed')
  })

  it('costs: a hard cost is an asset until billed, and is never written down', async () => {
    const m = await client()
    await orla.must('POST', `/matters/${m.id}/costs`, {
      day: '2026-10-05',
      kind: 'hard cost',
      text: 'Filing fee',
      amount: 40_500,
      payee: 'Records Office',
    })
    expect((await orla.post(`/matters/${m.id}/costs`, { day: today, kind: 'hard cost', text: 'x', amount: 1 })).body.fields[0]?.path).toBe(
      'payee',
    )
    const bill = await office.bill(noor, orla, m.id, 10_000)
    const legs = await rows<{ role: string; amount: number }>(
      office.db.manager,
      `SELECT a.role, l.amount FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.journal_id = (SELECT journal_id FROM bill WHERE id = ?)`,
      [bill.id],
    )
    expect(Object.fromEntries(legs.map((l) => [l.role, l.amount]))).toEqual({
      'unbilled fees': 10_000,
      'work in progress': -10_000,
      receivable: 50_500,
      fees: -10_000,
      'costs advanced': -40_500,
    })
  })

  it('reversed time leaves work in progress as it was', async () => {
    const m = await client()
    const entry = await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: today, text: 'Wrong matter', duration: '1' })
    await noor.must('POST', '/time/post', { ids: [entry.id] })
    await noor.must('POST', `/time/${entry.id}/reverse`, { reason: 'wrong matter' })
    const left = await row<{ n: number }>(
      office.db.manager,
      `SELECT COALESCE(SUM(amount), 0) AS n FROM journal_line WHERE matter_id = ? AND amount > 0`,
      [m.id],
    )
    const wip = await row<{ n: number }>(
      office.db.manager,
      `SELECT SUM(l.amount) AS n FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.matter_id = ? AND a.role = 'work in progress'`,
      [m.id],
    )
    expect([left!.n, wip!.n]).toEqual([57_000, 0])
    expect((await noor.post(`/time/${entry.id}/reverse`, { reason: 'again' })).body.code).toBe('not-reversible')
  })
})

describe('making a paper', () => {
  it('asks for what the record lacks, then files DOCX and PDF with the right clause', async () => {
    const ctx = {
      ...office.running.base,
      actor: { id: await office.user('Ferdi'), name: '', role: 'administrator' as const, mayOverride: false },
    }
    const docx = await engagementLetter()
    const templateId = await ctx.db.transaction((m) => addTemplate(m, ctx, { name: 'Engagement letter', folder: 'Engagement' }, docx))
    for (const [more, says, not] of [
      [{}, /An hour[\s\S]*Noor Haddad-Lind\s+Litigation\s+\$285\.00/, /flat fee of/],
      [{ billing: 'flat', flatFee: [{ label: 'All', amount: 240_000 }] }, /flat fee of \$2,400\.00/, /charge by the hour/],
    ] as const) {
      const m = await client(more)
      const making = { matterId: m.id, templateId }
      const prepared = await noor.must<{ values: { path: string; missing: boolean }[] }>('POST', `/papers/prepare`, making)
      expect(prepared.values.filter((v) => v.missing).map((v) => v.path)).toEqual(['matter.deposit'])
      const make = (deposit: string) =>
        noor.post<{ jobId: number }>(`/papers/make`, {
          ...making,
          name: 'Letter',
          folder: 'Engagement',
          as: 'both',
          writeBack: [],
          values: deposit ? { 'matter.deposit': deposit } : {},
        })
      expect((await make('')).body.fields[0]?.path).toBe('values.matter.deposit')
      const { jobId } = (await make('2500')).body
      let state = ''
      while (!['done', 'failed'].includes(state)) {
        await new Promise((r) => setTimeout(r, 200))
        state = (await noor.must<{ state: string }>('GET', `/jobs/${jobId}`)).state
      }
      expect(state).toBe('done')
      const papers = await noor.must<{ rows: { id: number; name: string }[] }>('GET', `/papers?matterId=${m.id}`)
      expect(papers.rows.map((p) => p.name).sort()).toEqual(['Letter.docx', 'Letter.pdf'])
      const text = textOf((await noor.get(`/papers/${papers.rows.find((p) => p.name.endsWith('pdf'))!.id}/file`)).bytes)
      expect(text).toMatch(says)
      expect(text).not.toMatch(not)
      expect(text).toContain('a deposit of $2,500.00')
    }
  })
})
