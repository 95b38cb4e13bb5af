/**
 * How fast and how surely a conflict check finds a name among a million. Not a test: run it by hand with
 *   node --import tsx bench/conflicts.ts [names]
 * It makes a database of its own, puts that many made-up names on record, and then (1) asks for 500 of them, each
 * disturbed as names are in life, and says how many of the true ones are among the first 20 hits, and (2) times
 * one-term checks over HTTP.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { normalizeName, shortForms } from '@heron/core/people'
import { firmPlan } from '@heron/demo/firm'
import { demoPassword, setUpFirm } from '@heron/server/firm'
import { insertMany } from '@heron/server/platform'
import { namesLike, recordNames } from '@heron/server/people'
import { provision, serve } from '../tools/provision'

const wanted = Number(process.argv[2] ?? 1_000_000)
const say = (text: string) => process.stdout.write(`${text}\n`)

let seed = 20261123
const dice = () => {
  seed = (seed + 0x6d2b79f5) | 0
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed)
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296
}
const pick = <T>(list: readonly T[]) => list[Math.floor(dice() * list.length)]!
/** Few are common, most are rare, as with names in life. */
const skewed = <T>(list: readonly T[]) => list[Math.floor(dice() ** 3 * list.length)]!

const heads =
  'Al An Ar Bar Bel Ber Bran Cal Car Cas Cor Dal Dan Del Dor Ed El Fal Far Fin Gar Gil Gran Hal Har Hen Hol Ing Jan Kar Kel Kin Lan Lar Lin Mac Mal Mar Mer Mor Nor Ol Os Pel Per Pol Quin Ran Ras Ric Ros Sal San Sel Shel Sten Tal Tan Ter Thor Tor Van Ver Vin Wal War Wes Win Yar Zan Sch Ph Kn Wr Mc Fitz'.split(
    ' ',
  )
const middles =
  'a e i o u ba be da de do ga ge ka ke la le li lo ma me mi mo na ne ni no ra re ri ro sa se si ta te ti to va ve vi za ze zi cha sha tha ng ll ss ck ph'.split(
    ' ',
  )
const tails =
  'n l r s t ck dt rd rn ll ss nd ng m man son sen ton ley ler ner ger ker vich ski sky burg berg field ford wood well worth wick by ley ström müller ñez ić é dottir stein bach meyer hart land more more ham hoff'.split(
    ' ',
  )
const surnames = [
  ...new Set(Array.from({ length: 70_000 }, () => pick(heads) + pick(middles) + (dice() < 0.45 ? pick(middles) : '') + pick(tails))),
]
const usual =
  'William Robert James John Margaret Elizabeth Katherine Michael Thomas Patricia Charles Joseph Edward Richard Susan Barbara Daniel Matthew Anthony Deborah Stephen Samuel Benjamin Alexander Christopher Christina Frederick Gregory Nicholas Theodore Victoria Timothy Lawrence Dorothy Eleanor Jennifer Rebecca Raymond Ronald Kenneth Gerald Leonard Vincent Walter Philip Peter David Donald Andrew Abigail Amanda Jessica Jacqueline Madeleine Penelope Veronica Zachary Joshua Jonathan Nathaniel Francis Frances Pamela Cynthia Caroline'.split(
    ' ',
  )
const given = [
  ...usual,
  ...new Set(
    Array.from(
      { length: 3000 },
      () => pick(heads) + pick(middles) + pick(['a', 'o', 'us', 'ie', 'ette', 'an', 'el', 'is', 'ine', 'ør', 'ée']),
    ),
  ),
]
const trades =
  'Marine Towing Shipping Fisheries Foods Brewing Bakery Builders Roofing Electric Plumbing Motors Freight Logistics Insurance Capital Holdings Partners Consulting Design Media Software Systems Energy Timber Farms Dairy Orchards Properties Realty Medical Dental Pharmacy Optics Textiles Printing Press Books Travel Hotels Cafe Market Supply Tools Steel Stone Glass Ceramics'.split(
    ' ',
  )
const forms = ['Inc.', 'LLC', 'Ltd', 'Corp.', 'Co.', 'GmbH', 'S.A.', 'LLP', 'Company', 'Incorporated', '']

const person = () => `${skewed(given)}${dice() < 0.25 ? ` ${String.fromCharCode(65 + Math.floor(dice() * 26))}.` : ''} ${skewed(surnames)}`
const organization = () =>
  `${dice() < 0.1 ? 'The ' : ''}${skewed(surnames)} ${dice() < 0.2 ? `& ${skewed(surnames)} ` : ''}${pick(trades)}${dice() < 0.4 ? ` ${pick(trades)}` : ''} ${pick(forms)}`.trim()

