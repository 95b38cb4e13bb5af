import '@heron/server/areas'
import { nightly } from '@heron/server/firm'
import { runStandingCheck } from '@heron/server/ledger'
import { FileStore, clock, dataSource, instant, row, rows, run, sha256 } from '@heron/server/platform'
import type { DataSource } from 'typeorm'
import { spawn } from 'node:child_process'
import { createReadStream, createWriteStream, existsSync } from 'node:fs'
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip } from 'node:zlib'
import { asRoot, databaseName, ownerUser, socketOf, type Database } from './mariadb'
import type { Place } from './provision'

/** So many nights are kept; a backup asked for by someone stays until it is taken away by hand. */
const nightsKept = 30
const trialName = `${databaseName}_trial`

/** Where backups go: beside the data, or wherever `HERON_BACKUPS` says, such as another disk. */
export const backupFolder = (place: Place) => process.env['HERON_BACKUPS'] ?? join(place.dir, 'backups')
const folderOf = (place: Place) => join(place.dir, 'mariadb')
const fileIn = (folder: string, hash: string) => join(folder, 'files', hash.slice(0, 2), hash)

/** Runs a MariaDB program on the private server, with what goes in or what comes out. */
async function program(name: string, args: readonly string[], dir: string, through: (child: ReturnType<typeof spawn>) => Promise<unknown>) {
  const child = spawn(name, ['--no-defaults', `--socket=${socketOf(dir)}`, ...args], { stdio: ['pipe', 'pipe', 'pipe'] })
  let said = ''
  child.stderr!.on('data', (d: Buffer) => void (said = (said + d.toString()).slice(-600)))
  const ended = new Promise<number | null>((resolve, reject) => child.once('error', reject).once('exit', resolve))
  await through(child)
  const code = await ended
  if (code !== 0) throw new Error(`${name} ended with ${code}: ${said.trim()}`)
}

/** Writes the database as it stands at one moment, while work goes on. It has its name only once it is whole. */
async function dump(dir: string, to: string) {
  const part = `${to}.part`
  const args = ['--single-transaction', '--quick', '--triggers', '--routines', '--hex-blob', databaseName]
  await program('mariadb-dump', args, dir, async (child) => {
    child.stdin!.end()
    await pipeline(child.stdout!, createGzip({ level: 6 }), createWriteStream(part, { mode: 0o600 }))
  })
  await rename(part, to)
}

const load = (dir: string, from: string, database: string) =>
  program('mariadb', ['--default-character-set=utf8mb4', database], dir, async (child) => {
    child.stdout!.resume()
    await pipeline(createReadStream(from), createGunzip(), child.stdin!)
  })

/** Copies kept files that the backup lacks; each is whole under its name, and what does not match its hash is refused. */
async function keepFiles(from: string, to: string, hashes: readonly string[]) {
  for (const hash of hashes) {
    const target = fileIn(to, hash)
    if (existsSync(target)) continue
    const data = await readFile(join(from, hash.slice(0, 2), hash))
    if (sha256(data) !== hash) throw new Error(`A kept file does not match its hash: ${hash}`)
    await mkdir(join(target, '..'), { recursive: true })
    await writeFile(`${target}.part`, data)
    await rename(`${target}.part`, target)
  }
}

/** Restores a backup into a database of its own, compares the books there, looks for every file, and takes it down again. */
async function trial(db: Database, place: Place, folder: string, file: string) {
  const dir = folderOf(place)
  await asRoot(
    dir,
    `DROP DATABASE IF EXISTS ${trialName}; CREATE DATABASE ${trialName} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci; GRANT ALL ON ${trialName}.* TO '${ownerUser}'@'127.0.0.1'`,
  )
  try {
    await load(dir, file, trialName)
    const restored = await connect(db, trialName)
    try {
      const m = restored.manager
      const names = await rows<{ name: string }>(m, `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ?`, [
        trialName,
      ])
      let count = 0
      for (const { name } of names) count += (await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM \`${name}\``))!.n
      const found = await runStandingCheck({ db: restored, clock: clock(place.today) }, { whole: true })
      const kept = await rows<{ hash: string; size: number }>(
        m,
        `SELECT sha256 AS hash, MAX(size) AS size FROM stored_file GROUP BY sha256`,
      )
      const missing = []
      for (const f of kept) if ((await stat(fileIn(folder, f.hash)).catch(() => null))?.size !== Number(f.size)) missing.push(f.hash)
      return {
        tables: names.length,
        rows: count,
        files: kept.length,
        restored: found.ok && !missing.length,
        words: missing.length
          ? `${missing.length} of ${kept.length} files are missing from it.`
          : found.ok
            ? 'Restored into a database of its own; the trust records agree there and every file is in it.'
            : 'Restored, but the trust records do not agree in it.',
      }
    } finally {
      await restored.destroy()
    }
  } finally {
    await asRoot(dir, `DROP DATABASE IF EXISTS ${trialName}`)
  }
}

const connect = (db: Database, name = databaseName) =>
  dataSource({ port: db.port, user: ownerUser, password: db.owner, name, pool: 2 }).initialize()

const nameAt = (at: Date, word: string) => `${word}-${at.toISOString().slice(0, 19).replace(/[T:]/g, '-')}`

