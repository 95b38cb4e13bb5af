import { contract, type RouteMeta } from '@heron/contract'
import { traverseContractProcedures } from '@orpc/server'
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla' | 'ferdi', Person>
let matter: { id: number; clientId: number }
let tomas: number
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla', 'ferdi'] as const) who[n] = await office.signIn(n)
  matter = await office.matter(who.noor, 'Once Only Chandlery')
  tomas = await office.user('Tomas')
})
afterAll(() => office.close())

const count = async (table: string) => (await row<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM ${table}`))!.n
const task = { text: 'Once', dueOn: today }

/** Something that each area makes: by whom, where, what, and the table that would hold it twice. */
const makers: [person: 'noor' | 'orla' | 'ferdi', path: () => string, body: () => object, table: string][] = [
  ['noor', () => '/contacts', () => ({ kind: 'person', name: 'Onceward Pell', kinds: ['witness'] }), 'contact'],
  ['noor', () => '/conflict-checks', () => ({ terms: ['Onceward Pell'] }), 'conflict_check'],
  ['noor', () => '/enquiries', () => ({ contactId: matter.clientId, about: 'Asks once', source: '', adverse: [] }), 'enquiry'],
  ['noor', () => '/tasks', () => ({ ...task, matterId: matter.id, assigneeId: tomas }), 'task'],
  ['noor', () => '/notes', () => ({ matterId: matter.id, html: '<p>Said once</p>' }), 'note'],
  ['noor', () => '/time', () => ({ matterId: matter.id, day: today, text: 'Once', duration: '0.4' }), 'time_entry'],
  ['noor', () => '/timers', () => ({ matterId: matter.id, text: '' }), 'timer'],
  ['noor', () => `/matters/${matter.id}/docket`, () => ({ title: 'Once', weight: 'firm practice', day: today }), 'docket_entry'],
  ['noor', () => '/calendar-feeds', () => ({ scope: 'person', userId: tomas }), 'calendar_feed'],
  [
    'orla',
    () => `/matters/${matter.id}/costs`,
    () => ({ day: today, kind: 'soft cost', text: 'Copies', amount: 100, payee: '' }),
    'cost_entry',
  ],
  ['orla', () => '/trust/sheets', () => sheet(), 'deposit_sheet'],
  ['ferdi', () => '/fees', () => ({ name: 'Once', portions: [{ label: 'All', amount: 100 }] }), 'listed_fee'],
  ['ferdi', () => '/accounts', () => ({ code: '5777', name: 'Once', kind: 'expense' }), 'account'],
]
let bankAccountId = 0
const sheet = () => ({
  bankAccountId,
  day: today,
  controlTotal: 100,
  receipts: [
    { clientId: matter.clientId, matterId: matter.id, depositor: 'Someone', kind: 'check', reference: '1', text: '', amount: 100 },
  ],
})

describe('what is sent again with its key', () => {
  it.each(makers)('is made once: %s at %s', async (person, path, body, table) => {
    bankAccountId ||= await office.bank('pooled')
    const key = randomUUID()
    const asked = body()
    const before = await count(table)
    const [a, b] = await Promise.all([who[person].post(path(), asked, key), who[person].post(path(), asked, key)])
    expect([a.status, b.status, a.bytes.toString()]).toEqual([200, 200, b.bytes.toString()])
    expect(await count(table)).toBe(before + 1)
    expect(
      (
        await who[person].post(
          path(),
          { ...asked, text: 'other', html: 'other', userId: 1, name: 'other', about: 'other', day: '2026-11-20' },
          key,
        )
      ).body.code,
    ).toBe('idempotency-key-reused')
  })
  it('is changed and taken out once, too, and answers as it did', async () => {
    const made = await who.noor.must<{ id: number }>('POST', '/tasks', { ...task, matterId: matter.id, assigneeId: tomas })
    const key = randomUUID()
    const remove = () => who.noor.call('DELETE', `/tasks/${made.id}`, undefined, { 'idempotency-key': key })
    expect([(await remove()).status, (await remove()).status]).toEqual([200, 200])
  })
  it('is a file as well: the same name with other contents is another thing', async () => {
    const key = randomUUID()
    const send = (text: string) => {
      const form = new FormData()
      form.set('id', String(matter.id))
      form.set('folder', 'Notes')
      form.set('file', new File([text], 'once.txt', { type: 'text/plain' }))
      return fetch(`${office.base}/api/matters/${matter.id}/papers/file`, {
        method: 'POST',
        headers: { cookie: who.noor.cookie, 'x-heron-csrf': who.noor.csrf, 'idempotency-key': key },
        body: form,
      })
    }
    const before = await count('paper')
    expect([(await send('one')).status, (await send('one')).status, (await send('two')).status]).toEqual([200, 200, 422])
    expect(await count('paper')).toBe(before + 1)
  })
  it('needs its key wherever something is made', async () => {
    const wrong: string[] = []
    const routes: string[] = []
    traverseContractProcedures({ path: [], router: contract }, ({ contract: c }) => {
      const { route, meta } = c['~orpc'] as unknown as { route: { method: string; path: string }; meta: RouteMeta }
      if (route.method === 'POST' && meta.once === 'must') routes.push(route.path.replace(/\{\w+\}/g, '999999'))
    })
    expect(routes.length).toBeGreaterThan(70)
    for (const path of routes) {
      const answers = await Promise.all([who.noor, who.orla, who.ferdi].map((p) => p.call('POST', path, {})))
      if (!answers.some((a) => a.body.code === 'idempotency-key-needed')) wrong.push(path)
    }
    expect(wrong).toEqual([])
  })
})
