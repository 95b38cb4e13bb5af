import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let tomas: Person
let orla: Person
let me: number
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  tomas = await office.signIn('tomas')
  orla = await office.signIn('orla')
  me = await office.user('Noor')
})
afterAll(() => office.close())

describe('two people who change the same task', () => {
  const plain = { text: 'Draft the motion', details: '', matterId: null as number | null, dueOn: '2026-11-25', dueTime: '14:00', remindOn: null, estimateMinutes: 30, priority: 'normal', onlyNamed: false, named: [] as number[], paperIds: [] as number[] } // prettier-ignore
  const items = (id: number) =>
    noor.must<{ checklist: { id: number; text: string; done: boolean }[] }>('GET', `/tasks/${id}`).then((t) => t.checklist)

  it('write nothing over that they have not seen, whatever of it was changed', async () => {
    const m = await office.matter(noor, 'Meanwhile Matter')
    const first = { ...plain, matterId: m.id, assigneeId: me }
    const { id } = await noor.must<{ id: number }>('POST', '/tasks', { ...first, items: [{ text: 'Facts' }, { text: 'Law' }] })
    const seen = { ...first, items: await items(id) }
    const change = (p: Person, to: object, of: object = seen) => p.call('PUT', `/tasks/${id}`, { ...seen, ...to, seen: of })
    expect((await change(noor, { details: 'Ten pages' })).status).toBe(200)
    const now = { ...seen, details: 'Ten pages' }
    expect((await change(tomas, { text: 'Draft the reply' })).body.code).toBe('changed-meanwhile')
    expect((await change(tomas, { text: 'Draft the reply', details: 'Ten pages' }, now)).status).toBe(200)
    const last = { ...now, text: 'Draft the reply' }
    // A ticked item, a name, a day by other ways: each is a change.
    await tomas.must('PUT', `/task-items/${seen.items[0]!.id}`, { done: true })
    expect((await change(noor, last, last)).body.code).toBe('changed-meanwhile')
    const ticked = { ...last, items: await items(id) }
    await tomas.must('PUT', '/tasks', { ids: [id], dueOn: '2026-11-30' })
    expect((await change(noor, ticked, ticked)).body.code).toBe('changed-meanwhile')
    expect((await change(noor, ticked, { ...ticked, dueOn: '2026-11-30' })).status).toBe(200)
    // Without what was read it is written as it comes, as from a file or another program.
    expect((await noor.call('PUT', `/tasks/${id}`, { ...ticked, text: 'As it comes' })).status).toBe(200)
  })

  it('bring an item back that one took out and the other kept', async () => {
    const { id } = await noor.must<{ id: number }>('POST', '/tasks', { ...plain, assigneeId: me, items: [{ text: 'Facts' }, { text: 'Law' }] }) // prettier-ignore
    const [facts, law] = await items(id)
    await noor.must('PUT', `/tasks/${id}`, { ...plain, assigneeId: me, items: [law] })
    await noor.must('PUT', `/tasks/${id}`, { ...plain, assigneeId: me, items: [{ ...facts, text: 'All facts' }, law] })
    expect((await items(id)).map((i) => i.text)).toEqual(['All facts', 'Law'])
  })
})

