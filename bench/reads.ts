/**
 * Every route that only reads, asked as people of several roles on a firm that another bench left behind, and which of them take long:
 * what no bench of its own looks for grows unseen. Not a test: run it by hand with
 *   node --import tsx bench/oversight.ts 600000 /tmp/large && node --import tsx bench/reads.ts /tmp/large 1000005,1000300
 * The numbers are ids to ask for where a route names one.
 */
import { contract } from '@heron/contract'
import { demoPassword } from '@heron/server/firm'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const [dir, ids = '1,5', people = 'orla,noor,ferdi', slow = '150'] = process.argv.slice(2)
if (!dir) throw new Error('Say where the firm lies')
const db = await provision({ dir, today: '2026-11-23' }, say)
const running = await serve(
  db,
  { dir, today: '2026-11-23' },
  { HERON_PORT: '0', HERON_LOG: 'silent', HERON_REQUESTS_PER_MINUTE: '1000000' },
)
// What runs at every start is left to end first.
await new Promise((r) => setTimeout(r, 20_000))
const base = `http://127.0.0.1:${running.port}/api`

interface Route {
  route: { method: string; path: string }
  meta: { once: string; upload: unknown }
  inputSchema?: { def?: { shape?: Record<string, { safeParse: (value: unknown) => { success: boolean } }> } }
}
const routes: Route[] = []
const walk = (c: object) => {
  if ('~orpc' in c && (c['~orpc'] as Route).route?.path) routes.push(c['~orpc'] as Route)
  else for (const v of Object.values(c)) if (typeof v === 'object' && v) walk(v as object)
}
walk(contract)
/** What is asked for where a route wants it. */
const usual: Record<string, string> = { to: '2026-11-23', from: '2026-10-01', asOf: '2026-11-20', day: '2026-11-20', until: '2026-11-23', workTo: '2026-11-23', q: 'ben', size: '50', page: '1', beside: 'none', by: 'account', basis: 'accrual', bankAccountId: '2', matterId: '5', payerId: '5', year: '2026' } // prettier-ignore
const apart = /session|\/live|calendars\/|outside|export|archive|\/pdf|health/

const told: { ms: number; text: string }[] = []
let asked = 0
for (const who of people.split(',')) {
  const signed = await fetch(`${base}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: `${who}@callowayfenn.example`, password: demoPassword }) }) // prettier-ignore
  const headers = { cookie: signed.headers.get('set-cookie')!.split(';')[0]!, 'x-heron-csrf': ((await signed.json()) as { csrf: string }).csrf, 'content-type': 'application/json' } // prettier-ignore
  for (const { route, meta, inputSchema } of routes) {
    if ((route.method !== 'GET' && meta.once !== 'never') || meta.upload || apart.test(route.path)) continue
    const shape = inputSchema?.def?.shape ?? {}
    for (const id of route.path.includes('{') ? ids.split(',') : [''])
      // As it is asked by itself, and with everything said that can be.
      for (const all of [false, true]) {
        const given = Object.keys(shape).filter((n) => !route.path.includes(`{${n}}`) && usual[n] && (all || !shape[n]!.safeParse(undefined).success)) // prettier-ignore
        const query = new URLSearchParams(given.map((n) => [n, usual[n]!]))
        const path = route.path.replace(/\{\w+\}/g, id) + (route.method === 'GET' && query.size ? `?${query}` : '')
        const body = route.method === 'GET' ? {} : { body: JSON.stringify(Object.fromEntries(query)) }
        const began = performance.now()
        const answer = await fetch(base + path, { method: route.method, headers, ...body })
        const bytes = (await answer.arrayBuffer()).byteLength
        const ms = performance.now() - began
        asked += 1
        if (ms > Number(slow) || answer.status >= 500)
          told.push({
            ms,
            text: `${ms.toFixed(0).padStart(6)} ms  ${answer.status}  ${who.padEnd(8)} ${route.method} ${path}, ${bytes} bytes`,
          })
      }
  }
}
for (const t of told.sort((a, b) => b.ms - a.ms)) say(t.text)
say(`${asked} questions, ${told.length} of them over ${slow} ms`)
await running.stop()
await db.stop()
process.exit(0)
