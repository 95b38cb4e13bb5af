import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'

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

/** Packs what is text beside itself, as small as it gets, since it is done once. */
function pack(folder: string) {
  for (const e of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    const file = join(e.parentPath, e.name)
    if (!e.isFile() || !/\.(js|css|html|svg|json)$/.test(e.name) || statSync(file).size < 1000) continue
    const data = readFileSync(file)
    writeFileSync(`${file}.gz`, gzipSync(data, { level: 9 }))
    writeFileSync(`${file}.br`, brotliCompressSync(data))
  }
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
  pack(dist)
}
