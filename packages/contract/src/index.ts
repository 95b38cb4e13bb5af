import { billing } from './billing'
import { docket } from './docket'
import { books, trust } from './ledger'
import { matters } from './matters'
import { papers } from './papers'
import { people } from './people'
import { shell } from './shell'
import { tasks } from './tasks'
import { time } from './time'

/** Every route of the application: the one meeting point of server and web. */
export const contract = { shell, people, matters, docket, tasks, papers, time, billing, trust, books }

export * from './rights'
export type { RouteMeta } from './base'
export type { Me } from './shell'
export { contactKinds, type ContactIn } from './people'
export { sides, teamRoles, type MatterIn } from './matters'
export { marks, type DocketRow } from './docket'
export { folders } from './papers'
export { charges, type TimeIn } from './time'
export { receiptKinds, type SheetIn } from './ledger'
