import { execFile, spawn, type ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync } from 'node:fs'
import { chmod, mkdir, open, readFile, rm, writeFile } from 'node:fs/promises'
import { createServer } from 'node:net'
import { totalmem, userInfo } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'

const exec = promisify(execFile)

export interface Secrets {
  port: number
  owner: string
  app: string
}
export interface Database extends Secrets {
  /** Where processes of this machine reach it without a port. */
  socket: string
  /** Called when the database ends though nobody stopped it; the words say so. */
  onEnd: (then: (words: string) => void) => void
  /** Starts it again on the same port with the same data; throws where that fails. */
  again: () => Promise<void>
  stop: () => Promise<void>
}

export const ownerUser = 'heron_owner'
export const appUser = 'heron_app'
export const databaseName = 'heron'
const statementSeconds = 20

/** The wanted port when it is free, otherwise one that the system gives. */
export async function freePort(wanted = 0): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', () => (wanted ? freePort().then(resolve, reject) : reject(new Error('No port is free'))))
    probe.listen(wanted, '127.0.0.1', () => {
      const address = probe.address()
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : wanted))
    })
  })
}

/** Ends a server that an earlier, killed run left on this data directory; no other process is touched. */
export async function endLeftOver(dir: string) {
  const pid = Number(await readFile(join(dir, 'mariadb.pid'), 'utf8').catch(() => ''))
  if (!pid) return
  const ours = async () => (await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '')).includes(`--datadir=${join(dir, 'data')}`)
  if (!(await ours())) return
  process.kill(pid, 'SIGTERM')
  for (let i = 0; i < 100 && (await ours()); i += 1) await new Promise((r) => setTimeout(r, 100))
}

async function initialise(dir: string) {
  // A data directory without its mark was left half-made by a run that died; nothing of value is in it yet.
  await rm(join(dir, 'data'), { recursive: true, force: true })
  await mkdir(join(dir, 'data'), { recursive: true })
  await exec('mariadb-install-db', [
    '--no-defaults',
    `--user=${userInfo().username}`,
    `--datadir=${join(dir, 'data')}`,
    '--auth-root-authentication-method=socket',
    `--auth-root-socket-user=${userInfo().username}`,
    '--skip-test-db',
  ])
}

const sqlMode = 'STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION'

/** What the database keeps of its tables in memory: a fifth of the machine’s, from 256 MB to 4 GB. Taken as it is needed. */
const poolMegabytes = () => Math.round(Math.min(4096, Math.max(256, totalmem() / 5_000_000)))