/** Makes the backup that is wanted, if one is, and tries to restore it. Says whether there was one. */
export async function makeWanted(db: Database, place: Place, owner: DataSource): Promise<boolean> {
  const m = owner.manager
  const now = () => instant(clock(place.today).now())
  const wanted = await row<{ id: number; userId: number | null }>(
    m,
    `SELECT id, user_id AS userId FROM backup WHERE state = 'wanted' ORDER BY id LIMIT 1`,
  )
  if (!wanted) return false
  const folder = backupFolder(place)
  const name = nameAt(new Date(), wanted.userId ? 'asked' : 'night')
  await run(m, `UPDATE backup SET state = 'running', name = ?, place = ? WHERE id = ?`, [name, folder, wanted.id])
  try {
    await mkdir(folder, { recursive: true, mode: 0o700 })
    const file = join(folder, `${name}.sql.gz`)
    // Files first: what the database names is then in the backup already, but for what is added meanwhile.
    const hashes = async () => (await rows<{ h: string }>(m, `SELECT DISTINCT sha256 AS h FROM stored_file`)).map((f) => f.h)
    await keepFiles(join(place.dir, 'files'), folder, await hashes())
    await dump(folderOf(place), file)
    await keepFiles(join(place.dir, 'files'), folder, await hashes())
    const { size } = await stat(file)
    await run(m, `UPDATE backup SET size = ?, ended_at = ? WHERE id = ?`, [size, now(), wanted.id])
    const tried = await trial(db, place, folder, file)
    await run(
      m,
      `UPDATE backup SET state = 'done', tables = ?, row_count = ?, files = ?, tried_at = ?, restored = ?, words = ? WHERE id = ?`,
      [tried.tables, tried.rows, tried.files, now(), tried.restored, tried.words, wanted.id],
    )
    const nights = (await readdir(folder)).filter((f) => /^night-.*\.sql\.gz$/.test(f)).sort()
    for (const old of nights.slice(0, -nightsKept)) await rm(join(folder, old))
  } catch (error) {
    const words = error instanceof Error ? error.message : String(error)
    await run(m, `UPDATE backup SET state = 'failed', ended_at = ?, words = ? WHERE id = ?`, [now(), words.slice(0, 480), wanted.id])
  }
  return true
}

/** While the application runs: makes what is asked for, and one each night by the firm's clock. Returns what stops it. */
export function watchBackups(db: Database, place: Place, say: (text: string) => void): () => Promise<void> {
  let working: Promise<unknown> = Promise.resolve()
  let busy = false
  const began = Date.now()
  let owner: DataSource | undefined
  const look = async () => {
    owner ??= await connect(db)
    const m = owner.manager
    const firm = await row<{ zone: string }>(m, `SELECT zone FROM firm`)
    const here = clock(place.today)
    if (firm) here.standIn?.(firm.zone)
    // One that was being made when everything stopped was not made.
    await run(m, `UPDATE backup SET state = 'failed', words = 'The application stopped while it was made.' WHERE state = 'running'`)
    const last = await row<{ at: string | null }>(m, `SELECT MAX(wanted_at) AS at FROM backup WHERE user_id IS NULL`)
    const hours = last?.at ? (here.now().getTime() - new Date(`${last.at.replace(' ', 'T')}Z`).getTime()) / 3_600_000 : Infinity
    // Not in the first minutes: whoever has just started it wants to work.
    if (firm && hours > 20 && here.time() >= nightly && Date.now() - began > 10 * 60_000)
      await run(m, `INSERT INTO backup (wanted_at) VALUES (?)`, [instant(here.now())])
    await makeWanted(db, place, owner)
  }
  const timer = setInterval(() => {
    if (busy) return
    busy = true
    working = look()
      .catch((error: unknown) => say(`A backup could not be made: ${error instanceof Error ? error.message : String(error)}`))
      .finally(() => (busy = false))
  }, 4000)
  return async () => {
    clearInterval(timer)
    await working
    await owner?.destroy()
  }
}

/** Puts a backup in the place of what is there, which is itself backed up first. The application must not be running. */
export async function restore(db: Database, place: Place, name: string, say: (text: string) => void): Promise<void> {
  const folder = backupFolder(place)
  const file = join(folder, `${name.replace(/\.sql\.gz$/, '')}.sql.gz`)
  if (!existsSync(file)) {
    const there = (await readdir(folder).catch(() => [])).filter((f) => f.endsWith('.sql.gz')).map((f) => f.slice(0, -7))
    throw new Error(`There is no backup ${name} in ${folder}. There are: ${there.join(', ') || 'none'}.`)
  }
  const dir = folderOf(place)
  const before = nameAt(new Date(), 'before-restore')
  say(`What is there now is kept as ${before} …`)
  await dump(dir, join(folder, `${before}.sql.gz`))
  say(`Restoring ${name} …`)
  await asRoot(dir, `DROP DATABASE ${databaseName}; CREATE DATABASE ${databaseName} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`)
  await load(dir, file, databaseName)
  const owner = await connect(db)
  // A backup holds its own entry as one that is being made.
  await run(
    owner.manager,
    `UPDATE backup SET state = 'done', ended_at = wanted_at, words = 'The application was restored from it.' WHERE name = ?`,
    [name.replace(/\.sql\.gz$/, '')],
  )
  const kept = await rows<{ h: string }>(owner.manager, `SELECT DISTINCT sha256 AS h FROM stored_file`)
  await owner.destroy()
  const store = new FileStore(join(place.dir, 'files'))
  for (const { h } of kept) await store.put(await readFile(fileIn(folder, h)))
  say(`Restored: the database and ${kept.length} files.`)
}
