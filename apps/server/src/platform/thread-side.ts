import { parentPort } from 'node:worker_threads'

/** Answers what a pool asks of a thread. `tell` gives the words of a fault that people are told; null where it is none of theirs. */
export function answer(tasks: Record<string, (input: never) => Promise<unknown>>, tell: (error: unknown) => string | null): void {
  parentPort!.on('message', ({ id, name, input }: { id: number; name: string; input: never }) => {
    Promise.resolve()
      .then(() => tasks[name]!(input))
      .then(
        (output) => parentPort!.postMessage({ id, output }),
        (error: unknown) => parentPort!.postMessage({ id, fault: tell(error), said: String(error).slice(0, 300) }),
      )
  })
  parentPort!.postMessage({ ready: true })
}
