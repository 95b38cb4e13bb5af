import { readConfig, startServer, type Running } from '@heron/server'
import { dataSource, migrate, row } from '@heron/server/platform'
import { loadDemo } from '@heron/demo'
import { existsSync } from 'node:fs'
import { rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { restore } from './backup'
import { appUser, databaseName, endLeftOver, makeDurable, ownerUser, startDatabase, type Database } from './mariadb'

export interface Place {
  /** Folder of database and files. */
  dir: string
  /** Fixed day, for tests. */
  today?: string
}

/** Brings up the database with its tables; loads the demo firm when there is no firm yet. */
export async function provision(
  place: Place,
  say: (text: string) => void = () => undefined,
  demo = true,
  restoreFrom?: string,
): Promise<Database> {
  const folder = join(place.dir, 'mariadb')
  const loading = join(place.dir, 'loading')
  // A load that was broken off leaves half a firm; it is begun anew.
  if (existsSync(loading)) {
    await endLeftOver(folder)
    await rm(folder, { recursive: true, force: true })
    await rm(join(place.dir, 'files'), { recursive: true, force: true })
    await rm(loading)
  }
  const db = await startDatabase(folder, true)
  try {
    if (restoreFrom) await restore(db, place, restoreFrom, say)
    const owner = await dataSource({ port: db.port, user: ownerUser, password: db.owner, name: databaseName, pool: 2 }).initialize()
    await migrate(owner, appUser)
    const firm = await row(owner.manager, 'SELECT 1 FROM firm')
    await owner.destroy()
    if (!firm && demo) {
      say('Loading the demo firm, two years of work …')
      const began = Date.now()
      await writeFile(loading, '')
      await loadDemo(environment(db, place))
      await rm(loading)
      say(`Loaded in ${Math.round((Date.now() - began) / 1000)} s.`)
    }
    await makeDurable(folder)
    return db
  } catch (error) {
    await db.stop()
    throw error
  }
}

/** The environment of the server for this place. */
export function environment(db: Database, place: Place): Record<string, string> {
  return {
    HERON_DB_PORT: String(db.port),
    HERON_DB_SOCKET: db.socket,
    HERON_DB_PASSWORD: db.app,
    HERON_FILES: join(place.dir, 'files'),
    ...(place.today ? { HERON_TODAY: place.today } : {}),
  }
}

export function serve(db: Database, place: Place, more: Record<string, string>): Promise<Running> {
  return startServer(readConfig({ ...environment(db, place), ...more }))
}
