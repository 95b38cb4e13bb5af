import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { remindOfTasks } from '../src/tasks'
import { Office, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'ingrid' | 'billie' | 'tomas' | 'jun' | 'ferdi', Person>
const id = {} as Record<'noor' | 'ingrid' | 'billie' | 'tomas' | 'jun', number>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'ingrid', 'billie', 'tomas', 'jun', 'ferdi'] as const) who[n] = await office.signIn(n)
  for (const n of ['noor', 'ingrid', 'billie', 'tomas', 'jun'] as const) id[n] = await office.user(n[0]!.toUpperCase() + n.slice(1))
})
afterAll(() => office.close())

interface Task {
  id: number
  text: string
  dueOn: string | null
  bucket: string
  waits: string | null
  assigneeId: number
  done: boolean
}
const list = (p: Person, q: string) => p.must<{ rows: Task[]; counts: Record<string, number> }>('GET', `/tasks?${q}`)
const make = (p: Person, more: object) => p.must<{ id: number }>('POST', '/tasks', { text: 'A task', assigneeId: id.noor, ...more })

describe('a task', () => {
  it('has details, a checklist, comments and papers, and keeps who did what', async () => {
    const m = await office.matter(who.noor, 'Tasked Matter')
    const t = await make(who.noor, {
      text: 'Prepare binder',
      matterId: m.id,
      assigneeId: id.billie,
      dueOn: '2026-11-25',
      dueTime: '14:00',
      estimateMinutes: 90,
      items: [{ text: 'Tabs' }, { text: 'Index' }],
    })
    const read = () =>
      who.billie.must<{
        checklist: { id: number; text: string; done: boolean }[]
        talk: { who: string; text: string }[]
        dueTime: string
        doneBy: string | null
      }>('GET', `/tasks/${t.id}`)
    await who.billie.must('PUT', `/task-items/${(await read()).checklist[0]!.id}`, { done: true })
    await who.billie.must('POST', `/tasks/${t.id}/comments`, { text: 'Tabs are in' })
    await who.billie.must('PUT', `/tasks/${t.id}/done`, { done: true })
    expect(await read()).toMatchObject({
      dueTime: '14:00',
      checklist: [{ text: 'Tabs', done: true }, { done: false }],
      talk: [{ who: 'Billie Strand', text: 'Tabs are in' }],
      doneBy: 'Billie Strand',
    })
    expect((await who.billie.call('DELETE', `/tasks/${t.id}`)).body.code).toBe('task-done')
    const letters = await rows<{ s: string }>(
      office.db.manager,
      `SELECT subject AS s FROM mail WHERE matter_id = ? AND message_key LIKE 'task %'`,
      [m.id],
    )
    expect(letters).toEqual([{ s: 'To do: Prepare binder' }])
  })

  it('for those named only is seen by them alone, also on a matter open to all', async () => {
    const m = await office.matter(who.noor, 'Named Only')
    const t = await make(who.noor, { text: 'Delicate call', matterId: m.id, onlyNamed: true, named: [id.ingrid] })
    const seen = async (p: Person) => (await list(p, `matterId=${m.id}`)).rows.some((x) => x.id === t.id)
    expect([await seen(who.noor), await seen(who.ingrid), await seen(who.tomas)]).toEqual([true, true, false])
    expect((await who.tomas.get(`/tasks/${t.id}`)).status).toBe(404)
    const board = await who.tomas.must<{ userId: number; rows: Task[] }[]>('GET', '/tasks/board')
    expect(board.flatMap((c) => c.rows).some((x) => x.id === t.id)).toBe(false)
    const log = await who.tomas.must<{ rows: { text: string }[] }>('GET', `/matters/${m.id}/log`)
    expect(JSON.stringify(log)).not.toContain('Delicate')
  })

  it('stands in its part of the list, and is found by person and by who gave it out', async () => {
    const m = await office.matter(who.ingrid, 'Bucketed')
    for (const [text, dueOn] of [
      ['b1', '2026-11-20'],
      ['b2', '2026-11-23'],
      ['b3', '2026-11-24'],
      ['b4', '2026-11-29'],
      ['b5', '2026-12-20'],
      ['b6', null],
    ])
      await make(who.ingrid, { text, dueOn, matterId: m.id, assigneeId: id.tomas })
    const { rows: all, counts } = await list(who.ingrid, `matterId=${m.id}`)
    expect(all.map((t) => t.bucket)).toEqual(['overdue', 'today', 'tomorrow', 'this week', 'later', 'no date'])
    expect(counts).toMatchObject({ overdue: 1, 'this week': 1, later: 1, 'no date': 1, done: 0 })
    expect((await list(who.ingrid, `view=person&userId=${id.tomas}&when=overdue`)).rows.map((t) => t.text)).toContain('b1')
    expect((await list(who.ingrid, 'view=assigned&q=b6')).rows).toHaveLength(1)
    expect((await list(who.billie, 'view=assigned&q=b6')).rows).toHaveLength(0)
  })

  it('several are changed in one act, or none', async () => {
    const m = await office.matter(who.noor, 'Many At Once')
    const ids = await Promise.all(
      [1, 2, 3].map(async (n) => (await make(who.noor, { text: `m${n}`, matterId: m.id, dueOn: '2026-11-25' })).id),
    )
    await who.noor.must('PUT', '/tasks', { ids, assigneeId: id.billie, moveDays: 7 })
    expect((await list(who.noor, `matterId=${m.id}`)).rows).toMatchObject(ids.map(() => ({ assigneeId: id.billie, dueOn: '2026-12-02' })))
    const own = await make(who.tomas, { text: 'of Tomas alone', assigneeId: id.tomas })
    expect((await who.noor.put('/tasks', { ids: [...ids, own.id], priority: 'high' })).status).toBe(404)
    expect((await list(who.noor, `matterId=${m.id}`)).rows.every((t) => (t as Task & { priority: string }).priority === 'normal')).toBe(
      true,
    )
  })

  it('reminds once, by letter, and says when it is late', async () => {
    const m = await office.matter(who.noor, 'Reminded')
    const t = await make(who.noor, { text: 'Mind this', matterId: m.id, dueOn: '2026-11-27', remindOn: '2026-11-20' })
    await remindOfTasks(office.running.base)
    await Promise.all([remindOfTasks(office.running.base), remindOfTasks(office.running.base)])
    const letters = await rows<{ body: string }>(office.db.manager, `SELECT body FROM mail WHERE message_key LIKE ?`, [
      `remind task ${t.id} %`,
    ])
    expect(letters).toHaveLength(1)
    expect(letters[0]!.body).toContain('it is late')
  })
})

