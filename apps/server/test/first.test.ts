import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startMailbox, type Mailbox } from '@heron/standins/mail'
import { readConfig, startServer, type Running } from '../src'
import { actorOf, dataSource, migrate, work } from '../src/platform'
import { keepFile } from '../src/platform/files'
import { sendMail } from '../src/platform/mail'
import { appUser, databaseName, ownerUser, startDatabase, type Database } from '../../../tools/mariadb'
import { Person } from './office'

let db: Database
let running: Running
let mailbox: Mailbox
const dir = mkdtempSync(join(tmpdir(), 'heron-first-'))
beforeAll(async () => {
  db = await startDatabase(join(dir, 'mariadb'), true)
  const owner = await dataSource({ port: db.port, user: ownerUser, password: db.owner, name: databaseName, pool: 2 }).initialize()
  await migrate(owner, appUser)
  await owner.destroy()
  mailbox = await startMailbox()
  running = await startServer(
    readConfig({
      HERON_PORT: '0',
      HERON_DB_PORT: String(db.port),
      HERON_DB_PASSWORD: db.app,
      HERON_FILES: join(dir, 'files'),
      HERON_TODAY: '2026-11-23',
      HERON_LOG: 'silent',
      HERON_SMTP_PORT: String(mailbox.smtpPort),
    }),
  )
})
afterAll(async () => {
  await running.stop()
  await mailbox.stop()
  await db.stop()
  rmSync(dir, { recursive: true, force: true })
})

const bank = (name: string, ending: string) => ({ name, bank: 'Wexmoor Savings', ending })
const steps = {
  firm: { name: 'Heath & Harbor', address: '1 Quay' },
  administrator: { name: 'Ada Heath', initials: 'AH', email: 'ada@heath.example', password: 'a long enough one' },
  people: [
    { name: 'Lew Harbor', initials: 'LH', email: 'lew@heath.example', role: 'lawyer', rate: 200_00, password: 'another long one' },
    { name: 'Bea Books', initials: 'BB', email: 'bea@heath.example', role: 'bookkeeper', rate: null, password: 'a third long one' },
  ],
  areas: [{ name: 'Litigation', ruleSetKey: 'us-federal-civil', stages: ['Intake', 'Trial'] }],
  matterPattern: 'H{yyyy}.{n:3}',
  workDays: [1, 2, 3, 4, 5],
  operatingBank: bank('Operating', '1111'),
  trustBank: bank('Pooled trust', '2222'),
}

