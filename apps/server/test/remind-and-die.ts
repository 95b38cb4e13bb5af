/** A server that only reminds: it says when it begins, and is killed from outside at any moment after. */
import '../src/areas'
import { remindOfDates } from '../src/docket'
import { clock, dataSource, FileStore, readConfig } from '../src/platform'

const config = readConfig(process.env)
const db = await dataSource(config.db).initialize()
process.stdout.write('begins\n')
const sent = await remindOfDates({ db, files: new FileStore(config.files), clock: clock(config.today) })
process.stdout.write(`sent ${sent}\n`)
await db.destroy()
