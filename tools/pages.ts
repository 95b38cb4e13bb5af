import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'

const root = new URL('..', import.meta.url).pathname
export const dist = join(root, 'apps/web/dist')

function newest(folder: string): number {
  return Math.max(
    0,
    ...readdirSync(folder, { withFileTypes: true })
      .filter((e) => !['node_modules', 'dist'].includes(e.name))
      .map((e) => (e.isDirectory() ? newest(join(folder, e.name)) : statSync(join(folder, e.name)).mtimeMs)),
  )
}

/** Builds the pages when a source is newer than what was built. */
export function buildPages() {
  const built = join(dist, 'index.html')
  const sources = Math.max(
    ...['apps/web', 'packages/contract', 'packages/core'].map((f) => newest(join(root, f))),
    statSync(join(root, 'package-lock.json')).mtimeMs,
  )
  if (existsSync(built) && statSync(built).mtimeMs > sources) return
  process.stdout.write('Building the pages …\n')
  const made = spawnSync('npm', ['run', '--silent', 'build'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] })
  if (made.status !== 0) throw new Error('The pages could not be built; see above.')
}
