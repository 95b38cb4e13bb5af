import { flowSteps, noFlow, unexplained, type Flow } from '@heron/core/oversight'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { owedOn } from '../src/platform/figures'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla' | 'tomas' | 'jun' | 'billie' | 'sable' | 'ferdi', Person>
const ids = {} as Record<'noor' | 'tomas' | 'jun', number>
let hourly: { id: number; clientId: number; number: string }
let fixed: typeof hourly
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla', 'tomas', 'jun', 'billie', 'sable', 'ferdi'] as const) who[n] = await office.signIn(n)
  for (const n of ['noor', 'tomas', 'jun'] as const) ids[n] = await office.user(n === 'noor' ? 'Noor' : n === 'tomas' ? 'Tomas' : 'Jun')
})
afterAll(async () => {
  expect(await office.agrees()).toBe(true)
  await office.close()
})

interface Group {
  key: string
  name: string
  flow: Flow
  months: number[]
}
type FlowOut = { groups: Group[]; together: Flow; months: { month: string; amount: number }[] }
const span = 'from=2024-01-01&to=2024-03-31'
const flow = (q: string) => who.noor.must<FlowOut>('GET', `/oversight/flow?${q}`)
const lines = (q: string) =>
  who.noor.must<{ total: number | null; rows: { amount: number }[]; more: boolean }>('GET', `/oversight/flow/lines?${q}`)
const of = (f: FlowOut, key: string | number) => f.groups.find((g) => g.key === String(key))?.flow ?? noFlow()
const some = (f: Flow) => Object.fromEntries(flowSteps.flatMap((s) => (f[s] ? [[s, f[s]]] : [])))
async function time(p: Person, matterId: number, day: string, duration: string, rate: number, more: object = {}) {
  const { id } = await p.must<{ id: number }>('POST', '/time', { matterId, day, duration, rate, text: `work of ${day}`, ...more })
  await p.must('POST', '/time/post', { ids: [id] })
  return id
}
interface Pre {
  lines: { id: number; kind: string; text: string; charged: number; noCharge: boolean; timekeeper: string }[]
}
async function billUp(matterId: number, workTo: string, day: string, edit: (id: number, pre: Pre) => Promise<unknown> = async () => {}) {
  const { id } = await who.noor.must<{ id: number }>('POST', '/pre-bills', { matterId, workTo })
  await edit(id, await who.noor.must<Pre>('GET', `/pre-bills/${id}`))
  await who.noor.must('POST', `/pre-bills/${id}/approve`, { approved: true })
  return who.orla.must<{ id: number; number: string }>('POST', `/pre-bills/${id}/issue`, { day })
}