function launch(dir: string, port: number, quick: boolean): ChildProcess {
  // A database that starts empties its folder for what is sorted on disk: one in common would take from others what they are reading.
  mkdirSync(join(dir, 'temp'), { recursive: true })
  const args = [
    '--no-defaults',
    `--user=${userInfo().username}`,
    `--datadir=${join(dir, 'data')}`,
    `--tmpdir=${join(dir, 'temp')}`,
    `--socket=${join(dir, 'mariadb.sock')}`,
    `--pid-file=${join(dir, 'mariadb.pid')}`,
    `--log-error=${join(dir, 'mariadb.err')}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    '--skip-name-resolve',
    '--character-set-server=utf8mb4',
    '--collation-server=utf8mb4_unicode_ci',
    `--sql-mode=${sqlMode}`,
    '--default-time-zone=+00:00',
    '--transaction-isolation=READ-COMMITTED',
    `--innodb-buffer-pool-size=${poolMegabytes()}M`,
    '--max-connections=200',
    '--skip-log-bin',
  ]
  if (quick) args.push('--innodb-flush-log-at-trx-commit=0')
  // A process group of its own: Ctrl C reaches the application first, which then stops the database in order.
  return spawn('mariadbd', args, { detached: true, stdio: 'ignore' })
}

export const socketOf = (dir: string) => join(dir, 'mariadb.sock')
const client = (dir: string, sql: string) => exec('mariadb', ['--no-defaults', `--socket=${socketOf(dir)}`, '-N', '-e', sql])
/** What only the owner of the server may do, such as making and dropping databases. */
export const asRoot = client

async function waitReady(dir: string, child: ChildProcess) {
  for (let i = 0; i < 300; i += 1) {
    if (child.exitCode !== null) break
    if (
      await client(dir, 'SELECT 1').then(
        () => true,
        () => false,
      )
    )
      return
    await new Promise((r) => setTimeout(r, 100))
  }
  const log = await readFile(join(dir, 'mariadb.err'), 'utf8').catch(() => '')
  throw new Error(`MariaDB did not start. The end of its log (${join(dir, 'mariadb.err')}):\n${log.split('\n').slice(-12).join('\n')}`)
}

async function secretsOf(dir: string): Promise<Secrets> {
  const path = join(dir, 'secrets.json')
  if (existsSync(path)) return JSON.parse(await readFile(path, 'utf8')) as Secrets
  const made = { port: 0, owner: randomBytes(24).toString('hex'), app: randomBytes(24).toString('hex') }
  const handle = await open(path, 'w', 0o600)
  await handle.writeFile(JSON.stringify(made))
  await handle.close()
  await chmod(path, 0o600)
  return made
}

/** Brings up a private MariaDB in a folder, on loopback. `quick` trades safety at power loss for speed: tests and first loading. */
export async function startDatabase(dir: string, quick = false): Promise<Database> {
  await mkdir(dir, { recursive: true, mode: 0o700 })
  await endLeftOver(dir)
  const marked = join(dir, 'initialised')
  if (!existsSync(marked)) await initialise(dir)
  const secrets = await secretsOf(dir)
  const port = await freePort(secrets.port)
  await writeFile(join(dir, 'secrets.json'), JSON.stringify({ ...secrets, port }), { mode: 0o600 })
  let stopping = false
  let whenEnded = (_words: string) => undefined as unknown
  let child: ChildProcess
  let ended: Promise<void>
  let quickNow = quick
  const begin = async () => {
    child = launch(dir, port, quickNow)
    let ready = false
    ended = new Promise<void>((resolve) =>
      child.once('exit', (code, signal) => {
        resolve()
        if (ready && !stopping) whenEnded(`MariaDB ended by itself (${signal ?? `code ${code}`}).`)
      }),
    )
    await waitReady(dir, child)
    ready = true
  }
  // However this process ends, its database ends with it.
  const endWithUs = () => void child.kill('SIGTERM')
  process.once('exit', endWithUs)
  await begin()
  if (!existsSync(marked)) {
    await client(
      dir,
      `CREATE DATABASE IF NOT EXISTS ${databaseName} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
       CREATE OR REPLACE USER '${ownerUser}'@'127.0.0.1' IDENTIFIED BY '${secrets.owner}';
       CREATE OR REPLACE USER '${appUser}'@'127.0.0.1' IDENTIFIED BY '${secrets.app}';
       GRANT ALL ON ${databaseName}.* TO '${ownerUser}'@'127.0.0.1' WITH GRANT OPTION;`,
    )
    await writeFile(marked, '')
  }
  // No statement of the application holds others up for longer; migrations run as the owner and take their time.
  // By its socket, which is quicker, the database knows the application as a user of its own.
  await client(
    dir,
    `CREATE USER IF NOT EXISTS '${appUser}'@'localhost' IDENTIFIED BY '${secrets.app}';
     ALTER USER '${appUser}'@'127.0.0.1' WITH MAX_STATEMENT_TIME ${statementSeconds};
     ALTER USER '${appUser}'@'localhost' WITH MAX_STATEMENT_TIME ${statementSeconds};`,
  )
  return {
    ...secrets,
    port,
    socket: socketOf(dir),
    onEnd: (then) => void (whenEnded = then),
    // What is brought up again holds work that was acknowledged: it is safe at every commit.
    again: () => {
      quickNow = false
      return begin()
    },
    stop: async () => {
      stopping = true
      child.kill('SIGTERM')
      await ended
      process.off('exit', endWithUs)
    },
  }
}

/** Makes what was loaded quickly safe again at every commit. */
export const makeDurable = (dir: string) => client(dir, 'SET GLOBAL innodb_flush_log_at_trx_commit = 1')
