import { Worker } from 'node:worker_threads'
import { Problem } from './problem'

interface Waiting {
  name: string
  input: unknown
  done: (output: unknown) => void
  fail: (error: Error) => void
}
interface Thread {
  worker: Worker
  /** Its module is loaded. Until then the time is not that of what it was asked. */
  ready: boolean
  now: Waiting | null
  timer: NodeJS.Timeout | null
}
type Task = (input: never) => Promise<unknown>
interface Pool {
  /** The module that a thread runs; it calls `answer` with its tasks. */
  module: URL
  atOnce: number
  mostWaiting: number
  longestMs: (name: string) => number
  memoryMb: number
  /** What is said where a thread was lost, and where too many wait. */
  lost: string
  full: string
}

// A thread does not take over how its parent reads TypeScript: it loads the reader itself.
const loader = (module: URL) =>
  `import(${JSON.stringify(import.meta.resolve('tsx/esm/api'))}).then(({ tsImport }) => tsImport(${JSON.stringify(module.href)}, ${JSON.stringify(module.href)}))`

/** How long a thread may load its module: on a busy machine that takes many times what it takes else. */
const longestStartMs = 120_000

/** What takes a processor's time is done on threads of its own, with limits of memory and time, so that no request is held up by it. */
export function threadPool<Tasks extends Record<string, Task>>(pool: Pool) {
  const threads: Thread[] = []
  const line: Waiting[] = []
  let number = 0

  function start(): Thread {
    const worker = new Worker(loader(pool.module), { eval: true, resourceLimits: { maxOldGenerationSizeMb: pool.memoryMb } })
    worker.unref()
    const thread: Thread = { worker, ready: false, now: null, timer: null }
    worker.on('message', ({ ready, output, fault, said }: { ready?: true; output?: unknown; fault?: string | null; said?: string }) => {
      if (ready) {
        thread.ready = true
        return limit(thread)
      }
      const was = settle(thread)
      if (said === undefined) was?.done(output)
      else was?.fail(fault ? new Problem(400, 'unreadable', fault) : new Error(said))
      next()
    })
    const lost = () => {
      if (threads.includes(thread)) threads.splice(threads.indexOf(thread), 1)
      settle(thread)?.fail(new Problem(400, 'unreadable', pool.lost))
      next()
    }
    worker.on('error', lost)
    worker.on('exit', lost)
    threads.push(thread)
    return thread
  }

  /** A thread that takes longer than its work may is ended: for one that was just begun, longer than it may take to load. */
  function limit(thread: Thread) {
    if (thread.timer) clearTimeout(thread.timer)
    thread.timer =
      thread.now && setTimeout(() => void thread.worker.terminate(), thread.ready ? pool.longestMs(thread.now.name) : longestStartMs)
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
    const thread = threads.find((t) => !t.now) ?? (threads.length < pool.atOnce ? start() : null)
    if (!thread) return
    line.shift()
    number += 1
    thread.now = waiting
    thread.worker.ref()
    limit(thread)
    try {
      thread.worker.postMessage({ id: number, name: waiting.name, input: waiting.input })
    } catch (error) {
      // What is handed over must be plain data.
      settle(thread)?.fail(error as Error)
    }
    next()
  }

  return <N extends keyof Tasks & string>(name: N, input: Parameters<Tasks[N]>[0]): Promise<Awaited<ReturnType<Tasks[N]>>> =>
    new Promise((resolve, reject) => {
      if (line.length >= pool.mostWaiting) return reject(new Problem(503, 'busy', pool.full))
      line.push({ name, input, done: resolve as (output: unknown) => void, fail: reject })
      next()
    })
}