const cut = (w: string) => {
  const at = 1 + Math.floor(dice() * (w.length - 1))
  return w.slice(0, at) + w.slice(at + 1)
}
const longest = (words: string[]) => words.reduce((a, b) => (b.length > a.length ? b : a))
const heard: [RegExp, string][] = [
  [/ph/i, 'f'],
  [/ck/i, 'k'],
  [/sch/i, 'sh'],
  [/(.)\1/i, '$1'],
  [/ie/i, 'y'],
  [/^C(?=[aou])/, 'K'],
  [/^c(?=[aou])/, 'k'],
  [/wr/i, 'r'],
  [/kn/i, 'n'],
  [/dt\b/i, 't'],
  [/z/i, 's'],
  [/y/i, 'i'],
  [/v/i, 'f'],
  [/ei/i, 'ai'],
  [/er\b/i, 'ar'],
  [/e(?=.)/i, 'i'],
]
const disturbances: Record<string, (name: string) => string | null> = {
  'dropped letter': (name) => name.replace(longest(name.split(' ')), cut),
  'two dropped letters': (name) =>
    longest(name.split(' ')).length >= 8 ? name.replace(longest(name.split(' ')), (w) => cut(cut(w))) : null,
  'swapped words': (name) => (name.split(' ').length > 1 ? [...name.split(' ').slice(1), name.split(' ')[0]].join(' ') : null),
  'phonetic spelling': (name) => {
    const words = name.split(' ')
    const w = longest(words)
    const rule = heard.find(([from]) => from.test(w) && dice() < 0.7)
    return rule ? name.replace(w, w.replace(rule[0], rule[1])) : null
  },
  'missing accents': (name) => (/[^\x20-\x7e]/.test(name) ? name.normalize('NFD').replace(/\p{M}/gu, '').replace('ø', 'o') : null),
  nickname: (name) => {
    const [first = '', ...rest] = name.split(' ')
    const short = shortForms(first.toLowerCase())
    return short.length && rest.length ? [pick(short), ...rest].join(' ') : null
  },
  'legal form changed': (name) => {
    const form = forms.find((f) => f && name.endsWith(f))
    return form ? name.slice(0, -form.length) + pick(forms.filter((f) => f !== form)) : null
  },
}

const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir }, say, false)
const running = await serve(db, { dir }, { HERON_PORT: '0', HERON_LOG: 'silent' })
const m = running.base.db.manager
const today = running.base.clock.today()
await setUpFirm({ ...running.base, actor: { id: 0, name: '', role: 'administrator', mayOverride: false } }, firmPlan(today))

const began = Date.now()
const names: string[] = []
const size = 20_000
for (let at = 0; at < wanted; at += size) {
  const some = Array.from({ length: Math.min(size, wanted - at) }, () => (dice() < 0.7 ? person() : organization()))
  await running.base.db.transaction(async (tx) => {
    await insertMany(
      tx,
      'contact',
      ['id', 'kind', 'name', 'normalized', 'created_at'],
      some.map((name, i) => [at + i + 1, 'person', name, normalizeName(name), '2026-01-01 00:00:00']),
    )
    await recordNames(
      tx,
      some.map((name, i) => ({ contactId: at + i + 1, enquiryId: null, what: 'name', name })),
    )
  })
  names.push(...some)
  if ((at / size) % 10 === 0) say(`${at + some.length} names on record after ${Math.round((Date.now() - began) / 1000)} s`)
}
await running.base.db.query('ANALYZE TABLE recorded_name, name_word, name_spelling, name_posting')

const kinds = Object.keys(disturbances)
const asked: { kind: string; from: string; term: string }[] = []
while (asked.length < 500) {
  const kind = kinds[asked.length % kinds.length]!
  const from = pick(names)
  const term = disturbances[kind]!(from)
  if (term && term !== from) asked.push({ kind, from, term })
}
const missed: typeof asked = []
const times: number[] = []
for (const a of asked) {
  const t = performance.now()
  const hits = await namesLike(m, a.term, 200)
  times.push(performance.now() - t)
  if (!hits.slice(0, 20).some((h) => normalizeName(h.name) === normalizeName(a.from))) missed.push(a)
}
const at = (list: number[], share: number) => [...list].sort((a, b) => a - b)[Math.floor(list.length * share)]!.toFixed(0)
say(`\nFound among the first 20: ${500 - missed.length} of 500 (${((500 - missed.length) / 5).toFixed(1)} %)`)
for (const kind of kinds)
  say(`  ${kind}: ${missed.filter((x) => x.kind === kind).length} missed of ${asked.filter((x) => x.kind === kind).length}`)
for (const x of missed.slice(0, 12)) say(`    ${x.from}  asked as  ${x.term}  (${x.kind})`)
say(`Finding alone: median ${at(times, 0.5)} ms, p95 ${at(times, 0.95)} ms, most ${at(times, 0.999)} ms`)

const base = `http://127.0.0.1:${running.port}/api`
const answer = await fetch(`${base}/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ email: 'noor@callowayfenn.example', password: demoPassword }),
})
const cookie = answer.headers.get('set-cookie')!.split(';')[0]!
const { csrf } = (await answer.json()) as { csrf: string }
const whole: number[] = []
for (const a of asked.slice(0, 200)) {
  const t = performance.now()
  const check = await fetch(`${base}/conflict-checks`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie, 'x-heron-csrf': csrf },
    body: JSON.stringify({ terms: [a.term] }),
  })
  if (!check.ok) throw new Error(await check.text())
  await check.json()
  whole.push(performance.now() - t)
}
say(`One term over HTTP, checked, kept and answered: median ${at(whole, 0.5)} ms, p95 ${at(whole, 0.95)} ms`)
await running.stop()
await db.stop()
rmSync(dir, { recursive: true, force: true })
