import {
  DataSource,
  DefaultNamingStrategy,
  type EntityManager,
  type FindOptionsSelect,
  type FindOptionsWhere,
  type QueryDeepPartialEntity,
} from 'typeorm'
import type { Config } from './config'
import { instant, type Ctx } from './context'
import { areas, gather } from './area'
import { houseEntities, Idempotency } from './entities'
import { sharedEntities } from './shared-entities'
import { migrationClass, firstMigrations } from './migrations'
import { errno, fromDatabase, Problem } from './problem'

class SnakeNames extends DefaultNamingStrategy {
  override columnName(property: string, custom: string | undefined): string {
    return custom ?? property.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)
  }
  override joinColumnName(relation: string, referenced: string): string {
    return this.columnName(`${relation}_${referenced}`, undefined)
  }
}

/** Tables to which the application may only add. */
export const appendOnlyTables = () => ['audit_log', ...gather((a) => a.appendOnly)]

/** What a unit of work reads after it has locked a row is what others have posted meanwhile, not what stood when it began. */
class Office extends DataSource {
  override async initialize(): Promise<this> {
    await super.initialize()
    // Called by the one name or the other, by the age of the database.
    const levels = await rows<{ Value: string }>(
      this.manager,
      `SHOW VARIABLES WHERE Variable_name IN ('tx_isolation', 'transaction_isolation')`,
    )
    if (levels.length && levels.every((l) => l.Value === 'READ-COMMITTED')) return this
    await this.destroy()
    throw new Error('The database must be started with transaction-isolation=READ-COMMITTED. Start it with ./start, or set it there.')
  }
}

export function dataSource(db: Config['db']): DataSource {
  return new Office({
    type: 'mariadb',
    host: '127.0.0.1',
    port: db.port,
    ...(db.socket ? { socketPath: db.socket } : {}),
    username: db.user,
    password: db.password,
    database: db.name,
    charset: 'utf8mb4_unicode_ci',
    timezone: 'Z',
    dateStrings: true,
    supportBigNumbers: true,
    bigNumberStrings: false,
    poolSize: db.pool,
    namingStrategy: new SnakeNames(),
    entities: [...houseEntities, ...sharedEntities, ...areas().flatMap((a) => [...(a.entities ?? [])])],
    migrations: [...firstMigrations, ...gather((a) => a.migrations)].map(migrationClass),
    migrationsTransactionMode: 'none',
    // Where a statement was asked from is told by TypeORM's own error; taking it down for each statement costs more than it tells.
    extra: { decimalNumbers: true, trace: false },
  })
}

/** Brings the tables up to date and gives the application's user no more than it needs. Runs as the owner. */
export async function migrate(owner: DataSource, appUser: string): Promise<void> {
  await owner.runMigrations()
  const kept = gather((a) => a.kept)
  const appendOnly = appendOnlyTables()
  const tables = await rows<{ name: string }>(
    owner.manager,
    `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name <> 'migrations'`,
  )
  for (const { name } of tables) {
    const grants = kept.includes(name) ? 'SELECT' : appendOnly.includes(name) ? 'SELECT, INSERT' : 'SELECT, INSERT, UPDATE, DELETE'
    // By the port and by the socket the database knows the same user as two.
    for (const user of [`'${appUser}'@'127.0.0.1'`, `'${appUser}'@'localhost'`]) {
      // What an earlier version granted more of is taken back.
      if (kept.includes(name) || appendOnly.includes(name))
        await owner
          .query(`REVOKE UPDATE, DELETE${kept.includes(name) ? ', INSERT' : ''} ON \`${name}\` FROM ${user}`)
          .catch(() => undefined)
      await owner.query(`GRANT ${grants} ON \`${name}\` TO ${user}`)
    }
  }
}

/** Letters that mean something in a pattern of LIKE, as the letters that they are. */
export const literal = (text: string): string => text.replace(/[\\%_]/g, '\\$&')
/** How many words of a search are looked for; what is typed beyond them narrows nothing. */
export const mostWords = 6

type Value = string | number | boolean | null | readonly (string | number)[]

/** Reads rows. Arrays are spread into lists; an empty list must be handled by the caller. */
export async function rows<T>(m: EntityManager, sql: string, values: readonly Value[] = []): Promise<T[]> {
  const flat: (string | number | boolean | null)[] = []
  let i = 0
  const spread = sql.replace(/\?/g, () => {
    const v = values[i++] ?? null
    if (v !== null && typeof v === 'object') {
      flat.push(...v)
      return v.map(() => '?').join(', ')
    }
    flat.push(v)
    return '?'
  })
  return (await m.query(spread, flat)) as T[]
}

export async function row<T>(m: EntityManager, sql: string, values: readonly Value[] = []): Promise<T | null> {
  return (await rows<T>(m, sql, values))[0] ?? null
}

/** Changes rows and tells how many were touched. */
export async function run(m: EntityManager, sql: string, values: readonly Value[] = []): Promise<number> {
  const result = (await rows(m, sql, values)) as unknown as { affectedRows: number }
  return result.affectedRows
}

