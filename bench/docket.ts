/**
 * How fast the docket answers with 100,000 open entries on it. Not a test: run it by hand with
 *   node --import tsx bench/docket.ts
 * It counts a hundred dependents of a trial again in core and saves them, opens the agenda over HTTP, and works out what an
 * added day of closure would move across the firm.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { addDays, type Day } from '@heron/core/calendar'
import { calendarFor, differencesOf, proposalsFor, shippedHolidaySets, shippedRuleSets, type Docket, type Entry } from '@heron/core/docket'
import { demoPassword } from '@heron/server/firm'
import { insertMany } from '@heron/server/platform'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const federal = shippedRuleSets.find((s) => s.key === 'us-federal-civil')!
const rules = { ruleSet: federal, calendar: calendarFor(federal, shippedHolidaySets, 'wexmoor') }

/** A rule set in which a hundred deadlines hang on the trial, every other one on the one before it. */
function hundred() {
  const model = federal.deadlines.find((d) => d.key === 'pretrial-disclosures')!
  const deadlines = Array.from({ length: 100 }, (_, i) => ({
    ...model,
    key: `d${i}`,
    legs: [
      i % 2
        ? {
            ...model.legs[0]!,
            base: { kind: 'deadline' as const, key: `d${i - 1}`, moment: 'final' as const },
            direction: 'after' as const,
            count: 5,
          }
        : { ...model.legs[0]!, count: 10 + i },
    ],
  }))
  const own = { ruleSet: { ...federal, deadlines }, calendar: rules.calendar }
  const trigger = { id: 1, kind: 'trial-set', label: '', day: '2027-03-30' as const, service: null, tentative: false, answersId: null }
  const bare: Docket = { triggers: [trigger], entries: [], facts: [] }
  const entries = proposalsFor(bare, trigger, own).map((p, i): Entry => ({
    id: i + 1,
    triggerId: 1,
    key: p.key,
    day: p.date!,
    beforeRoll: p.beforeRoll,
    setBy: 'rule',
    chainFollows: false,
    metOn: null,
    ruleDay: null,
    mark: 'open',
    leftOut: false,
    provisional: false,
    tentative: false,
    howCounted: p.howCounted,
    trace: p.trace,
  }))
  return { docket: { ...bare, entries }, own }
}
const { docket, own } = hundred()
const change = (day: Day) => ({ kind: 'change' as const, triggerId: 1, day, tentative: false, service: null, label: '' })
const times: number[] = []
for (let i = 0; i < 600; i += 1) {
  const began = performance.now()
  const moved = differencesOf(docket, change(addDays('2027-04-20', i % 7)), own)
  if (moved.length !== docket.entries.length || moved.length < 100) throw new Error('a dependent is missing')
  times.push(performance.now() - began)
}
const of = (list: number[]) => {
  list.sort((a, b) => a - b)
  return `median ${list[Math.floor(list.length / 2)]!.toFixed(1)} ms, p95 ${list[Math.floor(list.length * 0.95)]!.toFixed(1)} ms`
}
const cold = times.splice(0, 100)[0]!
say(`100 dependents counted again in core, before and after: ${of(times)}; the very first ${cold.toFixed(1)} ms`)

const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today: '2026-11-23' }, say)
const running = await serve(db, { dir, today: '2026-11-23' }, { HERON_PORT: '0', HERON_LOG: 'silent' })
const base = `http://127.0.0.1:${running.port}/api`
const m = running.base.db.manager
const now = '2026-11-01 00:00:00'
const matters = 2_500
const [last] = (await m.query(
  `SELECT MAX(id) AS id, (SELECT MIN(id) FROM contact) AS contact, (SELECT MIN(lead_id) FROM matter) AS lead FROM matter`,
)) as {
  id: number
  contact: number
  lead: number
}[]
const first = 100_000
await insertMany(
  m,
  'matter',
  ['id', 'number', 'name', 'short_name', 'client_id', 'opened_on', 'lead_id', 'active_on', 'rule_set_key'],
  Array.from({ length: matters }, (_, i) => [
    first + i,
    `B-${i}`,
    `Bench matter ${i}`,
    `Bench ${i}`,
    last!.contact,
    '2026-01-01',
    last!.lead,
    '2026-11-01',
    federal.key,
  ]),
)
await insertMany(
  m,
  'matter_team',
  ['matter_id', 'user_id', 'role', 'since'],
  Array.from({ length: matters }, (_, i) => [first + i, last!.lead, 'lead', '2026-01-01']),
)
// Two judgments and two trials on each matter: forty dates.
const kinds = ['judgment-entered', 'trial-set', 'judgment-entered', 'trial-set', 'planning-conference-held', 'hearing-set'] as const
let triggerId = first
const triggers: (string | number | null)[][] = []
const entries: (string | number | null)[][] = []
for (let i = 0; i < matters; i += 1)
  for (const [k, kind] of kinds.entries()) {
    const day = addDays('2026-10-01', (i * 7 + k * 31) % 320)
    triggerId += 1
    triggers.push([triggerId, first + i, federal.key, federal.edition, kind, kind, day, last!.lead, now])
    const t = { id: triggerId, kind, label: '', day, service: null, tentative: false, answersId: null }
    for (const p of proposalsFor({ triggers: [t], entries: [], facts: [] }, t, rules))
      if (p.date)
        entries.push([
          first + i,
          triggerId,
          p.key,
          p.title,
          p.text,
          p.authority,
          p.weight,
          p.date,
          p.beforeRoll,
          p.howCounted,
          JSON.stringify(p.trace),
          last!.lead,
          now,
        ])
  }