const anchorStart = { kind: 'start' }
const step = (key: string, text: string, due: object, more: object = {}) => ({
  key,
  text,
  assignTo: { kind: 'role', role: 'lead' },
  due: { count: 0, unit: 'business', direction: 'after', anchor: anchorStart, ...due },
  ...more,
})

describe('a procedure', () => {
  const procedure = async (name: string) =>
    who.ferdi.must<{ id: number; version: number }>('POST', '/procedures', {
      name,
      steps: [
        step('a', 'Outline', { count: 10, direction: 'before', anchor: { kind: 'docket', name: 'trial' } }),
        step(
          'b',
          'Subpoenas',
          { count: 5, anchor: { kind: 'step', step: 'a' } },
          { assignTo: { kind: 'role', role: 'paralegal' }, waitsFor: ['a'] },
        ),
        step('c', 'Copies', { count: 2, anchor: { kind: 'done', step: 'b' } }, { assignTo: { kind: 'given' }, waitsFor: ['b'] }),
        step('d', 'Letter', { count: 30, unit: 'calendar', anchor: { kind: 'opened' } }),
      ],
    })
  const trial = (m: { id: number }, day: string) =>
    who.noor.must<{ id: number }>('POST', `/matters/${m.id}/docket`, { title: 'Trial', weight: 'court order', day })
  interface Plan {
    version: number
    steps: { key: string; dueOn: string | null; assigneeId: number; provisional: boolean }[]
    dates: { name: string; chosen: string | null; choices: { key: string }[] }[]
  }
  const start = async (m: { id: number }, procedureId: number, more: object = {}) => {
    const asked = { procedureId, start: '2026-11-23', ...more }
    const plan = await who.noor.must<Plan>('POST', `/matters/${m.id}/procedures/preview`, asked)
    const steps = plan.steps.map(({ key, dueOn, assigneeId }) => ({ key, dueOn, assigneeId }))
    await who.noor.must('POST', `/matters/${m.id}/procedures`, { ...asked, version: plan.version, steps })
    return plan
  }
  const following = (m: { id: number }) =>
    who.noor.must<{ runId: number; changes: { taskId: number; text: string; was: string; becomes: string }[] }[]>(
      'GET',
      `/matters/${m.id}/procedures/following`,
    )

  it('is dated by the docket, the opening and completions, falls to roles and to whom it is given, and waits', async () => {
    const p = await procedure('All anchors')
    const m = await office.matter(who.noor, 'Anchored', { team: [{ userId: id.billie, role: 'paralegal' }] })
    const none = await who.noor.must<Plan>('POST', `/matters/${m.id}/procedures/preview`, { procedureId: p.id, start: '2026-11-23' })
    expect(none.steps.map((s) => s.dueOn)).toEqual([null, null, null, '2026-10-01'])
    await trial(m, '2027-03-30')
    const plan = await start(m, p.id, { givenTo: id.tomas })
    expect(plan.dates).toMatchObject([{ name: 'trial', chosen: expect.stringMatching(/^entry/) as string }])
    // Ten business days before Tue 30 Mar 2027, Good Friday kept only forward; then five and two after.
    expect(plan.steps.map((s) => [s.key, s.dueOn, s.assigneeId])).toEqual([
      ['a', '2027-03-16', id.noor],
      ['b', '2027-03-23', id.billie],
      ['c', '2027-03-25', id.tomas],
      ['d', '2026-10-01', id.noor],
    ])
    const { rows: tasks } = await list(who.noor, `matterId=${m.id}`)
    const b = tasks.find((t) => t.text === 'Subpoenas')!
    expect(b.waits).toBe('Outline')
    const early = await who.noor.put(`/tasks/${b.id}/done`, { done: true })
    expect([early.status, early.body.code]).toEqual([409, 'task-waits'])
  })

  it('follows a moved anchor only when told to; what is done or set by hand stays', async () => {
    const p = await procedure('Follows')
    const m = await office.matter(who.noor, 'Continued Trial')
    const entry = await trial(m, '2027-03-30')
    await start(m, p.id)
    expect(await following(m)).toEqual([])
    const tasks = (await list(who.noor, `matterId=${m.id}`)).rows
    const by = (text: string) => tasks.find((t) => t.text === text)!
    await who.noor.must('PUT', '/tasks', { ids: [by('Copies').id], dueOn: '2027-03-29' })
    await who.noor.must('POST', `/matters/${m.id}/docket/acts`, {
      act: { kind: 'extend', entryId: entry.id, day: '2027-04-20', by: 'court', chainFollows: false },
      why: 'continued three weeks',
    })
    const [run] = await following(m)
    expect(run!.changes.map((c) => [c.text, c.was, c.becomes])).toEqual([
      ['Outline', '2027-03-16', '2027-04-06'],
      ['Subpoenas', '2027-03-23', '2027-04-13'],
    ])
    expect((await list(who.noor, `matterId=${m.id}`)).rows.find((t) => t.text === 'Outline')!.dueOn).toBe('2027-03-16')
    expect((await who.noor.post(`/procedure-runs/${run!.runId}/follow`, { taskIds: [by('Letter').id] })).body.code).toBe(
      'changed-meanwhile',
    )
    await who.noor.must('POST', `/procedure-runs/${run!.runId}/follow`, { taskIds: run!.changes.map((c) => c.taskId) })
    expect(await following(m)).toEqual([])
    const dates = (await list(who.noor, `matterId=${m.id}`)).rows.map((t) => [t.text, t.dueOn])
    expect(dates).toContainEqual(['Outline', '2027-04-06'])
    expect(dates).toContainEqual(['Copies', '2027-03-29'])
  })

  it('a step done late moves what is counted from its completion, and says so at once', async () => {
    const p = await who.ferdi.must<{ id: number }>('POST', '/procedures', {
      name: 'Late step',
      steps: [step('a', 'First', { count: 0 }), step('b', 'Then', { count: 3, anchor: { kind: 'done', step: 'a' } })],
    })
    const m = await office.matter(who.noor, 'Late Step')
    const asked = { procedureId: p.id, start: '2026-11-02' }
    const plan = await who.noor.must<Plan>('POST', `/matters/${m.id}/procedures/preview`, asked)
    expect(plan.steps[1]).toMatchObject({ dueOn: '2026-11-05', provisional: true })
    await who.noor.must('POST', `/matters/${m.id}/procedures`, {
      ...asked,
      version: plan.version,
      steps: plan.steps.map(({ key, dueOn, assigneeId }) => ({ key, dueOn, assigneeId })),
    })
    const first = (await list(who.noor, `matterId=${m.id}`)).rows.find((t) => t.text === 'First')!
    const answer = await who.noor.must<{ follows: { changes: { becomes: string }[] } }>('PUT', `/tasks/${first.id}/done`, { done: true })
    // Done on Mon 23 Nov: Tue, Wed, then Thanksgiving and the day after are closed, so Mon 30 Nov.
    expect(answer.follows.changes).toMatchObject([{ becomes: '2026-11-30' }])
  })

  it('edited later keeps what was started, and refuses circles and steps that are not there', async () => {
    const p = await procedure('Versioned')
    const m = await office.matter(who.noor, 'Versions')
    await trial(m, '2027-03-30')
    const plan = await who.noor.must<Plan>('POST', `/matters/${m.id}/procedures/preview`, { procedureId: p.id, start: '2026-11-23' })
    const changed = await who.ferdi.must<{ version: number }>('POST', '/procedures', {
      id: p.id,
      name: 'Versioned',
      steps: [step('a', 'Only this', { count: 1 })],
    })
    expect(changed.version).toBe(2)
    const stale = await who.noor.post(`/matters/${m.id}/procedures`, {
      procedureId: p.id,
      start: '2026-11-23',
      version: plan.version,
      steps: plan.steps.map(({ key, dueOn, assigneeId }) => ({ key, dueOn, assigneeId })),
    })
    expect(stale.body.code).toBe('procedure-changed')
    const circle = await who.ferdi.post('/procedures', {
      name: 'Circle',
      steps: [step('a', 'A', { anchor: { kind: 'step', step: 'b' } }), step('b', 'B', { anchor: { kind: 'done', step: 'a' } })],
    })
    expect(circle.body.detail).toContain('comes round to itself')
    expect((await who.noor.post('/procedures', { name: 'x', steps: [step('a', 'A', {})] })).status).toBe(403)
  })

  it('goes out as a file and comes back the same; a bad file says what is wrong where', async () => {
    const p = await procedure('As a file')
    const file = await who.noor.get(`/procedures/${p.id}/file`)
    const text = file.bytes.toString()
    expect(JSON.parse(text)).toMatchObject({
      format: 'heron-procedure',
      edition: 1,
      steps: [{ assignTo: 'lead' }, { assignTo: 'paralegal' }, { assignTo: 'given' }, {}],
    })
    const send = async (content: string) => {
      const form = new FormData()
      form.set('file', new File([content], 'p.json', { type: 'application/json' }))
      return fetch(`${who.ferdi.base}/api/procedures/file`, {
        method: 'POST',
        headers: { cookie: who.ferdi.cookie, 'x-heron-csrf': who.ferdi.csrf, 'idempotency-key': randomUUID() },
        body: form,
      })
    }
    const back = (await (await send(text)).json()) as { id: number }
    const [one, two] = [
      await who.noor.must<{ steps: object }>('GET', `/procedures/${p.id}`),
      await who.noor.must<{ steps: object }>('GET', `/procedures/${back.id}`),
    ]
    expect(two.steps).toEqual(one.steps)
    const bad = (await (await send(text.replace('"trial"', '""'))).json()) as { fields: { path: string }[] }
    expect(bad.fields[0]!.path).toBe('file.steps.0.due.anchor.name')
    expect(((await (await send('{')).json()) as { detail: string }).detail).toContain('not JSON')
  })
})

