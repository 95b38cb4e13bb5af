import { AsyncLocalStorage } from 'node:async_hooks'
import type { DataSource } from 'typeorm'

interface Connection {
  threadId: number
  release: () => void
}
interface Reading {
  gone: boolean
  /** The connections in use, each with what ends its statement once that was asked for. */
  connections: Map<Connection, Promise<unknown> | null>
}
const current = new AsyncLocalStorage<Reading>()

/** The part of the driver that hands out connections of the pool. */
interface PoolDriver {
  obtainMasterConnection: () => Promise<Connection>
}

const killed = (db: DataSource, c: Connection) => db.query(`KILL QUERY ${Number(c.threadId)}`).catch(() => undefined)

/** Notes which connections a reading call holds, so that its statements end when whoever asked has gone. */
export function watchConnections(db: DataSource): void {
  const driver = db.driver as unknown as PoolDriver
  const obtain = driver.obtainMasterConnection.bind(driver)
  driver.obtainMasterConnection = async () => {
    const reading = current.getStore()
    const connection = await obtain()
    if (!reading) return connection
    if (reading.gone) {
      connection.release()
      throw new Error('Whoever asked has gone')
    }
    const release = connection.release
    reading.connections.set(connection, null)
    connection.release = () => {
      const ending = reading.connections.get(connection)
      reading.connections.delete(connection)
      connection.release = release
      // Not before its ending has been carried out, which would else meet the statement of whoever has it next.
      if (ending) void ending.finally(() => release.call(connection))
      else release.call(connection)
    }
    return connection
  }
}

/** Does the work of a call that only reads; what is returned as `leave` ends its statements. */
export function reading<T>(db: DataSource, work: () => Promise<T>): { result: Promise<T>; leave: () => void } {
  const mine: Reading = { gone: false, connections: new Map() }
  const result = current.run(mine, work)
  const leave = () => {
    mine.gone = true
    // Outside the call's own store, or its own killing would be refused.
    current.exit(() => {
      for (const c of mine.connections.keys()) mine.connections.set(c, killed(db, c))
    })
  }
  return { result, leave }
}
