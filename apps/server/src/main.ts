import { readConfig, startServer } from './index'

const running = await startServer(readConfig(process.env))
process.stdout.write(`listening ${running.port}\n`)
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    void running.stop().then(() => process.exit(0))
  })
