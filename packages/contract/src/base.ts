import { oc } from '@orpc/contract'
import { isDay } from '@heron/core/calendar'
import { z } from 'zod'
import type { Rule } from './rights'

export interface RouteMeta {
  rule: Rule | null
  /** Writes that post: an Idempotency-Key header is required, and sent twice it acts once. */
  posts: boolean
}

const base = oc.$meta<RouteMeta>({ rule: null, posts: false })
type Method = 'GET' | 'POST' | 'PUT' | 'DELETE'

/** A route of the application. `rule` says who may call it at all. */
export const route = (rule: Rule, method: Method, path: `/${string}`, summary: string) =>
  base.meta({ rule, posts: false }).route({ method, path, summary })

/** A route that posts into the books. */
export const posting = (rule: Rule, path: `/${string}`, summary: string) =>
  base.meta({ rule, posts: true }).route({ method: 'POST', path, summary })

export const id = z.coerce.number().int().positive()
export const withId = z.object({ id })
export const day = z.string().refine(isDay, 'Give a date that exists, like 2026-11-25')
export const cents = z.number().int().min(-9e15).max(9e15)
export const amount = z
  .number({ error: 'Give an amount' })
  .int()
  .positive('Give an amount above zero')
  .max(1e13, 'That is more than one entry can hold')
export const text = (max: number) => z.string().trim().max(max, `Keep it under ${max} characters`)
export const needed = (what: string, max = 200) => text(max).min(1, what)
export const ok = z.object({ ok: z.literal(true) })
export const made = z.object({ id: z.number() })
export const fileOut = z.instanceof(Blob)
export const page = { page: z.coerce.number().int().min(1).default(1), size: z.coerce.number().int().min(1).max(200).default(50) }
export const pageOf = <T extends z.ZodType>(row: T) => z.object({ rows: z.array(row), total: z.number() })
/** A time zone of the IANA database. */
export const zone = text(60).refine((z) => {
  try {
    new Intl.DateTimeFormat('en', { timeZone: z })
    return true
  } catch {
    return false
  }
}, 'Give a time zone like America/New_York')
