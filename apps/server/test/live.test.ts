import type { Told } from '@heron/contract'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { row } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'tomas' | 'billie', Person>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'tomas', 'billie'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.close())

/** Holds the line of a person open and keeps what is told on it. */
async function hearing(person: Person, heard?: number) {
  const over = new AbortController()
  const answer = await fetch(`${office.base}/api/live`, {
    headers: { cookie: person.cookie, ...(heard ? { 'last-event-id': String(heard) } : {}) },
    signal: over.signal,
  })
  const told: Told[] = []
  const ended = (async () => {
    const text = answer.body!.pipeThrough(new TextDecoderStream())
    let kept = ''
    for await (const piece of text) {
      kept += piece
      for (const m of kept.matchAll(/data: (.*)\n/g)) told.push(JSON.parse(m[1]!) as Told)
      kept = kept.slice(kept.lastIndexOf('\n\n') + 2)
    }
  })().catch(() => undefined)
  return { type: answer.headers.get('content-type'), told, ended, leave: () => over.abort() }
}
const until = (done: () => boolean) => expect.poll(done, { timeout: 30_000 }).toBe(true)

it('tells what others did to those who may see it, and nobody their own acts', async () => {
  const open = await office.matter(who.noor, 'Heard Ltd')
  const kept = await office.matter(who.noor, 'Unheard Ltd')
  await who.noor.must('POST', `/matters/${kept.id}/screens`, { userId: await office.user('Tomas'), reason: 'a former client' })
  const [tomas, noor] = [await hearing(who.tomas), await hearing(who.noor)]
  expect(tomas.type).toContain('text/event-stream')
  for (const m of [kept, open])
    await who.noor.must('POST', '/tasks', { matterId: m.id, text: 'Call the surveyor', assigneeId: await office.user('Noor') })
  await until(() => tomas.told.some((t) => t.matters.includes(open.id)))
  await who.billie.must('POST', '/tasks', { matterId: open.id, text: 'Call again', assigneeId: await office.user('Noor') })
  await until(() => noor.told.length > 0)
  expect(tomas.told.flatMap((t) => t.matters)).not.toContain(kept.id)
  expect(noor.told).toEqual([{ matters: [open.id], areas: ['tasks'] }])
  for (const line of [tomas, noor]) line.leave()
  // A line that broke hears what was done since, once it is back.
  const { id } = (await row<{ id: number }>(office.db.manager, `SELECT MAX(id) AS id FROM audit_log WHERE matter_id = ?`, [open.id]))!
  const back = await hearing(who.noor, id - 1)
  await until(() => back.told.some((t) => t.matters.includes(open.id)))
  back.leave()
})

it('is open to nobody who is not signed in, and one person holds no more than eight lines', async () => {
  expect((await fetch(`${office.base}/api/live`)).status).toBe(401)
  const lines = []
  for (let n = 0; n < 9; n += 1) lines.push(await hearing(who.billie))
  await lines[0]!.ended
  const last = lines.at(-1)!
  await who.noor.must('POST', '/tasks', {
    matterId: (await office.matter(who.noor, 'Ninth Ltd')).id,
    text: 'Call',
    assigneeId: await office.user('Noor'),
  })
  await until(() => last.told.length > 0)
  for (const line of lines) line.leave()
})
