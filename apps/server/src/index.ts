import type { Express } from 'express'
import type { Server } from 'node:http'
import { pino } from 'pino'
import { router } from './areas'
import { readConfig, type Config } from './platform/config'
import { clock, type Ctx } from './platform/context'
import { dataSource } from './platform/database'
import { FileStore } from './platform/files'
import { buildApp } from './platform/http'
import { watchConnections } from './platform/gone'
import { startWorker } from './platform/jobs'
import { Live } from './platform/live'
import { useMailServer } from './platform/mail'
import { useProcessor } from './platform/processor'
import { zoneOfFirm } from './platform/queries'
import { useSite } from './platform/site'
import { startSchedules } from './platform/schedules'

export { router }

export interface Running {
  port: number
  app: Express
  base: Omit<Ctx, 'actor'>
  stop: () => Promise<void>
}

/** Starts the server on loopback and its worker; `stop` ends both and closes the pool. */
export async function startServer(config: Config): Promise<Running> {
  useMailServer(config.smtp)
  useProcessor(config.processor)
  const log = pino({ level: config.log })
  const db = await dataSource(config.db).initialize()
  const base = { db, files: new FileStore(config.files), clock: clock(config.today) }
  const zone = await zoneOfFirm(db.manager)
  if (zone !== null) base.clock.standIn?.(zone)
  watchConnections(db)
  const live = new Live(base, log)
  const app = buildApp(base, router, log, config.web, config.http, live)
  const server = await new Promise<Server>((resolve, reject) => {
    const s = app.listen(config.port, '127.0.0.1', (error) => (error ? reject(error) : resolve(s)))
    // A head or a body that trickles in does not hold a place for ever.
    s.headersTimeout = 15_000
    s.requestTimeout = 120_000
    s.maxConnections = 2000
  })
  const address = server.address()
  const port = typeof address === 'object' && address ? address.port : config.port
  useSite(config.url ?? `http://127.0.0.1:${port}`)
  const stopWorker = startWorker(base, log)
  const stopSchedules = startSchedules(base, log)
  return {
    app,
    port,
    base,
    stop: async () => {
      await stopSchedules()
      live.stop()
      server.closeAllConnections()
      await new Promise((done) => server.close(done))
      await stopWorker()
      await db.destroy()
    },
  }
}

export { dataSource, readConfig }