describe('from work to money, by hand', () => {
  it('tells two months of three timekeepers to the cent', async () => {
    hourly = await office.matter(who.noor, 'Overseen Hours Ltd', { openedOn: '2024-01-02', originatingId: ids.tomas })
    fixed = await office.matter(who.noor, 'Overseen Fee Ltd', { openedOn: '2024-01-02', billing: 'flat', flatFee: [{ label: 'All of it', amount: 2_400_00 }] }) // prettier-ignore
    await time(who.noor, hourly.id, '2024-01-10', '2', 400_00)
    await time(who.tomas, hourly.id, '2024-01-12', '3', 200_00)
    await time(who.jun, hourly.id, '2024-01-15', '1', 300_00, { charge: 'no charge' })
    await time(who.noor, fixed.id, '2024-01-20', '5', 400_00)
    await time(who.tomas, fixed.id, '2024-01-22', '5', 200_00)
    await time(who.noor, hourly.id, '2024-02-05', '1.5', 400_00)
    const a = await billUp(hourly.id, '2024-01-31', '2024-02-06', async (id, pre) => {
      const line = pre.lines.find((l) => l.charged === 800_00)!
      await who.noor.must('PUT', `/pre-bills/${id}/lines/${line.id}`, { text: line.text, charged: 700_00, noCharge: false, heldBack: false }) // prettier-ignore
      await who.noor.must('PUT', `/pre-bills/${id}/discount`, { amount: 0, basisPoints: 1000 })
    })
    const b = await billUp(fixed.id, '2024-01-31', '2024-02-06')
    const total = async (id: number) => (await row<{ total: number; tax: number }>(office.db.manager, `SELECT total, tax FROM bill WHERE id = ?`, [id]))! // prettier-ignore
    expect([await total(a.id), await total(b.id)].map((x) => x.total - x.tax)).toEqual([1_170_00, 2_400_00])
    await who.orla.must('POST', `/bills/${b.id}/payments`, { day: '2024-02-15', amount: 1_000_00, kind: 'check' })
    await who.orla.must('POST', `/bills/${a.id}/payments`, { day: '2024-03-20', amount: 500_00, kind: 'check' })
    await who.orla.must('POST', `/bills/${a.id}/credit-notes`, { day: today, amount: 100_00, reason: 'agreed' })
    const f = await flow(`${span}&as=work&by=person`)
    // Noor: 800.00 written down to 700.00, less 70.00; two thirds of the fee of 2,400.00 for 2,000.00 of time; 600.00 waits.
    expect(some(of(f, ids.noor))).toEqual({ worked: 3_400_00, waiting: 600_00, feeDifference: -400_00, writtenDown: 100_00, discount: 70_00, billed: 2_230_00, collected: 269_23 + 666_67, credited: 53_85, open: 2_230_00 - 269_23 - 666_67 - 53_85 }) // prettier-ignore
    expect(some(of(f, ids.tomas))).toEqual({ worked: 1_600_00, feeDifference: -200_00, discount: 60_00, billed: 1_340_00, collected: 230_77 + 333_33, credited: 46_15, open: 1_340_00 - 230_77 - 333_33 - 46_15 }) // prettier-ignore
    expect(some(of(f, ids.jun))).toEqual({ worked: 300_00, noCharge: 300_00 })
    expect(some(f.together)).toEqual({ worked: 5_300_00, noCharge: 300_00, waiting: 600_00, feeDifference: -600_00, writtenDown: 100_00, discount: 130_00, billed: 3_570_00, collected: 1_500_00, credited: 100_00, open: 1_970_00 }) // prettier-ignore
    // By the month of the work everything billed is January's; by act it stands in the month in which it was done.
    const months = await flow(`${span}&as=work&by=month&beside=collected`)
    expect([of(months, '2024-01').billed, of(months, '2024-02').waiting, months.months.map((x) => x.amount)]).toEqual([3_570_00, 600_00, [1_500_00, 0, 0]]) // prettier-ignore
    const acts = await flow(`${span}&as=act&by=month&beside=collected`)
    expect([of(acts, '2024-01').billed, of(acts, '2024-02').billed, acts.months.map((x) => x.amount)]).toEqual([0, 3_570_00, [0, 1_000_00, 500_00]]) // prettier-ignore
    expect(of(await flow(`${span}&as=work&by=originating`), ids.tomas).billed).toBe(1_170_00)
    expect(of(await flow(`${span}&as=work&by=client`), fixed.clientId)).toMatchObject({ billed: 2_400_00, collected: 1_000_00, open: 1_400_00 }) // prettier-ignore
  })

  it('is the same on the income statement and in the exported journal', async () => {
    const acts = await flow(`${span}&as=act&by=person`)
    const income = async (basis: string) => who.orla.must<{ sections: { name: string; rows: { name: string; amounts: number[] }[] }[] }>('GET', `/books/statements/income?from=2024-01-01&to=2024-03-31&basis=${basis}&by=timekeeper`) // prettier-ignore
    for (const [basis, step] of [
      ['cash', 'collected'],
      ['accrual', 'billed'],
    ] as const) {
      // prettier-ignore
      const shown = (await income(basis)).sections[0]!.rows
      for (const g of acts.groups.filter((x) => x.flow[step])) expect([basis, g.name, shown.find((r) => r.name === g.name)?.amounts[0]]).toEqual([basis, g.name, g.flow[step]]) // prettier-ignore
    }
    const journal = (await who.orla.get(`/books/export?from=2024-01-01&to=2024-03-31`)).bytes.toString()
    const booked = await row<{ fees: number }>(office.db.manager, `SELECT -SUM(l.amount) AS fees FROM journal_line l JOIN account a ON a.id = l.account_id AND a.role = 'fees' WHERE l.day BETWEEN '2024-01-01' AND '2024-03-31'`) // prettier-ignore
    expect(booked!.fees).toBe(acts.together.billed)
    // Another program adds up the exported journal: what each timekeeper billed, and what is open of it.
    const file = join(mkdtempSync(join(tmpdir(), 'heron-journal-')), 'a.journal')
    writeFileSync(file, journal)
    const hledger = (...query: string[]) => {
      const out = execFileSync('hledger', ['-f', file, 'balance', '-b', '2024-01-01', '-e', '2024-04-01', '--no-total', '-O', 'csv', ...query], { env: { ...process.env, LC_ALL: 'C.UTF-8' } }).toString() // prettier-ignore
      return out.trim().split('\n').slice(1).reduce((n, l) => n - Math.round(Number(l.split('","')[1]!.replaceAll(/[^\d.-]/g, '')) * 100), 0) // prettier-ignore
    }
    const fees = (await row<{ code: string }>(office.db.manager, `SELECT code FROM account WHERE role = 'fees'`))!.code
    for (const g of acts.groups) expect([g.name, hledger(`acct:${fees}`, `tag:timekeeper=^${g.name}$`)]).toEqual([g.name, g.flow.billed])
    expect(hledger(`acct:${fees}`)).toBe(acts.together.billed)
  })

  it('shares a fee by fixed parts where the matter has them', async () => {
    const m = await office.matter(who.noor, 'Overseen Parts Ltd', { openedOn: '2024-01-02', billing: 'flat', flatFee: [{ label: 'All of it', amount: 1_000_01 }] }) // prettier-ignore
    await time(who.noor, m.id, '2024-03-01', '1', 400_00)
    const put = (shares: object[]) => who.noor.put(`/matters/${m.id}/fee-shares`, { shares })
    expect((await put([{ userId: ids.tomas, basisPoints: 9000 }])).body.fields[0]?.message).toMatch(/100 % together/)
    expect((await put([{ userId: ids.tomas, basisPoints: 5000 }, { userId: ids.tomas, basisPoints: 5000 }])).body.fields[0]?.message).toMatch(/once/) // prettier-ignore
    expect((await who.billie.put(`/matters/${m.id}/fee-shares`, { shares: [] })).status).toBe(403)
    expect((await put([{ userId: ids.tomas, basisPoints: 7500 }, { userId: ids.jun, basisPoints: 2500 }])).status).toBe(200) // prettier-ignore
    const b = await billUp(m.id, '2024-03-01', '2024-03-05')
    await who.orla.must('POST', `/bills/${b.id}/payments`, { day: '2024-03-10', amount: 500_00, kind: 'check' })
    const of1 = (key: number) => rows<{ n: number }>(office.db.manager, `SELECT -SUM(l.amount) AS n FROM journal_line l JOIN account a ON a.id = l.account_id AND a.role = 'fees' WHERE l.matter_id = ? AND l.timekeeper_id = ?`, [m.id, key]) // prettier-ignore
    expect([(await of1(ids.tomas))[0]!.n, (await of1(ids.jun))[0]!.n]).toEqual([750_01, 250_00])
    const paid = await lines(`from=2024-03-10&to=2024-03-10&as=act&by=person&key=${ids.jun}&step=collected`)
    expect(paid.total).toBe(125_00)
  })

  it('adds up to what it opens to, every figure of every grouping', async () => {
    for (const as of ['work', 'act'])
      for (const by of ['person', 'matter', 'client', 'area', 'originating', 'month']) {
        const f = await flow(`${span}&as=${as}&by=${by}`)
        const sums = noFlow()
        for (const g of f.groups)
          for (const step of flowSteps) {
            sums[step] += g.flow[step]
            const q = `${span}&as=${as}&by=${by}&key=${g.key}&step=${step}`
            const opened = await lines(q)
            expect([q, opened.total, opened.rows.reduce((n, r) => n + r.amount, 0)]).toEqual([q, g.flow[step], g.flow[step]])
          }
        expect([as, by, sums]).toEqual([as, by, f.together])
      }
    for (const step of flowSteps) expect([step, (await lines(`${span}&as=work&by=person&all=yes&step=${step}`)).total]).toEqual([step, (await flow(`${span}&as=work`)).together[step]]) // prettier-ignore
  })

  it('leaves nothing unexplained of all that the firm ever did, whoever asks and however it is cut', async () => {
    for (const p of [who.noor, who.orla]) {
      let together: Flow | null = null
      for (const by of ['person', 'matter', 'client', 'area', 'originating', 'month']) {
        const f = await p.must<FlowOut>('GET', `/oversight/flow?from=2023-01-01&to=2026-12-31&by=${by}`)
        together ??= f.together
        expect([by, f.together]).toEqual([by, together])
        for (const g of [...f.groups, { name: 'all', flow: f.together }]) expect([by, g.name, unexplained(g.flow)]).toEqual([by, g.name, { billed: 0, collected: 0 }]) // prettier-ignore
      }
    }
  })

  it('adds up a long span in the background, to the same cents, for whoever asked', async () => {
    const long = 'from=2012-01-01&to=2026-11-23'
    const refusal = async (path: string) => (await who.noor.get(`/oversight/${path}`)).status
    for (const path of [`flow?${long}`, `reports/profit?${long}`, `file?what=flow&format=csv&${long}`]) expect([path, await refusal(path)]).toEqual([path, 409]) // prettier-ignore
    const ask = async (asked: object) => {
      const { jobId } = await who.noor.must<{ jobId: number }>('POST', '/oversight/figures', asked)
      // The work is done beside the requests.
      while ((await who.noor.must<{ state: string }>('GET', `/jobs/${jobId}`)).state !== 'done') await new Promise((r) => setTimeout(r, 20))
      return jobId
    }
    type Added = { flow: FlowOut | null; table: { totals: unknown[] } | null }
    for (const as of ['work', 'act'])
      for (const by of ['person', 'originating', 'month']) {
        const asked = { what: 'flow', from: '2023-11-20', to: '2026-11-23', as, by }
        const inPieces = await who.noor.must<Added>('GET', `/oversight/figures/${await ask(asked)}`)
        expect([as, by, inPieces.flow]).toEqual([as, by, await flow(`from=2023-11-20&to=2026-11-23&as=${as}&by=${by}`)])
      }
    // What was asked for before and not begun is given up, and of what is another's nothing is told.
    const { insertId: waits } = (await office.db.query(`INSERT INTO job (kind, payload, run_after, user_id, created_at) VALUES ('add up figures', '{}', '2100-01-01', ?, NOW())`, [ids.noor])) as { insertId: number } // prettier-ignore
    const profit = await ask({ what: 'profit', from: '2012-01-01', to: '2026-11-23' })
    expect((await row<{ state: string }>(office.db.manager, `SELECT state FROM job WHERE id = ?`, [waits]))!.state).toBe('done')
    const status = async (p: Person, id: number) => (await p.get(`/oversight/figures/${id}`)).status
    expect([await status(who.noor, waits), await status(who.noor, profit), await status(who.orla, profit)]).toEqual([404, 200, 404])
    const table = (await who.noor.must<Added>('GET', `/oversight/figures/${profit}`)).table!
    const csv = (await who.noor.get(`/oversight/file?what=profit&format=csv&${long}&added=${profit}`)).bytes.toString()
    expect([table.totals[0], csv.includes('Together')]).toEqual(['Together', true])
    expect((await who.noor.get(`/oversight/file?what=funding&format=csv&${long}&added=${profit}`)).status).toBe(400)
    const whole = (await who.noor.must<Added>('GET', `/oversight/figures/${await ask({ what: 'flow', from: '2012-01-01', to: '2026-11-23', as: 'work', by: 'person' })}`)).flow! // prettier-ignore
    const behind = await lines(`${long}&as=work&by=person&all=yes&step=collected`)
    expect([behind.total, behind.more, behind.rows.reduce((n, r) => n + r.amount, 0)]).toEqual([null, false, whole.together.collected])
    expect((await who.noor.call('POST', '/oversight/figures', { what: 'flow', from: '1990-01-01', to: '2026-11-23' })).status).toBe(400)
  })

  it('shows nothing of a matter to one who is screened from it, in no sum', async () => {
    const before = await who.tomas.must<FlowOut>('GET', `/oversight/flow?${span}&as=work&by=person`)
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [fixed.id, ids.tomas])
    const after = await who.tomas.must<FlowOut>('GET', `/oversight/flow?${span}&as=work&by=matter`)
    expect([before.together.worked - after.together.worked, after.groups.some((g) => g.key === String(fixed.id)), after.groups.some((g) => g.key === String(hourly.id))]).toEqual([3_000_00, false, true]) // prettier-ignore
    for (const path of [
      'weeks',
      'decisions',
      'board?by=lead',
      'reports/profit?from=2024-01-01&to=2024-03-31',
      'reports/unbilled',
      'ask?q=owed+overseen',
      `flow/lines?${span}&by=matter&key=${fixed.id}&step=worked`,
      'file?what=profit&format=csv&from=2024-01-01&to=2024-03-31',
    ]) {
      // prettier-ignore
      const told = await who.tomas.get(`/oversight/${path}`)
      expect([path, told.status, told.bytes.toString().includes('Overseen Fee')]).toEqual([path, 200, false])
    }
    await office.db.query(`DELETE FROM matter_screen WHERE matter_id = ?`, [fixed.id])
  })
})

