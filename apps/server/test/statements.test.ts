import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
})
afterAll(() => office.running.stop())

interface Statement {
  opening: number
  closing: number
  credit: number
  aging: number[]
  rows: { day: string; text: string; charged: number; settled: number; balance: number }[]
  open: { open: number }[]
}
const of = (m: { clientId: number }, more = '') => orla.must<Statement>('GET', `/contacts/${m.clientId}/statement?to=${today}${more}`)

describe('a statement of account', () => {
  it('follows every bill, payment and credit to what is owed, by days past due', async () => {
    const m = await office.matter(noor, 'Statementon')
    const a = await office.bill(noor, orla, m.id, 600_00, '2026-11-02')
    const b = await office.bill(noor, orla, m.id, 400_00, '2026-11-09')
    const paid = await orla.must<{ id: number }>('POST', `/bills/${a.id}/payments`, { day: '2026-11-12', amount: 250_00, kind: 'check', reference: '77' }) // prettier-ignore
    await orla.must('POST', `/bills/${b.id}/credit-notes`, { day: '2026-11-13', amount: 100_00, reason: 'goodwill' })
    const whole = await of(m, '&from=2026-11-01')
    expect(whole.rows.map((r) => [r.day, r.charged, r.settled, r.balance])).toEqual([
      ['2026-11-02', 600_00, 0, 600_00],
      ['2026-11-09', 400_00, 0, 1_000_00],
      ['2026-11-12', 0, 250_00, 750_00],
      ['2026-11-13', 0, 100_00, 650_00],
    ])
    expect(whole.rows[2]!.text).toBe(`Check 77, on bill ${a.number}`)
    expect([whole.opening, whole.closing, whole.aging.reduce((x, y) => x + y, 0)]).toEqual([0, 650_00, 650_00])
    const late = await of(m, '&from=2026-11-10')
    expect([late.opening, late.rows.length, late.closing]).toEqual([1_000_00, 2, 650_00])
    // A payment that came back is owed again, and both stand there.
    await orla.must('POST', `/payments/${paid.id}/reverse`, { day: '2026-11-20', reason: 'returned' })
    const back = await of(m, '&from=2026-11-10')
    expect(back.rows.at(-1)).toMatchObject({ day: '2026-11-20', text: `Check taken back 77, on bill ${a.number}`, balance: 900_00 })
    expect(back.closing).toBe(back.open.reduce((n, o) => n + o.open, 0))
    // As of a day before, it stands as it did then.
    expect((await orla.must<Statement>('GET', `/contacts/${m.clientId}/statement?from=2026-11-01&to=2026-11-12`)).closing).toBe(750_00)
    expect((await orla.get(`/contacts/${m.clientId}/statement?to=2027-01-01`)).status).toBe(400)
  })

  it('is of one matter where asked, and of none that the reader may not see', async () => {
    const m = await office.matter(noor, 'Twofold')
    await office.bill(noor, orla, m.id, 100_00)
    const other = await office.matter(noor, 'Elsewhere')
    expect((await of(m, `&matterId=${m.id}`)).closing).toBe(100_00)
    expect((await of(m, `&matterId=${other.id}`)).closing).toBe(0)
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Tomas')])
    const tomas = await office.signIn('tomas')
    expect((await tomas.must<Statement>('GET', `/contacts/${m.clientId}/statement?to=${today}`)).closing).toBe(0)
    expect((await tomas.get(`/contacts/${m.clientId}/statement?to=${today}&matterId=${m.id}`)).status).toBe(404)
  })

  it('and receipts go out by e-mail with their PDF', async () => {
    const m = await office.matter(noor, 'Receiptley')
    const a = await office.bill(noor, orla, m.id, 100_00)
    const paid = await orla.must<{ id: number }>('POST', '/payments', { payerId: m.clientId, day: today, amount: 130_00, kind: 'check' })
    const pdf = await orla.get(`/payments/${paid.id}/receipt`)
    expect([pdf.status, pdf.type, pdf.bytes.subarray(0, 5).toString()]).toEqual([200, 'application/pdf', '%PDF-'])
    const letter = await orla.must<{ body: string }>('GET', `/payments/${paid.id}/receipt/letter`)
    expect(letter.body).toContain('$130.00')
    const to = { name: 'R', email: 'r@receipt.example', subject: 'Receipt', body: 'Thanks' }
    await orla.must('POST', `/payments/${paid.id}/receipt`, to)
    await orla.must('POST', `/contacts/${m.clientId}/statement/send`, { ...to, to: today })
    const files = await office.db.query<{ name: string }[]>(`SELECT f.name FROM mail_file f JOIN mail l ON l.message_key = f.message_key WHERE l.to_address = ? ORDER BY f.name`, [to.email]) // prettier-ignore
    expect(files.map((f) => f.name)).toEqual([`receipt-${paid.id}.pdf`, `statement-${today}.pdf`])
    expect((await of(m)).credit).toBe(30_00)
    expect((await noor.post(`/payments/${paid.id}/receipt`, to)).status).toBe(403)
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Tomas')])
    expect((await (await office.signIn('tomas')).get(`/payments/${paid.id}/receipt`)).status).toBe(404)
    expect(a.number).toMatch(/^B-/)
  })
})

describe('how a bill looks', () => {
  async function textOf(billId: number) {
    const file = join(mkdtempSync(join(tmpdir(), 'bill-')), 'bill.pdf')
    writeFileSync(file, (await orla.call('GET', `/bills/${billId}/pdf`)).bytes)
    return execFileSync('pdftotext', ['-layout', file, '-']).toString()
  }
  it('is as the firm set it on its day, in the language of its payer, and stays so', async () => {
    const ferdi = await office.signIn('ferdi')
    const m = await office.matter(noor, 'Lookington')
    await office.deposit(orla, m, 70_000, '2026-10-01')
    const before = await office.bill(noor, orla, m.id, 600_00)
    const look = { group: 'person', summary: true, trust: true, slip: true }
    await ferdi.must('PUT', '/firm/bill-look', look)
    try {
      const after = await office.bill(noor, orla, m.id, 400_00)
      const text = await textOf(after.id)
      expect(text).toMatch(/Noor Haddad-Lind\s+4\.0\s+400\.00/)
      expect(text).toContain('By person')
      expect(text).toMatch(/Held for you in trust on .*: \$700\.00/)
      expect(text).toContain('Please return this part with your payment')
      expect(await textOf(before.id)).not.toContain('By person')
      await ferdi.must('PUT', '/firm/bill-look', { ...look, group: 'activity' })
      const drafted = await noor.must<{ id: number }>('POST', '/time', {
        matterId: m.id,
        day: '2026-10-20',
        duration: '1',
        text: 'Research',
        activity: 'A102',
        rate: 100_00,
      })
      await noor.must('POST', '/time/post', { ids: [drafted.id] })
      const byActivity = await textOf((await office.bill(noor, orla, m.id, 300_00)).id)
      expect(byActivity).toMatch(/Other work\s+3\.0\s+300\.00/)
      expect(byActivity).toMatch(/Research\s+1\.0\s+100\.00/)
      await office.db.query(`UPDATE contact SET language = 'Spanish' WHERE id = ?`, [m.clientId])
      const spanish = await textOf((await office.bill(noor, orla, m.id, 200_00)).id)
      expect(spanish).toMatch(/Esta factura\s+\$200\.00/)
      expect(spanish).toContain('2 de noviembre de 2026')
      expect(spanish).toContain('Devuelva este talón con su pago')
    } finally {
      await ferdi.must('PUT', '/firm/bill-look', { group: 'none', summary: false, trust: false, slip: false })
    }
  })
})
