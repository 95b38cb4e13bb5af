import { oc } from '@orpc/contract'
import { isSensibleDay, type Day } from '@heron/core/calendar'
import { mostMoney, type Cents } from '@heron/core/money'
import type { Minutes } from '@heron/core/time'
import { z } from 'zod'
import type { Rule } from './rights'
import './words'

export interface RouteMeta {
  rule: Rule | null
  /**
   * What it makes or changes it does once for each Idempotency-Key that its caller sends, however often it is sent. A POST
   * must carry one; what only reads or works something out (`asks`) needs none.
   */
  once: 'must' | 'may' | 'never'
  /** The most bytes of a body that are read, before anything is made of them. */
  body: number
  /** Whether the body is a form with a file, of so many bytes with all that stands around it, or the bytes alone, read as they come. */
  upload: 'form' | 'bytes' | false
}

/** Where a route says nothing else, its body may have 100 kB. */
const usualBody = 100_000
/** Bodies of forms with a long text, or with very many rows. */
export const longBody = { body: 500_000 }
export const upload = (bytes: number) => ({ body: bytes + 20_000, upload: 'form' as const })
/** Bytes that the route reads as they come, and never holds together. What came twice is seen by where it stands, not by a key. */
export const bytes = (most: number) => ({ body: most, upload: 'bytes' as const, once: 'never' as const })
/** A POST that only reads or works something out, and changes nothing. */
export const asks = { once: 'never' as const }
type Limits = Partial<Pick<RouteMeta, 'body' | 'upload' | 'once'>>

const onceBy = { GET: 'never', POST: 'must', PUT: 'may', DELETE: 'may' } as const
const base = oc.$meta<RouteMeta>({ rule: null, once: 'never', body: usualBody, upload: false })
type Method = 'GET' | 'POST' | 'PUT' | 'DELETE'

/** A route of the application. `rule` says who may call it at all. */
export const route = (rule: Rule, method: Method, path: `/${string}`, summary: string, limits: Limits = {}) =>
  base
    .meta({ rule, once: rule === 'public' || rule === 'mail server' ? 'never' : onceBy[method], body: usualBody, upload: false, ...limits })
    .route({ method, path, summary })

export const id = z.coerce.number('Choose one').int('Choose one').positive('Choose one').max(4_294_967_295, 'There is no such record')
export const withId = z.object({ id })
/**
 * An existing date of the years 1900 to 2200. What was judged here is a `Day` of core from then on, and no other text is; what has
 * happened is judged besides by the server's own today.
 */
export const day = z
  .string('Give a date')
  .refine(isSensibleDay, 'Give a date that exists, like 2026-11-25, of the years 1900 to 2200') as unknown as z.ZodType<Day, string>
/** A day in an answer: it comes from where it was judged when it was taken in. */
export const dayOut = z.string() as unknown as z.ZodType<Day, string>
/** Whole cents of core; what is counted in minutes does not pass for them. */
type Money = z.ZodType<Cents, number>
export const cents: Money = z.number('Give an amount').int('Give whole cents').min(-mostMoney.sum).max(mostMoney.sum)
/** An amount of one entry, above zero. */
export const amount: Money = z
  .number({ error: 'Give an amount' })
  .int('Give whole cents')
  .positive('Give an amount above zero')
  .max(mostMoney.amount, 'One entry holds at most $1,000,000,000.00. Check the amount')
/** An amount of one side or the other: above zero or below. */
export const legAmount: Money = z
  .number('Give an amount')
  .int('Give whole cents')
  .min(-mostMoney.amount)
  .max(mostMoney.amount, 'One line holds at most $1,000,000,000.00')
/** An amount of one entry that may be nothing. */
export const amountOrNone: Money = z
  .number({ error: 'Give an amount' })
  .int('Give whole cents')
  .min(0, 'Give an amount of zero or more')
  .max(mostMoney.amount, 'One entry holds at most $1,000,000,000.00. Check the amount')
/** A rate by the hour. */
export const rate: Money = z
  .number({ error: 'Give a rate' })
  .int('Give whole cents')
  .min(0, 'Give a rate of zero or more')
  .max(mostMoney.rate, 'A rate is at most $10,000.00 an hour. Check the amount')
/** Minutes in an answer. */
export const minutesOut: z.ZodType<Minutes, number> = z.number()
/** Text of so many characters at most; what is longer is not looked at any further. */
export const text = (max: number) =>
  z
    .string('Fill this in')
    .max(max + 200, { abort: true, error: `Keep it under ${max} characters` })
    .trim()
    .max(max, { abort: true, error: `Keep it under ${max} characters` })
export const needed = (what: string, max = 200) =>
  z
    .string(what)
    .max(max + 200, { abort: true, error: `Keep it under ${max} characters` })
    .trim()
    .max(max, { abort: true, error: `Keep it under ${max} characters` })
    .min(1, what)
/** A whole number of a form, said in words where it is out of bounds. */
export const whole = (least: number, most: number, what = 'Give a whole number') =>
  z.number(what).int(what).min(least, `${what}, ${least} or more`).max(most, `${what}, ${most} at most`)
/** A percentage in ten-thousandths. */
export const basisPoints = whole(0, 10_000, 'Give a percentage from 0 to 100')
/** An hour of the day. */
export const hour = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Give a time like 14:00')
export const ok = z.object({ ok: z.literal(true) })
export const made = z.object({ id: z.number() })
export const fileOut = z.instanceof(Blob)
export const page = {
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  size: z.coerce.number().int().min(1).max(200).default(50),
}
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
