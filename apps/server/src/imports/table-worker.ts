import { readTable } from '@heron/core/formats'
import { parentPort, workerData } from 'node:worker_threads'
import type { FromWorker, ToWorker } from './tables'

/** Rows sent at a time: each message is taken in beside other requests, never all at once. */
const chunk = 500

const { bytes, most, limits } = workerData as ToWorker
const say = (message: FromWorker) => parentPort!.postMessage(message)
const table = readTable(bytes, most)
if (table.columns.length > limits.columns) say({ fault: `Files may have up to ${limits.columns} columns.` })
else if (table.rows.length > limits.rows) say({ fault: `Files may have up to ${limits.rows.toLocaleString('en-US')} rows. Split it.` })
else {
  const { rows, ...head } = table
  for (let i = 0; i < rows.length; i += chunk) say({ rows: rows.slice(i, i + chunk) })
  say({ head })
}
