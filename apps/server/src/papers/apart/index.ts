import { Worker } from 'node:worker_threads'
import { Problem } from '../../platform/problem'
import type { TaskName, Tasks } from './work'

interface Waiting {
  name: TaskName
  input: unknown
  done: (output: unknown) => void
  fail: (error: Error) => void
}
interface Thread {
  worker: Worker
  now: Waiting | null
  timer: NodeJS.Timeout | null
}

// A thread does not take over how its parent reads TypeScript: it loads the reader itself.
const own = (name: string) => JSON.stringify(new URL(name, import.meta.url).href)
const loader = () =>
  `import(${JSON.stringify(import.meta.resolve('tsx/esm/api'))}).then(({ tsImport }) => tsImport(${own('./thread.ts')}, ${own('./index.ts')}))`

/** Words of a large file may take their time; what someone waits for must not keep a thread from others. */
const longestMs = (name: TaskName) => (name === 'words' || name === 'mail' ? 30_000 : 12_000)
const atOnce = 2
const mostWaiting = 500
const threads: Thread[] = []
const line: Waiting[] = []
let number = 0

/** Files of people are read and papers made on threads of their own, so that none of it holds a request up, however it is built. */
export function apart<N extends TaskName>(name: N, input: Parameters<Tasks[N]>[0]): Promise<Awaited<ReturnType<Tasks[N]>>> {
  return new Promise((resolve, reject) => {
    if (line.length >= mostWaiting)
      return reject(new Problem(503, 'busy', 'Very many papers are being read just now. Try again in a moment.'))
    line.push({ name, input, done: resolve as (output: unknown) => void, fail: reject })
    next()
  })
}

function start(): Thread {
  const worker = new Worker(loader(), { eval: true, resourceLimits: { maxOldGenerationSizeMb: 1024 } })
  worker.unref()
  const thread: Thread = { worker, now: null, timer: null }
  worker.on('message', ({ output, fault, said }: { output?: unknown; fault?: string | null; said?: string }) => {
    const was = settle(thread)
    if (said === undefined) was?.done(output)
    else was?.fail(fault ? new Problem(400, 'unreadable', fault) : new Error(said))
    next()
  })
  const lost = () => {
    if (threads.includes(thread)) threads.splice(threads.indexOf(thread), 1)
    settle(thread)?.fail(new Problem(400, 'unreadable', 'This file takes too much to read. It is kept as it is.'))
    next()
  }
  worker.on('error', lost)
  worker.on('exit', lost)
  threads.push(thread)
  return thread
}

function settle(thread: Thread): Waiting | null {
  const was = thread.now
  if (thread.timer) clearTimeout(thread.timer)
  thread.now = null
  thread.timer = null
  thread.worker.unref()
  return was
}

function next() {
  const waiting = line[0]
  if (!waiting) return
  const thread = threads.find((t) => !t.now) ?? (threads.length < atOnce ? start() : null)
  if (!thread) return
  line.shift()
  number += 1
  thread.now = waiting
  thread.worker.ref()
  thread.timer = setTimeout(() => void thread.worker.terminate(), longestMs(waiting.name))
  thread.worker.postMessage({ id: number, name: waiting.name, input: waiting.input })
  next()
}
