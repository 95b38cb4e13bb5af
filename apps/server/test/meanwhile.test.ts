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