/** How many rows a change or a removal touched. */
export const touched = async (made: Promise<{ affected?: number | null }>): Promise<number> => (await made).affected ?? 0

/** Inserts a row whose key counts up, and tells its id. */
export async function insertRow<T extends { id: number }>(
  m: EntityManager,
  table: new () => T,
  row: QueryDeepPartialEntity<T>,
): Promise<number> {
  return (await m.insert(table, row)).identifiers[0]!['id'] as number
}

/** Inserts a row unless its key is there already. */
export const insertNew = <T extends object>(m: EntityManager, table: new () => T, row: QueryDeepPartialEntity<T>): Promise<unknown> =>
  m.createQueryBuilder().insert().into(table).values(row).orIgnore().updateEntity(false).execute()

/** What is found is locked until the unit of work is done. A look ahead, which is none, asks the same and locks nothing. */
export const locked = (m: EntityManager) => (m.queryRunner?.isTransactionActive ? { lock: { mode: 'pessimistic_write' as const } } : {})

/** Locks a row until the unit of work is done; what is read after it is what others left. Null where there is none. */
export const lockRow = <T extends { id: number | string }>(m: EntityManager, table: new () => T, id: T['id']): Promise<T | null> =>
  m.findOne(table, {
    select: { id: true } as FindOptionsSelect<T>,
    where: { id } as FindOptionsWhere<T>,
    ...locked(m),
  })

/** Inserts many rows of one table in one statement, in slices. */
export async function insertMany(
  m: EntityManager,
  table: string,
  columns: readonly string[],
  values: readonly (readonly (string | number | boolean | null)[])[],
) {
  for (let at = 0; at < values.length; at += 400) {
    const slice = values.slice(at, at + 400)
    const marks = slice.map(() => `(${columns.map(() => '?').join(',')})`).join(',')
    await m.query(`INSERT INTO ${table} (${columns.join(',')}) VALUES ${marks}`, slice.flat())
  }
}

const retryable = new Set([1213, 1205, 1020])

/**
 * One unit of work in one transaction, tried again whole after a deadlock.
 * Where the caller sent an idempotency key, it acts once: a repeat gets the first answer back, part for part where a call does
 * several units of work.
 */
export async function work<T>(ctx: Ctx, act: (m: EntityManager) => Promise<T>): Promise<T> {
  if (ctx.tx) return act(ctx.tx)
  const part = ctx.idempotency && ctx.idempotency.parts++
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await ctx.db.transaction((m) => (part === undefined ? act(m) : once(m, ctx, part, act)))
    } catch (error) {
      if (attempt < 8 && retryable.has(errno(error) ?? 0)) {
        // Those that met do not meet again at once.
        await new Promise((r) => setTimeout(r, Math.random() * 10 * attempt))
        continue
      }
      throw fromDatabase(error)
    }
  }
}

async function once<T>(m: EntityManager, ctx: Ctx, part: number, act: (m: EntityManager) => Promise<T>): Promise<T> {
  const { key: asked, bodyHash } = ctx.idempotency!
  const key = part ? `${asked} ${part}` : asked
  const fresh = await run(m, `INSERT IGNORE INTO idempotency (user_id, idempotency_key, body_hash, created_at) VALUES (?, ?, ?, ?)`, [
    ctx.actor.id,
    key,
    bodyHash,
    instant(ctx.clock.now()),
  ])
  if (!fresh) {
    const before = await m.findOne(Idempotency, {
      select: { bodyHash: true, response: true, userId: true, idempotencyKey: true },
      where: { userId: ctx.actor.id, idempotencyKey: key },
    })
    if (before?.bodyHash !== bodyHash)
      throw new Problem(422, 'idempotency-key-reused', 'This request was already made with other contents. Reload the page and try again.')
    return (JSON.parse(before.response!) ?? undefined) as T
  }
  const result = await act(m)
  await m.update(Idempotency, { userId: ctx.actor.id, idempotencyKey: key }, { response: JSON.stringify(result ?? null) })
  return result
}

/** What an act of the actor's own answered, by its key; null where it was not done. */
export async function answerOf(ctx: Ctx, key: string): Promise<{ answer: unknown } | null> {
  const found = await ctx.db.manager.findOne(Idempotency, {
    select: { response: true, userId: true, idempotencyKey: true },
    where: { userId: ctx.actor.id, idempotencyKey: key },
  })
  return found && { answer: found.response === null ? null : (JSON.parse(found.response) as unknown) }
}

/** Forgets keys of acts long done. */
export async function forgetKeys(ctx: Pick<Ctx, 'db' | 'clock'>): Promise<void> {
  const before = instant(new Date(ctx.clock.now().getTime() - 30 * 86_400_000))
  await run(ctx.db.manager, `DELETE FROM idempotency WHERE created_at < ? LIMIT 5000`, [before])
}

/** Next value of a series without gaps; taken last in the transaction that uses it. */
export async function nextNumber(m: EntityManager, series: string): Promise<number> {
  const found = await row<{ value: number }>(
    m,
    `INSERT INTO counter (name, value) VALUES (?, 1) ON DUPLICATE KEY UPDATE value = value + 1 RETURNING value`,
    [series],
  )
  return found!.value
}
