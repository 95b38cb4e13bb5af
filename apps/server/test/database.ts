import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { TestProject } from 'vitest/node'
import { firmPlan } from '@heron/demo/firm'
import '../src/areas'
import { setUpFirm } from '../src/firm'
import { dataSource, FileStore, migrate, stoppedClock } from '../src/platform'
import { appUser, databaseName, ownerUser, startDatabase } from '../../../tools/mariadb'

declare module 'vitest' {
  export interface ProvidedContext {
    place: { port: number; socket: string; app: string; owner: string; files: string }
  }
}

/** One private MariaDB for all server tests, with the demo firm's people and accounts but no work yet. */
export default async function setup(project: TestProject) {
  const dir = mkdtempSync(join(tmpdir(), 'heron-test-'))
  const db = await startDatabase(join(dir, 'mariadb'), true)
  const owner = await dataSource({ port: db.port, user: ownerUser, password: db.owner, name: databaseName, pool: 2 }).initialize()
  await migrate(owner, appUser)
  const day = '2026-11-23'
  const ctx = {
    db: owner,
    files: new FileStore(join(dir, 'files')),
    clock: stoppedClock(day),
    actor: { id: 0, name: '', role: 'administrator' as const, mayOverride: false },
  }
  await setUpFirm(ctx, firmPlan('2024-11-23'))
  await owner.destroy()
  project.provide('place', { port: db.port, socket: db.socket, app: db.app, owner: db.owner, files: join(dir, 'files') })
  return async () => {
    await db.stop()
    rmSync(dir, { recursive: true, force: true })
  }
}