describe('weeks of timekeepers', () => {
  interface Weeks {
    weeks: { from: string; to: string }[]
    look: { day: string } | null
    rows: { id: number; weeks: Cell[]; month: Cell; stopped: object | null; left: string | null }[]
    totals: { weeks: Cell[]; month: Cell }
  }
  interface Cell {
    minutes: number
    worth: number
    counted: number
    goal: number | null
    share: number | null
    late: { minutes: number; worth: number; wasWorth: number; wasMinutes: number } | null
  }
  const weeks = (q = '') => who.orla.must<Weeks>('GET', `/oversight/weeks${q}`)
  const jun = async (q = '') => (await weeks(q)).rows.find((r) => r.id === ids.jun)!

  it('count value against goals, mark what comes late, and say what it was', async () => {
    const m = await office.matter(who.noor, 'Overseen Weeks Ltd')
    const goal = { userId: ids.jun, from: '2026-11-01', basis: 'billable', weekly: 1_000_00, monthly: null, costRate: 80_00 }
    expect((await who.billie.put('/oversight/goals', goal)).status).toBe(403)
    expect((await who.noor.put('/oversight/goals', { ...goal, weekly: null, costRate: null })).body.fields[0]?.path).toBe('weekly')
    await who.noor.must('PUT', '/oversight/goals', goal)
    const was = await jun()
    await time(who.jun, m.id, '2026-11-17', '2', 300_00)
    const seen = await jun()
    expect([seen.weeks[1]!.worth - was.weeks[1]!.worth, seen.weeks[1]!.minutes - was.weeks[1]!.minutes]).toEqual([600_00, 120])
    expect([seen.weeks[1]!.goal, seen.weeks[1]!.share]).toEqual([1_000_00, Math.round(seen.weeks[1]!.worth / 10)])
    await who.orla.must('POST', '/oversight/looks', {})
    expect([(await weeks()).look?.day, (await jun()).weeks[1]!.late]).toEqual([today, null])
    // Late: an hour more, half an hour of what was there taken back, and a word changed, which moves nothing.
    const late = await time(who.jun, m.id, '2026-11-18', '1', 300_00)
    const { id: draft } = await who.jun.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-11-16', duration: '0.5', rate: 300_00, text: 'a draft' }) // prettier-ignore
    expect((await jun()).weeks[1]!.late).toEqual({ minutes: 90, worth: 450_00, wasWorth: seen.weeks[1]!.worth, wasMinutes: seen.weeks[1]!.minutes }) // prettier-ignore
    await who.jun.call('DELETE', `/time/${draft}`)
    await who.jun.must('PUT', `/time/${late}/correction`, { matterId: m.id, day: '2026-11-18', duration: '1', rate: 300_00, activity: null, charge: 'no charge', text: 'reworded', reason: 'a favour' }) // prettier-ignore
    expect((await jun()).weeks[1]!.late).toEqual({ minutes: 60, worth: 0, wasWorth: seen.weeks[1]!.worth, wasMinutes: seen.weeks[1]!.minutes }) // prettier-ignore
    // This week is not over, so nothing of it is late; and another's look is their own.
    await time(who.jun, m.id, today, '1', 300_00)
    expect((await jun()).weeks[0]!.late).toBeNull()
    expect(
      (await (await office.signIn('ingrid')).must<Weeks>('GET', '/oversight/weeks')).rows.every((r) =>
        r.weeks.every((c) => c.late === null),
      ),
    ).toBe(true)
  })

  it('are the sums of the entries behind them, of everyone, those who left too', async () => {
    const w = await weeks('?weeks=8')
    for (const r of w.rows)
      for (const [n, c] of r.weeks.entries()) {
        const own = await who.orla.must<{ minutes: number; worth: number }>('GET', `/time/sums?from=${w.weeks[n]!.from}&to=${w.weeks[n]!.to}&userId=${r.id}&by=person`) // prettier-ignore
        // The list of time has practice matters too, which are no figures.
        const practice = (await rows<{ minutes: number; worth: number }>(office.db.manager, `SELECT COALESCE(SUM(t.minutes), 0) AS minutes, COALESCE(SUM(IF(t.charge = 'billable', t.amount, 0)), 0) AS worth FROM time_entry t JOIN matter m ON m.id = t.matter_id AND m.kind = 'practice' WHERE t.user_id = ? AND t.day BETWEEN ? AND ? AND t.state <> 'reversed'`, [r.id, w.weeks[n]!.from, w.weeks[n]!.to]))[0]! // prettier-ignore
        expect([r.id, n, c.minutes, c.worth]).toEqual([r.id, n, own.minutes - practice.minutes, own.worth - practice.worth])
      }
    expect(w.totals.weeks.map((c) => c.minutes)).toEqual(w.weeks.map((_, n) => w.rows.reduce((s, r) => s + r.weeks[n]!.minutes, 0)))
    await who.noor.must('PUT', '/oversight/week-end', { weekEnds: 7 })
    expect((await weeks()).weeks[0]).toMatchObject({ from: '2026-11-23', to: '2026-11-29' })
    await who.noor.must('PUT', '/oversight/week-end', { weekEnds: 5 })
    expect((await who.orla.get('/oversight/weeks?asOf=2026-11-24')).body.fields[0]?.path).toBe('asOf')
  })

  it('go out on their day, once to each, with the figures that are open to them', async () => {
    const s = { name: 'Monday weeks', what: 'weeks', asked: { weeks: 3 }, every: 'week', onDay: 1, format: 'xlsx', to: [ids.noor, await office.user('Orla')] } // prettier-ignore
    expect((await who.noor.post('/oversight/schedules', { ...s, to: [await office.user('Billie')] })).body.fields[0]?.message).toMatch(/does not see bills/) // prettier-ignore
    expect((await who.noor.post('/oversight/schedules', { ...s, onDay: 9 })).body.fields[0]?.path).toBe('onDay')
    const { id } = await who.noor.must<{ id: number }>('POST', '/oversight/schedules', s)
    const sent = () => rows<{ to: string; files: number }>(office.db.manager, `SELECT m.to_name AS \`to\`, (SELECT COUNT(*) FROM mail_file f WHERE f.message_key = m.message_key) AS files FROM mail m WHERE m.subject LIKE 'Monday weeks,%' ORDER BY m.to_name`) // prettier-ignore
    // The letters are written beside the requests.
    const came = async (n: number) => {
      while ((await sent()).length < n) await new Promise((r) => setTimeout(r, 50))
    }
    const { sendDue } = await import('../src/oversight/schedules')
    const warned: object[] = []
    // The first goes out on the next such day, and today is a Monday on which it was set up.
    await sendDue(office.running.base, (what) => warned.push(what))
    expect(await sent()).toEqual([])
    await office.db.query(`UPDATE oversight_schedule SET sent_on = '2026-11-16' WHERE id = ?`, [id])
    await Promise.all([1, 2, 3].map(() => sendDue(office.running.base, (what) => warned.push(what))))
    await came(2)
    expect([(await sent()).map((x) => [x.to.split(' ')[0], x.files]), warned]).toEqual([[['Noor', 1], ['Orla', 1]], []]) // prettier-ignore
    expect((await who.orla.call('DELETE', `/oversight/schedules/${id}`)).status).toBe(404)
    await who.noor.must('POST', `/oversight/schedules/${id}/sent`, {})
    await came(4)
    // Its maker leaves: it is the other reader's now, and goes on.
    await office.db.query(`UPDATE oversight_schedule SET sent_on = '2026-11-16' WHERE id = ?`, [id])
    await office.db.query(`UPDATE user_account SET active = 0 WHERE id = ?`, [ids.noor])
    await sendDue(office.running.base, (what) => warned.push(what))
    await office.db.query(`UPDATE user_account SET active = 1 WHERE id = ?`, [ids.noor])
    expect((await who.noor.call('DELETE', `/oversight/schedules/${id}`)).status).toBe(404)
    expect((await who.orla.call('DELETE', `/oversight/schedules/${id}`)).status).toBe(200)
    expect(await rows(office.db.manager, `SELECT to_name AS \`to\` FROM mail WHERE subject LIKE '%Monday weeks” is yours now'`)).toEqual([{ to: 'Orla Petrakis' }]) // prettier-ignore
  })

  it('become a note to the person: a task of theirs alone, and a letter', async () => {
    const { id } = await who.noor.must<{ id: number }>('POST', '/oversight/notes', { userId: ids.jun, text: 'Please bring your time up to date' }) // prettier-ignore
    expect((await who.jun.get(`/tasks/${id}`)).body).toMatchObject({ text: 'Please bring your time up to date', dueOn: today })
    expect((await who.tomas.get(`/tasks/${id}`)).status).toBe(404)
  })
})

