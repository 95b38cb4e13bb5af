import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { areas, assemble, jobKind, type ActSubject, type Area } from '../src/platform/area'
import { jobKinds } from '../src/platform/jobs'
import { alone } from '../src/platform/schedules'
import { Office, type Person } from './office'

let office: Office
let noor: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
})
afterAll(() => office.close())

describe('an area that is added', () => {
  const own: Area = {
    name: 'lighthouses',
    routes: {},
    jobs: { 'light the lamp': jobKind<object>({ noun: 'lamp', waits: [1], run: () => Promise.resolve() }) },
    acts: { ['lamp' as ActSubject]: { part: 'file', beyond: 'author' } },
    find: (_ctx, term) => Promise.resolve([{ kind: 'paper', id: 1, title: `Lamp ${term}`, hint: 'lighthouses' }]),
    openEnds: () => Promise.resolve([{ key: 'lamp', text: 'The lamp is lit', blocks: true }]),
  }
  const before: readonly Area[] = [...areas()]
  afterAll(() => assemble(before))

  it('brings what it finds, what it has open, its jobs and its acts, and nothing else has to know of it', async () => {
    const m = await office.matter(noor, 'Lamp of Skerry')
    assemble([...before, own])
    expect(await noor.must('GET', '/find?q=skerry')).toContainEqual(expect.objectContaining({ title: 'Lamp skerry' }))
    expect((await noor.must<{ key: string }[]>('GET', `/matters/${m.id}/closing`)).map((f) => f.key)).toContain('lamp')
    expect((await noor.post(`/matters/${m.id}/closed`, { day: '2026-11-23', accepted: [] })).body).toMatchObject({
      code: 'closing-blocked',
      detail: 'The lamp is lit',
    })
    expect(jobKinds()['light the lamp']?.noun).toBe('lamp')
    await office.db.query(
      `INSERT INTO audit_log (at, user_id, kind, text, matter_id, subject) VALUES ('2026-11-23 15:00:00', 1, 'lit', 'the lamp was lit', ?, 'lamp')`,
      [m.id],
    )
    const log = (await noor.get<{ rows: { text: string }[] }>(`/matters/${m.id}/log?size=200`)).body.rows
    expect(log.map((l) => l.text)).toContain('the lamp was lit')
  })

  it('stands alone: no two areas bring the same act, job, schedule or table that is only added to', () => {
    const names = (of: (a: Area) => readonly string[]) => before.flatMap(of)
    for (const all of [
      names((a) => Object.keys(a.acts ?? {})),
      names((a) => Object.keys(a.jobs ?? {})),
      names((a) => (a.schedules ?? []).map((s) => s.name)),
      names((a) => a.appendOnly ?? []),
    ])
      expect(new Set(all).size).toBe(all.length)
  })
})

describe('what is done by the clock', () => {
  it('is done by one process at a time, and by another once that is through or has died', async () => {
    let inside = 0
    let most = 0
    const act = async () => {
      most = Math.max(most, (inside += 1))
      await new Promise((r) => setTimeout(r, 50))
      inside -= 1
    }
    const did = await Promise.all(Array.from({ length: 4 }, () => alone(office.running.base, 'a test of one', act)))
    expect(most).toBe(1)
    expect(did.filter(Boolean).length).toBeGreaterThan(0)
    expect(await alone(office.running.base, 'a test of one', () => Promise.reject(new Error('it broke'))).catch(() => 'broke')).toBe(
      'broke',
    )
    expect(await alone(office.running.base, 'a test of one', act)).toBe(true)
  })
})
