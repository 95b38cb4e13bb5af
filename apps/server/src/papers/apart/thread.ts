import { parentPort } from 'node:worker_threads'
import { TemplateFault } from '@heron/core/templates'
import { tasks, type TaskName } from './work'
import { Unreadable } from './zip'

parentPort!.on('message', ({ id, name, input }: { id: number; name: TaskName; input: never }) => {
  Promise.resolve()
    .then((): Promise<unknown> => tasks[name](input))
    .then(
      (output) => parentPort!.postMessage({ id, output }),
      (error: unknown) =>
        parentPort!.postMessage({
          id,
          fault: error instanceof Unreadable || error instanceof TemplateFault ? error.message : null,
          said: String(error).slice(0, 300),
        }),
    )
})