describe('a firm that begins with nothing', () => {
  it('says so, refuses what is not right at its field, and is set up in one act, once', async () => {
    const base = `http://127.0.0.1:${running.port}`
    const nobody = new Person(base)
    expect(await nobody.must('GET', '/session')).toMatchObject({ empty: true, me: null, demo: null })
    expect((await nobody.get('/matters')).status).toBe(401)
    expect(
      (await nobody.post('/set-up', { ...steps, administrator: { ...steps.administrator, password: 'short' } })).body.fields[0],
    ).toMatchObject({ path: 'administrator.password' })
    expect(
      (await nobody.post('/set-up', { ...steps, people: [{ ...steps.people[0], email: 'ADA@heath.example' }] })).body.fields[0],
    ).toMatchObject({ path: 'people.0.email' })
    expect((await nobody.post('/set-up', { ...steps, matterPattern: '{yy}' })).body.fields[0]).toMatchObject({ path: 'matterPattern' })
    expect(await nobody.must('GET', '/session')).toMatchObject({ empty: true })
    await nobody.must('POST', '/set-up', steps)
    expect(await nobody.must('GET', '/session')).toMatchObject({ empty: false, firm: 'Heath & Harbor' })
    expect((await nobody.post('/set-up', steps)).body.code).toBe('firm-exists')
  })

  it('is a usable firm: a matter, its time, a bill, money in trust, and a letter to whoever joins the team', async () => {
    const base = `http://127.0.0.1:${running.port}`
    const enter = async (email: string, password: string) => {
      const p = new Person(base)
      p.csrf = (await p.must<{ csrf: string }>('POST', '/session', { email, password })).csrf
      return p
    }
    const lew = await enter('lew@heath.example', 'another long one')
    const bea = await enter('bea@heath.example', 'a third long one')
    const setting = await lew.must<{ staff: { id: number; name: string }[]; areas: { id: number }[] }>('GET', '/matters/setting')
    const client = await lew.must<{ id: number }>('POST', '/contacts', { kind: 'person', name: 'First Client', kinds: ['client'] })
    const m = await lew.must<{ id: number; number: string }>('POST', '/matters', {
      clientId: client.id,
      name: 'First matter',
      openedOn: '2026-11-23',
      areaId: setting.areas[0]!.id,
      billToId: client.id,
      team: [{ userId: setting.staff.find((s) => s.name === 'Bea Books')!.id, role: 'assistant' }],
    })
    expect(m.number).toBe('H2026.001')
    const time = await lew.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-11-23', text: 'First hour', duration: '1' })
    await lew.must('POST', '/time/post', { ids: [time.id] })
    const pre = await lew.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-11-23' })
    await lew.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    await bea.must('POST', `/pre-bills/${pre.id}/issue`, { day: '2026-11-23' })
    expect(await lew.must('GET', `/contacts/${client.id}`)).toMatchObject({ money: { owed: 200_00, held: 0 } })
    expect(await bea.must('POST', '/trust/check', {})).toMatchObject({ ok: true })
    await expect
      .poll(() => mailbox.letters().map((l) => [l.to, l.subject]), { timeout: 8000 })
      .toEqual([['"Bea Books" <bea@heath.example>', 'You are on H2026.001, First matter']])
  })

  it('says from whom its letters come; they bear its letterhead, and what was written in them stays text', async () => {
    const base = `http://127.0.0.1:${running.port}`
    const ada = new Person(base)
    ada.csrf = (await ada.must<{ csrf: string }>('POST', '/session', { email: 'ada@heath.example', password: 'a long enough one' })).csrf
    const way = { name: 'The office', address: 'office@heath.example', host: '', port: 587, security: 'none' }
    expect((await ada.put('/firm/mail', { ...way, host: 'smtp.heath.example', address: '' })).body.fields[0]?.path).toBe('address')
    expect((await ada.put('/firm/mail', { ...way, host: 'a b' })).body.fields[0]?.path).toBe('host')
    await ada.must('PUT', '/firm/mail', { ...way, password: 'kept and never shown' })
    const shown = await ada.must<object>('GET', '/firm/mail')
    expect(shown).toMatchObject({ ...way, hasPassword: true, own: true })
    expect(JSON.stringify(shown)).not.toContain('never shown')
    // The password stays with its server and user, and goes to no other.
    const kept = async (more: object) => {
      await ada.must('PUT', '/firm/mail', { ...way, ...more })
      return (await ada.must<{ hasPassword: boolean }>('GET', '/firm/mail')).hasPassword
    }
    expect(await kept({ name: 'Our office' })).toBe(true)
    expect(await kept({ host: 'smtp.elsewhere.example' })).toBe(false)
    expect(await kept({})).toBe(false)
    await ada.must('POST', '/firm/mail/test', {})
    await expect.poll(() => mailbox.letters()[0]?.subject, { timeout: 8000 }).toBe('Letters go out')
    const [letter] = mailbox.letters()
    expect(letter!.from).toBe('"The office" <office@heath.example>')
    expect(letter!.text).toContain('asked for under Set-up')
    expect(letter!.html).toContain('Heath &#38; Harbor')
    const ctx = { ...running.base, actor: (await actorOf(running.base.db.manager, 1))! }
    const files = await work(ctx, async (m) => [
      { id: (await keepFile(m, ctx, Buffer.from('one'), 'text/plain')).id, name: 'one.txt' },
      { id: (await keepFile(m, ctx, Buffer.from('two'), 'text/plain')).id, name: 'two.txt' },
    ])
    const body = 'Dear <b>Sir</b>,\n\nsee https://firm.example/a?b=1&c=2 and "this"'
    await work(ctx, (m) =>
      sendMail(m, ctx, { key: 'two files', to: { name: 'Out Side', email: 'out@side.example' }, subject: 'Two files', body, files }),
    )
    await expect.poll(() => mailbox.letters()[0]?.subject, { timeout: 8000 }).toBe('Two files')
    expect(mailbox.letters()[0]!.with.map((f) => [f.name, f.text])).toEqual([
      ['one.txt', 'one'],
      ['two.txt', 'two'],
    ])
    const html = mailbox.letters()[0]!.html
    expect(html).toContain('Dear &#60;b&#62;Sir&#60;/b&#62;,')
    expect(html).toContain('<a href="https://firm.example/a?b=1&#38;c=2"')
  })
})
