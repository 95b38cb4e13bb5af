import { billing } from './billing'
import { costs } from './costs'
import { docket } from './docket'
import { fields } from './fields'
import { firm } from './firm'
import { imports } from './imports'
import { ledger } from './ledger'
import { matters } from './matters'
import { notes } from './notes'
import { oversight } from './oversight'
import { papers } from './papers'
import { people } from './people'
import { assemble, type Area } from './platform/area'
import { routes } from './platform/routes'
import { tasks } from './tasks'
import { time } from './time'
import { vendors } from './vendors'

/** The house is put together here, and only here: an area is added by its name in this line. */
const all = [
  firm,
  matters,
  ledger,
  time,
  costs,
  vendors,
  billing,
  papers,
  docket,
  tasks,
  people,
  notes,
  fields,
  imports,
  oversight,
] as const

assemble(all)

type RoutesOf<A> = A extends Area<infer R> ? R : never
type Merged<U> = (U extends unknown ? (own: U) => void : never) extends (own: infer I) => void ? I : never

/** Routes of all areas; several areas may add to the same group. */
function mergedRoutes() {
  const merged: Record<string, object> = {}
  for (const { routes } of all) for (const [group, own] of Object.entries(routes)) merged[group] = { ...merged[group], ...(own as object) }
  return merged as Merged<RoutesOf<(typeof all)[number]>>
}
export const router = routes.router(mergedRoutes())
