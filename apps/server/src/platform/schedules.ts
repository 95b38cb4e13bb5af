import { Cron } from 'croner'
import type { Logger } from 'pino'
import { areas, type Base, type Schedule } from './area'
import { forgetKeys } from './database'
import { endTurn, takeTurn } from './queries'

/** What the house itself does by the clock. */
const ofTheHouse: Schedule[] = [{ name: 'forget old keys', at: '7,22,37,52 * * * *', run: (base) => forgetKeys(base) }]

/**
 * Does it where no other process is at it: the database holds the lock for as long as the connection lives, so that a process that dies
 * holds nobody up. Tells whether it was done here.
 */
export async function alone(base: Base, name: string, act: () => Promise<unknown>): Promise<boolean> {
  const runner = base.db.createQueryRunner()
  try {
    await runner.connect()
    // Locks belong to the whole server; another database on it has its own.
    const lock = `CONCAT(LEFT(DATABASE(), 20), ' ', ?)`
    const [got] = (await takeTurn(runner, lock, name)) as { held: number }[]
    if (!got?.held) return false
    try {
      await act()
    } finally {
      await endTurn(runner, lock, name)
    }
    return true
  } finally {
    await runner.release()
  }
}

/** Runs what the areas want done by the clock, until stopped; what runs then is waited for. */
export function startSchedules(base: Base, log: Logger): () => Promise<void> {
  const running = new Set<Promise<unknown>>()
  const start = (own: Schedule) => {
    const one: Promise<unknown> = alone(base, own.name, () => own.run(base, (what, text) => log.error(what, text)))
      .catch((error: unknown) => log.error({ err: error }, own.name))
      .finally(() => running.delete(one))
    running.add(one)
    return one
  }
  const all = [...ofTheHouse, ...areas().flatMap((a) => a.schedules ?? [])]
  const clocks = all.map((own) => new Cron(own.at, { protect: true }, () => start(own).then(() => undefined)))
  // What was missed is done in the order of the areas: who stands in is known before anyone is reminded.
  let stopped = false
  const missed = (async () => {
    for (const own of all) if (own.atStart && !stopped) await start(own)
  })()
  return async () => {
    stopped = true
    for (const c of clocks) c.stop()
    await missed
    await Promise.all(running)
  }
}
