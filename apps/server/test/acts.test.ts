import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rows, run } from '../src/platform'
import { subjects } from '../src/platform/acts'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'billie' | 'jun' | 'orla' | 'sable' | 'ferdi', Person>
let m: { id: number; clientId: number }
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'billie', 'jun', 'orla', 'sable', 'ferdi'] as const) who[n] = await office.signIn(n)
  m = await office.matter(who.noor, 'Acts of Tern Landing')
})
afterAll(() => office.close())

const log = async (person: Person, id: number) =>
  (await person.get<{ rows: { kind: string; text: string }[] }>(`/matters/${id}/log?size=200`)).body.rows
const act = (subject: string, matterId: number | null, kind = 'changed') =>
  run(
    office.db.manager,
    `INSERT INTO audit_log (at, user_id, kind, text, matter_id, subject) VALUES ('${today} 15:00:00', 1, ?, ?, ?, ?)`,
    [kind, `about ${subject}`, matterId, subject],
  )

describe('an act of the log', () => {
  it('is about something that says who may see it: every one in the books of the firm does', async () => {
    const found = await rows<{ subject: string }>(office.db.manager, `SELECT DISTINCT subject FROM audit_log`)
    expect(found.map((f) => f.subject).filter((s) => !(s in subjects()) && s !== 'something new')).toEqual([])
  })
  it('is shown to nobody until it says to which part it belongs', async () => {
    await act('something new', m.id)
    await act('something new', null)
    for (const person of Object.values(who)) {
      const shown = JSON.stringify([
        await log(person, m.id),
        (await person.get('/notices')).body,
        (await person.get('/log?q=something+new')).body,
      ])
      expect(shown).not.toContain('about something new')
    }
  })
  it('is shown with its part alone, whatever the part', async () => {
    for (const [subject, { part }] of Object.entries(subjects())) if (part) await act(subject, m.id)
    const grants = { file: 1, docket: 0, papers: 0, money: 0, trust: 0 }
    await who.noor.must('PUT', `/matters/${m.id}/access`, { staff: grants })
    const shown = (await log(who.billie, m.id)).map((l) => l.text).filter((t) => t.startsWith('about '))
    const ofFile = Object.entries(subjects()).filter(([, s]) => s.part === 'file')
    expect(shown.sort()).toEqual(ofFile.map(([s]) => `about ${s}`).sort())
    // Whoever keeps the matter sees all of it.
    const all = (await log(who.noor, m.id)).filter((l) => l.text.startsWith('about '))
    expect(all).toHaveLength(Object.values(subjects()).filter((s) => s.part).length)
  })
  it('tells no amount to whoever sees no bills', async () => {
    for (const kind of ['billed', 'paid', 'received']) await act('matter', m.id, kind)
    expect((await log(who.billie, m.id)).some((l) => ['billed', 'paid', 'received'].includes(l.kind))).toBe(false)
  })
  it('of a payment out of trust that is dropped or voided stands in the log of its matter', async () => {
    const own = await office.matter(who.noor, 'Acts of Tern Trust')
    const ledgerId = await office.deposit(who.orla, own, 50_000)
    const payment = { ledgerId, day: today, payeeName: 'Pellan Survey', amount: 10_000 }
    const draft = await who.orla.must<{ id: number }>('POST', '/trust/payments', payment)
    await who.orla.call('DELETE', `/trust/payments/${draft.id}`)
    const paid = await who.orla.must<{ id: number }>('POST', '/trust/payments/now', payment)
    await who.orla.must('POST', `/trust/payments/${paid.id}/void`, { day: today, reason: 'the wrong payee' })
    const kinds = (await log(who.noor, own.id)).map((l) => l.kind)
    expect(kinds).toEqual(expect.arrayContaining(['dropped', 'voided', 'paid']))
  })
})
