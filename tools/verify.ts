import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { runBrowserTests, seededFirm } from './e2e'
import { buildPages } from './pages'

const root = new URL('..', import.meta.url).pathname
const dir = mkdtempSync(join(tmpdir(), 'heron-verify-'))
let passed = 0
let failed = 0
/** How long each test took, to name the slowest at the end. */
const times: { name: string; ms: number }[] = []
const unsteady: string[] = []

async function step(name: string, command: string, args: string[]): Promise<boolean> {
  const began = Date.now()
  const [status] = (await once(spawn(command, args, { cwd: root, stdio: 'inherit' }), 'exit')) as [number | null]
  const ok = status === 0
  process.stdout.write(`${ok ? 'ok    ' : 'FAILED'}  ${name}  (${Math.round((Date.now() - began) / 1000)} s)\n`)
  return ok
}

/** A check without tests of its own counts as one. */
async function check(name: string, command: string, args: string[]) {
  if (await step(name, command, args)) passed += 1
  else failed += 1
}

async function unitTests(name: string, ...which: string[]) {
  const out = join(dir, `${name}.json`)
  await step(name, 'npx', ['vitest', 'run', ...which, '--reporter=default', '--reporter=json', `--outputFile.json=${out}`])
  if (!existsSync(out)) return void (failed += 1)
  const result = JSON.parse(readFileSync(out, 'utf8')) as {
    numPassedTests: number
    numFailedTests: number
    numFailedTestSuites: number
    success: boolean
    testResults: { assertionResults: { fullName: string; duration?: number }[] }[]
  }
  for (const file of result.testResults) for (const t of file.assertionResults) times.push({ name: t.fullName, ms: t.duration ?? 0 })
  passed += result.numPassedTests
  failed += Math.max(result.numFailedTests, result.success ? 0 : 1)
}

async function browserTests() {
  const result = await runBrowserTests(join(dir, 'e2e'))
  passed += result.passed
  failed += result.failed
  times.push(...result.times)
  unsteady.push(...result.unsteady)
}

/** What only reads the source, one after another. */
async function readings() {
  await check('types', 'npm', ['run', '--silent', 'types'])
  await check('lint', 'npm', ['run', '--silent', 'lint'])
  await check('direction of imports', 'npm', ['run', '--silent', 'imports'])
}
/** The files of the server's tests in three parts, each of which runs one after another on a database of its own. */
const serverTests = (part: number) => unitTests(`database tests, part ${part} of 3`, '--project=server', `--shard=${part}/3`)
// Two lines of tests side by side; meanwhile the source is read, and the demo firm is loaded for the browser.
const read = readings()
const seeding = read.then(() => {
  buildPages()
  return seededFirm(join(dir, 'e2e'))
})
seeding.catch(() => undefined)
await Promise.all([
  serverTests(1).then(() => serverTests(2)),
  unitTests('unit and page tests', '--project=core', '--project=web').then(() => serverTests(3)),
])
await seeding
await check('size of the first load', process.execPath, ['--import', 'tsx', 'tools/page-size.ts'])
await browserTests()
rmSync(dir, { recursive: true, force: true })
process.stdout.write('The slowest ten:\n')
for (const t of times.sort((a, b) => b.ms - a.ms).slice(0, 10))
  process.stdout.write(`  ${(t.ms / 1000).toFixed(1).padStart(6)} s  ${t.name}\n`)
if (unsteady.length) process.stdout.write(`Passed only when told once more, to be mended: ${unsteady.join('; ')}\n`)
process.stdout.write(`${passed} passed, ${failed} failed\n`)
process.exit(failed ? 1 : 0)