describe('notes and talk', () => {
  const mention = (userId: number) => `<span data-type="mention" data-id="${userId}" data-label="x">@x</span>`
  it('keep rich text without anything that runs, and reach whoever is mentioned', async () => {
    const m = await office.matter(who.noor, 'Talkative')
    const topic = await who.noor.must<{ id: number }>('POST', `/matters/${m.id}/topics`, { title: 'Strategy', html: '<p>First <strong>words</strong></p>' }) // prettier-ignore
    await who.billie.must('POST', '/notes', {
      topicId: topic.id,
      html: `<p onclick="x()">Hello ${mention(id.tomas)}<script>alert(1)</script><a href="javascript:x">y</a></p>`,
    })
    const said = await who.noor.must<{ messages: { html: string; author: string }[] }>('GET', `/topics/${topic.id}`)
    expect(said.messages.map((x) => x.author)).toEqual(['Noor Haddad-Lind', 'Billie Strand'])
    expect(said.messages[1]!.html).not.toMatch(/script|onclick|javascript/)
    const [found] = (await who.tomas.must<{ noteId: number; place: string; who: string }[]>('GET', '/mentions')).filter(
      (x) => x.place === 'Talkative, test matter, Strategy',
    )
    expect(found).toMatchObject({ who: 'Billie Strand' })
    await who.tomas.must('PUT', `/mentions/${found!.noteId}`, {})
    expect((await who.tomas.must<{ noteId: number }[]>('GET', '/mentions')).map((x) => x.noteId)).not.toContain(found!.noteId)
  })
  it('are read from the latest back, however long a talk grew', async () => {
    const m = await office.matter(who.noor, 'Long Talk')
    const topic = await who.noor.must<{ id: number }>('POST', `/matters/${m.id}/topics`, { title: 'All of it', html: '<p>0</p>' })
    for (let i = 1; i <= 450; i += 50)
      await office.db.manager.query(`INSERT INTO note (matter_id, topic_id, html, plain, author_id, created_at) VALUES ${Array.from({ length: 50 }, (_, k) => `(${m.id}, ${topic.id}, '<p>${i + k}</p>', '${i + k}', ${id.tomas}, '2026-11-20')`).join()}`) // prettier-ignore
    const read = (before = '') => who.billie.must<{ messages: { id: number; html: string }[]; earlier: boolean }>('GET', `/topics/${topic.id}${before}`) // prettier-ignore
    const last = await read()
    const middle = await read(`?before=${last.messages[0]!.id}`)
    const first = await read(`?before=${middle.messages[0]!.id}`)
    expect([first, middle, last].map((p) => [p.messages.length, p.earlier].join(' '))).toEqual(['51 false', '200 true', '200 true'])
    expect([first, middle, last].flatMap((p) => p.messages.map((n) => n.html))).toEqual(Array.from({ length: 451 }, (_, i) => `<p>${i}</p>`)) // prettier-ignore
  })
  it('mention only those who may see the matter, and are changed by their author alone', async () => {
    const m = await office.matter(who.noor, 'Hushed Talk', { access: 'team' })
    expect((await who.noor.post('/notes', { matterId: m.id, html: `<p>${mention(id.tomas)}</p>` })).body.fields[0]).toMatchObject({
      path: 'html',
    })
    const note = await who.noor.must<{ id: number }>('POST', '/notes', { matterId: m.id, html: '<p>mine</p>' })
    expect((await who.jun.put(`/notes/${note.id}`, { html: '<p>theirs</p>' })).status).toBe(404)
    expect((await who.noor.post('/notes', { matterId: m.id, html: '<p> </p>' })).status).toBe(400)
    expect((await who.noor.post('/notes', { html: '<p>nowhere</p>' })).status).toBe(400)
  })
  it('notices tell what others did on one’s matters, of the kinds chosen, until put away', async () => {
    const m = await office.matter(who.noor, 'Noticed', { team: [{ userId: id.tomas, role: 'lawyer' }] })
    const seen = async () =>
      (await who.tomas.must<{ upTo: number; rows: { text: string; matter: string }[] }>('GET', '/notices')).rows.filter((r) =>
        r.matter.startsWith('Noticed'),
      )
    await who.noor.must('POST', '/notes', { matterId: m.id, html: '<p>Look at this</p>' })
    await who.tomas.must('POST', '/notes', { matterId: m.id, html: '<p>My own act</p>' })
    expect((await seen()).map((r) => r.text)).toEqual(['Note: Look at this'])
    await who.tomas.must('PUT', '/notice-choices', { choices: [{ kind: 'said', told: false }] })
    expect(await seen()).toEqual([])
    await who.tomas.must('PUT', '/notice-choices', { choices: [{ kind: 'said', told: true }] })
    const { upTo } = await who.tomas.must<{ upTo: number }>('GET', '/notices')
    await who.tomas.must('PUT', '/notices', { upTo })
    expect(await seen()).toEqual([])
  })
})

