import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { dist } from './pages'

/** Most compressed JavaScript that may load before the first page shows, in bytes. */
const limit = 170_000

/** Everything the entry and a route load before they show, by following static imports. */
function loadedBy(start: string[]): Set<string> {
  const seen = new Set<string>()
  const queue = [...start]
  for (let file = queue.pop(); file; file = queue.pop()) {
    if (seen.has(file)) continue
    seen.add(file)
    const code = readFileSync(join(dist, 'assets', file), 'utf8')
    for (const m of code.matchAll(/(?:from|import)\s*"\.\/([\w.-]+\.js)"/g)) queue.push(m[1]!)
  }
  return seen
}

const html = readFileSync(join(dist, 'index.html'), 'utf8')
const entry = [...html.matchAll(/assets\/([\w.-]+\.js)/g)].map((m) => m[1]!)
const today = readFileSync(join(dist, 'assets', entry[0]!), 'utf8').match(/Today-[\w-]+\.js/)?.[0]
const size = [...loadedBy(today ? [...entry, today] : entry)].reduce(
  (n, f) => n + gzipSync(readFileSync(join(dist, 'assets', f))).length,
  0,
)
process.stdout.write(`First load: ${Math.round(size / 1000)} kB of compressed JavaScript, ${limit / 1000} kB allowed\n`)
process.exit(size <= limit ? 0 : 1)
