import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'tomas' | 'orla' | 'ferdi', Person>
const ids = {} as Record<'tomas' | 'orla', number>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'tomas', 'orla', 'ferdi'] as const) who[n] = await office.signIn(n)
  ids.tomas = await office.user('Tomas')
  ids.orla = await office.user('Orla')
})
afterAll(() => office.close())

const screen = (m: { id: number }, userId: number) => who.noor.must('POST', `/matters/${m.id}/screens`, { userId, reason: 'related' })
const asked = async (address: string) => (await fetch(`${office.base}${address}`)).text()

describe('a screen raised later', () => {
  it('takes the name of the matter out of a calendar made before, and out of the list of calendars', async () => {
    const m = await office.matter(who.noor, 'Zephyrine Salvage', { team: [{ userId: ids.tomas, role: 'lawyer' }] })
    const feed = await who.tomas.must<{ address: string }>('POST', '/calendar-feeds', { scope: 'matter', matterId: m.id })
    expect(await asked(feed.address)).toContain('Zephyrine')
    await screen(m, ids.tomas)
    expect(await asked(feed.address)).not.toContain('Zephyrine')
    expect((await who.tomas.get('/calendar-feeds')).bytes.toString()).not.toContain('Zephyrine')
  })

  it('keeps a task from going to a matter from which its assignee is screened, and its reminder from being sent', async () => {
    const open = await office.matter(who.noor, 'Open Moorings')
    const walled = await office.matter(who.noor, 'Walled Moorings')
    await screen(walled, ids.tomas)
    const input = { text: 'Walled research', assigneeId: ids.tomas, dueOn: '2026-11-24', remindOn: '2026-11-23' }
    const task = await who.noor.must<{ id: number }>('POST', '/tasks', { ...input, matterId: open.id })
    const refused = await who.noor.put(`/tasks/${task.id}`, { ...input, matterId: walled.id })
    expect(refused.status).toBe(400)
    expect(await row(office.db.manager, `SELECT matter_id AS m FROM task WHERE id = ?`, [task.id])).toEqual({ m: open.id })
  })

  it('hides receipts of a deposit sheet, which the screened bookkeeper cannot change away, and two editors do not overwrite each other', async () => {
    const walled = await office.matter(who.noor, 'Walled Deposit')
    const open = await office.matter(who.noor, 'Open Deposit')
    const bank = (await who.orla.must<{ id: number; kind: string }[]>('GET', '/trust/accounts')).find((a) => a.kind === 'pooled')!
    const receipt = (m: { id: number; clientId: number }, amount: number) => ({
      clientId: m.clientId,
      matterId: m.id,
      depositor: 'Someone',
      kind: 'check',
      reference: '1',
      text: '',
      amount,
    })
    const made = await who.orla.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId: bank.id,
      day: '2026-11-23',
      controlTotal: 500_00,
      receipts: [receipt(walled, 300_00), receipt(open, 200_00)],
    })
    await screen(walled, ids.orla)
    interface Sheet {
      version: number
      receipts: { amount: number; clientId: number | null; matterId: number | null }[]
    }
    const seen = await who.orla.must<Sheet>('GET', `/trust/sheets/${made.id}`)
    expect(seen.receipts.map((r) => r.matterId)).toEqual([open.id])
    const change = (receipts: object[], version: number) =>
      who.orla.put(`/trust/sheets/${made.id}`, { bankAccountId: bank.id, day: '2026-11-23', controlTotal: 550_00, version, receipts })
    expect((await change([receipt(open, 250_00)], seen.version)).status).toBe(403)
    const kept = () =>
      rows<{ amount: number }>(office.db.manager, `SELECT amount FROM deposit_receipt WHERE sheet_id = ? ORDER BY amount`, [made.id])
    expect((await kept()).map((k) => k.amount)).toEqual([200_00, 300_00])
    await who.noor.must('DELETE' as 'POST', `/matters/${walled.id}/screens/${ids.orla}`)
    const both = [receipt(open, 250_00), receipt(walled, 300_00)]
    expect((await change(both, seen.version)).status).toBe(200)
    // Whoever read the sheet before that change does not write over it.
    expect((await change([receipt(open, 1_00)], seen.version)).status).toBe(409)
    expect((await kept()).map((k) => k.amount)).toEqual([250_00, 300_00])
  })
})

describe('what calendars of others know an entry by', () => {
  it('stays when the firm takes another name', async () => {
    const m = await office.matter(who.noor, 'Steady Identity')
    await who.noor.must('POST', `/matters/${m.id}/docket`, { title: 'Fixed point', weight: 'court order', day: '2026-12-01' })
    const feed = await who.noor.must<{ address: string }>('POST', '/calendar-feeds', { scope: 'matter', matterId: m.id })
    const uids = async () => (await asked(feed.address)).match(/^UID:.*$/gm)
    const before = await uids()
    expect(before).toHaveLength(1)
    const firm = await who.ferdi.must<Record<string, unknown>>('GET', '/firm')
    await who.ferdi.must('PUT', '/firm', { ...firm, name: 'Calloway Fenn and Haddad LLP' })
    expect(await uids()).toEqual(before)
  })
})
