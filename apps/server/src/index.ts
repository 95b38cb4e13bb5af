import type { Express } from 'express'
import type { Server } from 'node:http'
import { pino } from 'pino'
import { billingRoutes, payBillRoute } from './billing'
import {
  calendarRoutes,
  docketRoutes,
  extendSeries,
  reminderRuleRoutes,
  remindOfDates,
  reportRoutes,
  rulesRoutes,
  sendDigests,
  sendScheduled,
} from './docket'
import { fieldRoutes } from './fields'
import { beginAbsences, firmRoutes, setUpFirmRoutes, shellRoutes } from './firm'
import { importRoutes } from './imports'
import { booksRoutes, runStandingCheck, setUpAccounts, trustRoutes } from './ledger'
import { matterRoutes, wallRoutes } from './matters'
import { noteRoutes, viewRoutes } from './notes'
import { paperRoutes } from './papers'
import { peopleRoutes } from './people'
import { readConfig, type Config } from './platform/config'
import { clock, type Ctx } from './platform/context'
import { dataSource, forgetKeys } from './platform/database'
import { FileStore } from './platform/files'
import { buildApp } from './platform/http'
import { watchConnections } from './platform/gone'
import { startWorker } from './platform/jobs'
import { useMailServer } from './platform/mail'
import { routes } from './platform/routes'
import { remindOfTasks, taskRoutes } from './tasks'
import { timeRoutes } from './time'

export const router = routes.router({
  shell: shellRoutes,
  firm: firmRoutes,
  setUp: { ...setUpFirmRoutes, ...setUpAccounts, ...wallRoutes, ...reminderRuleRoutes },
  people: peopleRoutes,
  fields: fieldRoutes,
  notes: noteRoutes,
  views: viewRoutes,
  imports: importRoutes,
  matters: matterRoutes,
  docket: docketRoutes,
  calendar: calendarRoutes,
  reports: reportRoutes,
  rules: rulesRoutes,
  tasks: taskRoutes,
  papers: paperRoutes,
  time: timeRoutes,
  billing: billingRoutes,
  trust: { ...trustRoutes, payBill: payBillRoute },
  books: booksRoutes,
})

export interface Running {
  port: number
  app: Express
  base: Omit<Ctx, 'actor'>
  stop: () => Promise<void>
}

/** Starts the server on loopback and its worker; `stop` ends both and closes the pool. */
export async function startServer(config: Config): Promise<Running> {
  useMailServer(config.smtp)
  const log = pino({ level: config.log })
  const db = await dataSource(config.db).initialize()
  const base = { db, files: new FileStore(config.files), clock: clock(config.today) }
  const [firm] = (await db.query(`SELECT zone FROM firm`)) as { zone: string }[]
  if (firm) base.clock.standIn?.(firm.zone)
  watchConnections(db)
  const app = buildApp(base, router, log, config.web, config.http)
  const server = await new Promise<Server>((resolve, reject) => {
    const s = app.listen(config.port, '127.0.0.1', (error) => (error ? reject(error) : resolve(s)))
    // A head or a body that trickles in does not hold a place for ever.
    s.headersTimeout = 15_000
    s.requestTimeout = 120_000
    s.maxConnections = 2000
  })
  const stopWorker = startWorker(base, log)
  // The books are compared by themselves, at the start and every quarter of an hour; a difference is an error in the log, too.
  const compareBooks = () =>
    runStandingCheck(base).then(
      (found) => void (found.ok || log.error({ found }, 'the trust records do not agree')),
      (error: unknown) => log.error({ err: error }, 'standing check'),
    )
  const first = compareBooks()
  const checking = setInterval(() => {
    void compareBooks()
    void forgetKeys(base).catch((error: unknown) => log.error({ err: error }, 'old keys'))
  }, 15 * 60_000)
  const failed = (error: unknown) => log.error({ err: error }, 'reminders')
  const remind = () => remindOfTasks(base).catch(failed)
  // Dates are reminded of by the day, so it is enough to look every ten minutes.
  const remindDates = () =>
    beginAbsences(base)
      .then(() => extendSeries(base))
      .then(() => remindOfDates(base))
      .then(() => sendDigests(base))
      .then(() => sendScheduled(base))
      .catch(failed)
  const reminded = Promise.all([remind(), remindDates()])
  const reminding = setInterval(remind, 60_000)
  const remindingOfDates = setInterval(remindDates, 10 * 60_000)
  const address = server.address()
  return {
    app,
    port: typeof address === 'object' && address ? address.port : config.port,
    base,
    stop: async () => {
      clearInterval(checking)
      clearInterval(reminding)
      clearInterval(remindingOfDates)
      await Promise.all([first, reminded])
      server.closeAllConnections()
      await new Promise((done) => server.close(done))
      await stopWorker()
      await db.destroy()
    },
  }
}

export { readConfig }