await insertMany(
  m,
  'trigger_event',
  ['id', 'matter_id', 'rule_set_key', 'rule_set_edition', 'kind', 'label', 'day', 'created_by', 'created_at'],
  triggers,
)
await insertMany(
  m,
  'docket_entry',
  'matter_id trigger_id deadline_key title text authority weight day before_roll how_counted trace responsible_id created_at'.split(' '),
  entries,
)
say(`${entries.length.toLocaleString('en-US')} entries on ${matters.toLocaleString('en-US')} matters`)
await running.base.db.query('ANALYZE TABLE matter, docket_entry, trigger_event, matter_team')

async function signIn(name: string) {
  const answer = await fetch(`${base}/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: `${name}@callowayfenn.example`, password: demoPassword }),
  })
  return { cookie: answer.headers.get('set-cookie')!.split(';')[0]!, csrf: ((await answer.json()) as { csrf: string }).csrf }
}
const jun = await signIn('jun')
for (const path of [
  '/docket?from=2026-11-23&courtDays=10&scope=firm',
  '/docket?from=2026-11-23&courtDays=20&scope=mine',
  '/docket?from=2026-11-23&courtDays=20&scope=firm&q=appeal',
]) {
  const took: number[] = []
  for (let i = 0; i < 50; i += 1) {
    const began = performance.now()
    await (await fetch(`${base}${path}`, { headers: { cookie: jun.cookie } })).arrayBuffer()
    if (i >= 10) took.push(performance.now() - began)
  }
  say(`${path.padEnd(66)} ${of(took)}`)
}
const post = (path: string, body: object) =>
  fetch(`${base}${path}`, {
    method: 'POST',
    headers: { cookie: jun.cookie, 'x-heron-csrf': jun.csrf, 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID() },
    body: JSON.stringify(body),
  })
const began = performance.now()
const effect = (await (await post('/court-closures/preview', { day: '2026-12-14', name: 'Storm' })).json()) as { moves: number }
say(`what a closure on 14 December would move: ${effect.moves} dates, in ${((performance.now() - began) / 1000).toFixed(1)} s`)

// A hundred entries of one trigger, moved and saved over HTTP.
const busiest = triggers.find((t) => t[4] === 'judgment-entered')!
const copies = entries.filter((e) => e[1] === busiest[0])
await insertMany(
  m,
  'docket_entry',
  'matter_id trigger_id deadline_key title text authority weight day before_roll how_counted trace responsible_id created_at'.split(' '),
  Array.from({ length: Math.ceil(100 / copies.length) }, () => copies)
    .flat()
    .slice(0, 100),
)
const act = {
  kind: 'change',
  triggerId: busiest[0],
  day: addDays(String(busiest[6]) as Day, 21),
  tentative: false,
  service: null,
  label: '',
}
const shown = (await (await post(`/matters/${busiest[1]}/docket/acts/preview`, { act })).json()) as {
  differences: { entryId: number; effect: string; becomes: string }[]
}
const seen = shown.differences
  .filter((d) => d.effect !== 'recounted')
  .map(({ entryId, effect: e, becomes }) => ({ entryId, effect: e, becomes }))
const saving = performance.now()
const saved = await post(`/matters/${busiest[1]}/docket/acts`, { act, seen, take: seen.map((d) => d.entryId) })
say(`${seen.length} dates moved and saved in ${(performance.now() - saving).toFixed(0)} ms (${saved.status})`)
await running.stop()
await db.stop()
rmSync(dir, { recursive: true, force: true })