describe('reports, boards, decisions and questions', () => {
  const keys = ['unbilled', 'trust', 'retainers', 'matters', 'idle', 'budget', 'profit', 'trial', 'funding', 'originating', 'delays']
  it('add up, and are the same as files', async () => {
    interface Table {
      columns: { key: string; kind: string }[]
      rows: { cells: (string | number | null)[]; to: string | null }[]
      totals: (string | number | null)[]
      more: boolean
    }
    for (const key of keys) {
      const t = await who.orla.must<Table>('GET', `/oversight/reports/${key}`)
      for (const [i, c] of t.columns.entries())
        if (c.kind === 'money' && t.totals[i] !== null && !t.more) expect([key, c.key, t.rows.reduce((n, r) => n + Number(r.cells[i] ?? 0), 0)]).toEqual([key, c.key, t.totals[i]]) // prettier-ignore
      for (const format of ['csv', 'xlsx', 'pdf']) expect([key, format, (await who.orla.get(`/oversight/file?what=${key}&format=${format}`)).status]).toEqual([key, format, 200]) // prettier-ignore
      const csv = (await who.orla.get(`/oversight/file?what=${key}&format=csv&columns=${t.columns[0]!.key}`)).bytes.toString().trim().split('\n') // prettier-ignore
      expect([key, csv.length]).toEqual([key, t.rows.length + 1 + (t.rows.length ? 1 : 0)])
    }
    for (const what of ['weeks', 'flow']) expect((await who.orla.get(`/oversight/file?what=${what}&format=csv`)).status).toBe(200)
    // Whoever took them out is on record.
    const taken = await rows<{ text: string }>(office.db.manager, `SELECT text FROM audit_log WHERE kind = 'read' AND subject = 'oversight' ORDER BY id DESC LIMIT 2`) // prettier-ignore
    expect(taken.every((t) => /written to a file$/.test(t.text))).toBe(true)
    // What triggers keep of what is owed is what the bills leave open.
    const wrong = await rows(office.db.manager, `SELECT m.id FROM matter m LEFT JOIN matter_figure f ON f.matter_id = m.id WHERE COALESCE(f.owed, 0) <> ${owedOn('m.id')}`) // prettier-ignore
    expect(wrong).toEqual([])
    // Unbilled is that of the lists of matters.
    const unbilled = await who.orla.must<Table>('GET', '/oversight/reports/unbilled')
    const kept = await row<{ n: number }>(office.db.manager, `SELECT SUM(f.unbilled) AS n FROM matter_figure f JOIN matter m ON m.id = f.matter_id WHERE m.kind <> 'practice' AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = m.id AND s.user_id = ?)`, [await office.user('Orla')]) // prettier-ignore
    expect(unbilled.totals.at(-1)).toBe(kept!.n)
  })

  it('tell the profit of a matter by what its hours cost', async () => {
    await who.noor.must('PUT', '/oversight/goals', { userId: ids.noor, from: '2024-01-01', basis: 'billable', weekly: null, monthly: null, costRate: 150_00 }) // prettier-ignore
    await who.noor.must('PUT', '/oversight/goals', { userId: ids.noor, from: '2024-02-01', basis: 'billable', weekly: null, monthly: null, costRate: 160_00 }) // prettier-ignore
    const t = await who.noor.must<{ rows: { key: string; cells: (number | string | null)[] }[]; columns: { key: string }[] }>('GET', `/oversight/reports/profit?${span}`) // prettier-ignore
    const cells = t.rows.find((r) => r.key === String(hourly.id))!.cells
    const at = (key: string) => cells[t.columns.findIndex((c) => c.key === key)]
    // Two hours at 150.00 in January, one and a half at 160.00 in February; four hours of others without a cost.
    expect([at('minutes'), at('cost'), at('free'), at('fees'), at('profit')]).toEqual([450, 300_00 + 240_00, 240, 1_070_00, 530_00])
  })

  it('show open matters by stage in the order of the area, and move them', async () => {
    const area = await row<{ id: number }>(office.db.manager, `SELECT area_id AS id FROM stage GROUP BY area_id ORDER BY COUNT(*) DESC LIMIT 1`) // prettier-ignore
    const stages = await rows<{ id: number; name: string }>(office.db.manager, `SELECT id, name FROM stage WHERE area_id = ? ORDER BY ordinal`, [area!.id]) // prettier-ignore
    const m = await office.matter(who.noor, 'Boarded Ltd', { areaId: area!.id, stageId: stages[0]!.id })
    type Board = { columns: { key: string; name: string; count: number; cards: { id: number }[] }[] }
    const board = (q: string) => who.noor.must<Board>('GET', `/oversight/board?${q}`)
    const where = async () => (await board(`by=stage&areaId=${area!.id}`)).columns.find((c) => c.cards.some((x) => x.id === m.id))?.name
    expect([(await board(`by=stage&areaId=${area!.id}`)).columns.filter((c) => c.key).map((c) => c.name), await where()]).toEqual([stages.map((s) => s.name), stages[0]!.name]) // prettier-ignore
    await who.noor.must('PUT', `/matters/${m.id}/stage`, { stageId: stages[1]!.id })
    expect(await where()).toBe(stages[1]!.name)
    const place = (p: Person, b: object) => p.call<{ code: string; before: object | null }>('PUT', `/matters/${m.id}/place`, b)
    const column = async (by: string) => (await board(`by=${by}`)).columns.find((c) => c.cards.some((x) => x.id === m.id))?.name
    // What stood elsewhere when it was moved is not moved; nor to what the firm does not have.
    expect((await place(who.noor, { by: 'stage', from: String(stages[0]!.id), to: String(stages[1]!.id) })).body.code).toBe('changed-meanwhile') // prettier-ignore
    for (const to of ['999999', '1 OR 1']) expect((await place(who.noor, { by: 'area', from: String(area!.id), to })).status).toBe(400)
    expect((await place(who.noor, { by: 'court', from: '', to: 'Court of Boards' })).status).toBe(200)
    await office.matter(who.noor, 'Boarded Too Ltd', { court: 'COURT of boards' })
    expect(await column('court')).toMatch(/^court of boards$/i)
    const other = await row<{ id: number; name: string; first: number }>(office.db.manager, `SELECT p.id, p.name, s.id AS first FROM practice_area p JOIN stage s ON s.area_id = p.id WHERE p.id <> ? AND NOT s.retired ORDER BY p.id, s.ordinal LIMIT 1`, [area!.id]) // prettier-ignore
    expect((await place(who.noor, { by: 'area', from: String(area!.id), to: String(other!.id) })).status).toBe(200)
    const stageOf = async () => (await row<{ s: number }>(office.db.manager, `SELECT stage_id AS s FROM matter WHERE id = ?`, [m.id]))!.s
    expect([await column('area'), await stageOf()]).toEqual([other!.name, other!.first])
    // Taken back, it stands where it stood, not at the first stage; a stage of another area is refused.
    const back = { by: 'area', from: String(other!.id), to: String(area!.id) }
    expect((await place(who.noor, { ...back, stageId: other!.first })).status).toBe(400)
    expect((await place(who.noor, { ...back, stageId: stages[1]!.id })).status).toBe(200)
    expect(await stageOf()).toBe(stages[1]!.id)
    // A new lead comes to the team, and leaves it when it is taken back; who does not keep the matter hands over nothing.
    const team = async () => (await rows<{ id: number; role: string }>(office.db.manager, `SELECT user_id AS id, role FROM matter_team WHERE matter_id = ? ORDER BY user_id`, [m.id])).map((t) => [t.id, t.role]) // prettier-ignore
    const [from, to, first] = [String(ids.noor), String(ids.tomas), await team()]
    expect((await place(who.jun, { by: 'lead', from, to })).status).toBe(403)
    expect((await place(who.noor, { by: 'lead', from, to })).body.before).toBe(null)
    expect(await team()).toEqual([[ids.noor, 'lawyer'], [ids.tomas, 'lead']].sort((a, b) => Number(a[0]) - Number(b[0]))) // prettier-ignore
    expect((await place(who.noor, { by: 'lead', from, to })).body.code).toBe('changed-meanwhile')
    expect([(await place(who.noor, { by: 'lead', from: to, to: from, backTo: null })).status, await team()]).toEqual([200, first])
    // Who was on the team has what they had before, and no more.
    const own = { role: 'assistant', keeps: false, grants: { file: 1, docket: 1, papers: 0, money: 0, trust: 0 } }
    await who.noor.must('PUT', `/matters/${m.id}/team`, { ...own, userId: ids.tomas, rate: 200_00 })
    const held = () => rows(office.db.manager, `SELECT * FROM matter_team WHERE matter_id = ? ORDER BY user_id`, [m.id])
    const [kept, { body }] = [await held(), await place(who.noor, { by: 'lead', from, to })]
    expect([body.before, (await place(who.noor, { by: 'lead', from: to, to: from, backTo: body.before })).status]).toEqual([own, 200])
    expect(await held()).toEqual(kept)
    for (const by of ['court', 'area', 'lead']) {
      const all = await board(`by=${by}`)
      const open = await row<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM matter m WHERE m.closed_on IS NULL AND m.kind = 'client' AND (m.staff_file >= 1 OR EXISTS (SELECT 1 FROM matter_team t WHERE t.matter_id = m.id AND t.user_id = ? AND t.at_file >= 1)) AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = m.id AND s.user_id = ?)`, [ids.noor, ids.noor]) // prettier-ignore
      expect([by, all.columns.reduce((n, c) => n + c.count, 0), all.columns.filter((c) => c.cards.length !== Math.min(40, c.count))]).toEqual([by, open!.n, []]) // prettier-ignore
    }
  })

  it('answer questions by words with the figure and its page', async () => {
    const ask = async (p: Person, q: string) => (await p.must<{ title: string; to: string }[]>('GET', `/oversight/ask?q=${encodeURIComponent(q)}`)).map((a) => a.title) // prettier-ignore
    expect(await ask(who.noor, 'worked jun jan 2024')).toEqual([`$300.00 worked, ${(await row<{ name: string }>(office.db.manager, `SELECT name FROM user_account WHERE id = ?`, [ids.jun]))!.name}`]) // prettier-ignore
    expect(await ask(who.noor, 'hours noor jan 2024')).toEqual([expect.stringMatching(/^7\.0 h, Noor/)])
    expect(await ask(who.noor, 'owed overseen hours')).toEqual(['$570.00 owed by Overseen Hours Ltd'])
    expect(await ask(who.noor, 'unbilled overseen hours')).toEqual(['$600.00 unbilled for Overseen Hours Ltd'])
    expect((await ask(who.noor, 'unbilled above 500'))[0]).toMatch(/with unbilled above \$500\.00$/)
    expect([await ask(who.billie, 'owed overseen hours'), await ask(who.noor, 'what about overseen')]).toEqual([[], []])
  })
})

describe('figures of the firm', () => {
  it('are refused to those who see no bills', async () => {
    for (const path of ['weeks', 'flow?from=2024-01-01&to=2024-02-01', 'reports/profit', 'schedules']) expect((await who.billie.get(`/oversight/${path}`)).status).toBe(403) // prettier-ignore
    for (const [q, path] of [
      ['from=2024-02-01&to=2024-01-01', 'to'],
      ['from=1990-01-01&to=2024-01-01', 'from'],
      ['from=2021-01-01&to=2024-01-01&beside=billed', 'from'],
    ])
      // prettier-ignore
      expect((await who.noor.get(`/oversight/flow?${q}`)).body.fields[0]?.path).toBe(path)
  })
})