describe('two people who review the same pre-bill', () => {
  interface Line {
    id: number
    text: string
    charged: number
    noCharge: boolean
    heldBack: boolean
  }
  it('write over no line that they have not seen, and approve no other sum than they saw', async () => {
    const m = await office.matter(noor, 'Reviewed by Two')
    const ids: number[] = []
    for (const text of ['Call', 'Letter'])
      ids.push((await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-11-10', text, duration: '1', rate: 100_00 })).id) // prettier-ignore
    await noor.must('POST', '/time/post', { ids })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-11-23' })
    const read = () => noor.must<{ lines: Line[]; totals: { total: number } }>('GET', `/pre-bills/${pre.id}`)
    const first = await read()
    const [call] = first.lines
    const seen = ({ text, charged, noCharge, heldBack }: Line) => ({ text, charged, noCharge, heldBack })
    const change = (p: Person, to: object) => p.call('PUT', `/pre-bills/${pre.id}/lines/${call!.id}`, to)
    expect((await change(orla, { charged: 80_00, seen: seen(call!) })).status).toBe(200)
    // The same field as it was read before: refused. Another field of the line: both stand.
    expect((await change(noor, { charged: 90_00, seen: seen(call!) })).body.code).toBe('changed-meanwhile')
    expect((await change(noor, { text: 'Call with the surveyor', seen: seen(call!) })).status).toBe(200)
    expect((await read()).lines.find((l) => l.id === call!.id)).toMatchObject({ text: 'Call with the surveyor', charged: 80_00 })
    expect((await change(noor, { charged: null })).body.fields[0]?.path).toBe('charged')
    const approve = (total?: number) => noor.post(`/pre-bills/${pre.id}/approve`, { approved: true, ...(total === undefined ? {} : { seen: total }) }) // prettier-ignore
    const refused = (await approve(first.totals.total)).body as { code: string; detail: string }
    expect([refused.code, refused.detail]).toEqual(['changed-meanwhile', expect.stringContaining('$180.00 by now, and not to $200.00')])
    expect((await approve(180_00)).status).toBe(200)
  })
})

describe('two people who fill in the same record', () => {
  type Kept = Record<string, unknown>
  /** What the first reader saw is changed by somebody else; whoever read it before writes nothing over, and after another look does. */
  async function meets(path: string, read: () => Promise<Kept>, theirs: Kept, mine: Kept, at = path) {
    const change = (p: Person, to: Kept, seen?: Kept) => p.call('PUT', path, { ...to, ...(seen ? { seen } : {}) })
    const first = await read()
    expect((await change(tomas, { ...first, ...theirs }, first)).status, at).toBe(200)
    const refused = await change(noor, { ...first, ...mine }, first)
    expect([refused.status, refused.body.code], at).toEqual([409, 'changed-meanwhile'])
    const now = await read()
    expect(now, at).toEqual({ ...first, ...theirs })
    expect((await change(noor, { ...now, ...mine }, now)).status, at).toBe(200)
    expect(await read(), at).toEqual({ ...first, ...theirs, ...mine })
    // As it comes, from another program.
    expect((await change(noor, first)).status, at).toBe(200)
  }
  const of = (keys: readonly string[], from: Kept): Kept => Object.fromEntries(keys.map((k) => [k, from[k]]))

  it('an enquiry, a party, terms of bills and of time: nothing unseen is written over', async () => {
    const { id } = await noor.must<{ id: number }>('POST', '/enquiries', { name: 'Perrin Ashdown', about: 'A boundary', adverse: ['Kite Hill Farm'], source: 'Walk-in' }) // prettier-ignore
    const words = ['contactId', 'about', 'adverse', 'source', 'areaId', 'nextStep', 'nextOn', 'consultOn', 'consultAt', 'consultMinutes', 'consultFee', 'ownerId'] // prettier-ignore
    const enquiry = async () => of(words, await noor.must<Kept>('GET', `/enquiries/${id}`))
    await meets(`/enquiries/${id}`, enquiry, { nextStep: 'Call back', consultFee: 150_00 }, { about: 'A boundary and a well' })

    const m = await office.matter(noor, 'Filled in by Two')
    const { clientId } = await noor.must<{ clientId: number }>('GET', `/matters/${m.id}`)
    const who = (await noor.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'Odile Marsh', kinds: ['witness'] })).id
    await noor.must('POST', `/matters/${m.id}/parties`, { contactId: who, role: 'Defendant', side: 'adverse' })
    const party = async () => (await noor.must<{ parties: (Kept & { id: number })[] }>('GET', `/matters/${m.id}`)).parties[0]!
    const stands = ['role', 'side', 'counsel', 'counselId', 'servedOn']
    await meets(`/parties/${(await party()).id}`, async () => of(stands, await party()), { servedOn: '2026-11-20' }, { role: 'Respondent' })

    const bills = ['dueDays', 'interestBasisPoints', 'graceDays', 'format', 'theirNumber', 'discountBasisPoints', 'taxFees', 'taxSoftCosts', 'taxHardCosts', 'language', 'billGroup', 'billSummary', 'billTrust', 'billSlip', 'budget', 'capped', 'warnAt', 'warnIds'] // prettier-ignore
    const staff = [await office.user('Tomas'), me].sort((a, b) => a - b)
    for (const path of [`/matters/${m.id}/bill-terms`, `/contacts/${clientId}/bill-terms`]) {
      const read = async () => of(bills, await noor.must<Kept>('GET', path))
      const theirs = path.startsWith('/matters') ? { budget: 9_000_00, warnAt: '75,90', warnIds: staff } : { discountBasisPoints: 500 }
      await meets(path, read, theirs, { dueDays: 14 })
    }
    // Shares and people are the same in any order and spelling.
    const path = `/matters/${m.id}/bill-terms`
    await noor.must('PUT', path, { ...of(bills, await noor.must<Kept>('GET', path)), budget: 9_000_00, warnAt: '75, 90', warnIds: [...staff].reverse() }) // prettier-ignore
    const now = of(bills, await noor.must<Kept>('GET', path))
    expect((await noor.call('PUT', path, { ...now, seen: { ...now, warnAt: '90 , 75', warnIds: [...staff].reverse() } })).status).toBe(200)

    const ofMatter = async () => {
      const t = await noor.must<Kept & { roles: { role: string; rate: number }[] }>('GET', `/matters/${m.id}/terms`)
      return { ...of(['unit', 'rounding', 'fundingId'], t), roles: t.roles.map(({ role, rate }) => ({ role, rate })) }
    }
    await meets(`/matters/${m.id}/terms`, ofMatter, { roles: [{ role: 'lead', rate: 400_00 }, { role: 'paralegal', rate: 90_00 }] }, { unit: 6 }) // prettier-ignore
    const ofClient = async () => of(['unit', 'rounding', 'rates'], await noor.must<Kept>('GET', `/contacts/${clientId}/terms`))
    await meets(`/contacts/${clientId}/terms`, ofClient, { rates: staff.map((userId) => ({ userId, rate: 300_00 })) }, { rounding: 'nearest' }) // prettier-ignore
  })

  it('an enquiry turns out to be somebody else’s: who asks is changed, and its check of conflicts no longer holds', async () => {
    const { id } = await noor.must<{ id: number }>('POST', '/enquiries', { name: 'Bettany Rusk', about: 'A lease' })
    await noor.must('POST', `/enquiries/${id}/conflicts`, {})
    const read = () => noor.must<{ contactId: number; name: string; conflictCheckId: number | null }>('GET', `/enquiries/${id}`)
    const first = await read()
    expect(first.conflictCheckId).not.toBeNull()
    const other = (await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name: 'Rusk Lettings', kinds: ['client'] }))
      .id
    await noor.must('PUT', `/enquiries/${id}`, { contactId: other, about: 'A lease' })
    expect(await read()).toMatchObject({ contactId: other, name: 'Rusk Lettings', conflictCheckId: null })
    // Where nobody is named, whoever asked still asks.
    await noor.must('PUT', `/enquiries/${id}`, { about: 'A lease of a shop' })
    expect(await read()).toMatchObject({ contactId: other, about: 'A lease of a shop' })
  })

  it('a procedure that two change has both versions, and the later is made knowing of the earlier', async () => {
    const ferdi = await office.signIn('ferdi')
    const steps = (text: string) => [{ key: 'a', text, assignTo: { kind: 'starter' }, due: { count: 1, unit: 'business', direction: 'after', anchor: { kind: 'start' } } }] // prettier-ignore
    const { id } = await ferdi.must<{ id: number }>('POST', '/procedures', { name: 'Closing a file', steps: steps('Write') })
    const keep = (seen: number, text: string) => ferdi.post('/procedures', { id, seen, name: 'Closing a file', steps: steps(text) })
    expect((await keep(1, 'Write to the client')).status).toBe(200)
    const late = await keep(1, 'Call the client')
    expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile'])
    const read = () => ferdi.must<{ version: number; steps: { text: string }[] }>('GET', `/procedures/${id}`)
    expect(await read()).toMatchObject({ version: 2, steps: [{ text: 'Write to the client' }] })
    expect((await keep(2, 'Call the client')).status).toBe(200)
    expect(await read()).toMatchObject({ version: 3, steps: [{ text: 'Call the client' }] })
  })
})