describe('leave and departure', () => {
  const add = async (name: string, role = 'lawyer') => {
    const email = `${name.toLowerCase().replace(/\W/g, '.')}@callowayfenn.example`
    const made = await who.ferdi.must<{ id: number }>('POST', '/staff', {
      name,
      initials: name.slice(0, 2),
      email,
      role,
      password: 'long enough to keep',
    })
    const person = office.nobody()
    person.csrf = (await person.must<{ csrf: string }>('POST', '/session', { email, password: 'long enough to keep' })).csrf
    return { id: made.id, person }
  }
  interface Holdings {
    lead: { id: number }[]
    team: { id: number }[]
    date: { id: number }[]
    task: { id: number }[]
  }
  const everything = (h: Holdings, toId: number) =>
    (['lead', 'team', 'date', 'task'] as const).flatMap((what) => h[what].map((x) => ({ what, subjectId: x.id, toId })))

  it('hands over matters, teams, dates and tasks for a leave, and gives back what was not changed meanwhile', async () => {
    const away = await add('Yusra Away')
    const led = await office.matter(who.noor, 'Led By Yusra', { leadId: away.id })
    const joined = await office.matter(who.noor, 'Joined By Yusra', { team: [{ userId: away.id, role: 'lawyer' }] })
    const keep = await make(who.noor, { text: 'returns', matterId: joined.id, assigneeId: away.id })
    const gone = await make(who.noor, { text: 'is done', matterId: joined.id, assigneeId: away.id })
    const entry = await away.person.must<{ id: number }>('POST', `/matters/${led.id}/docket`, {
      title: 'Yusra hearing',
      weight: 'court order',
      day: '2026-12-10',
    })
    await office.db.query(`UPDATE docket_entry SET responsible_id = ? WHERE id = ?`, [away.id, entry.id])
    const has = await who.ferdi.must<Holdings>('GET', `/staff/${away.id}/holdings`)
    expect([has.lead.length, has.team.length, has.date.length, has.task.length]).toEqual([1, 1, 1, 2])
    const made = await who.ferdi.must<{ id: number; handedOver: number }>('POST', `/staff/${away.id}/absences`, {
      kind: 'leave',
      from: '2026-11-23',
      to: '2026-12-23',
      gives: everything(has, id.ingrid),
    })
    expect(made.handedOver).toBe(5)
    const leadOf = async (m: { id: number }) => (await who.noor.must<{ leadId: number }>('GET', `/matters/${m.id}`)).leadId
    expect(await leadOf(led)).toBe(id.ingrid)
    expect((await who.ingrid.get(`/tasks/${keep.id}`)).status).toBe(200)
    await who.ingrid.must('PUT', `/tasks/${gone.id}/done`, { done: true })
    const back = await who.ferdi.must<{ returned: number; stayed: string[] }>('POST', `/absences/${made.id}/ended`, {})
    expect(back).toEqual({ returned: 4, stayed: ['is done'] })
    expect(await leadOf(led)).toBe(away.id)
    expect(await row(office.db.manager, `SELECT responsible_id AS r FROM docket_entry WHERE id = ?`, [entry.id])).toEqual({ r: away.id })
    const team = (await who.noor.must<{ team: { userId: number }[] }>('GET', `/matters/${joined.id}`)).team.map((t) => t.userId)
    expect(team).toContain(away.id)
    expect(team).not.toContain(id.ingrid)
  })

  it('of a departure leaves no matter without a lead, closes the account, and records no more time for it', async () => {
    const leaver = await add('Quentin Leaver')
    const led = await office.matter(who.noor, 'Led By Quentin', { leadId: leaver.id })
    const has = await who.ferdi.must<Holdings>('GET', `/staff/${leaver.id}/holdings`)
    const go = (gives: object[]) =>
      who.ferdi.post<{ id: number }>(`/staff/${leaver.id}/absences`, { kind: 'departure', from: '2026-11-23', gives })
    expect((await go([])).body.code).toBe('lead-needed')
    expect((await go(everything(has, id.tomas))).status).toBe(200)
    expect((await leaver.person.get('/waterline')).status).toBe(401)
    expect((await who.noor.must<{ leadId: number }>('GET', `/matters/${led.id}`)).leadId).toBe(id.tomas)
    expect((await make(who.noor, {}).then(() => who.noor.post('/tasks', { text: 'x', assigneeId: leaver.id }))).status).toBe(400)
  })

  it('never hands work to someone screened from it, and then hands over nothing at all', async () => {
    const away = await add('Wanda Walled')
    const m = await office.matter(who.noor, 'Walled Off', { leadId: away.id })
    await away.person.must('POST', `/matters/${m.id}/screens`, { userId: id.tomas })
    await make(away.person, { text: 'own', assigneeId: away.id })
    const has = await who.ferdi.must<Holdings>('GET', `/staff/${away.id}/holdings`)
    const refused = await who.ferdi.post(`/staff/${away.id}/absences`, {
      kind: 'leave',
      from: '2026-11-23',
      gives: everything(has, id.tomas),
    })
    expect(refused.body.code).toBe('screened')
    expect((await who.ferdi.must<Holdings>('GET', `/staff/${away.id}/holdings`)).task).toHaveLength(1)
  })
})
