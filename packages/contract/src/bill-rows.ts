import { z } from 'zod'
import { cents, dayOut, minutesOut } from './base'

export const billLine = z.object({
  id: z.number(),
  kind: z.enum(['time', 'flat', 'soft cost', 'hard cost', 'interest', 'tax']),
  day: dayOut.nullable(),
  timekeeper: z.string(),
  initials: z.string(),
  text: z.string(),
  minutes: minutesOut.nullable(),
  rate: cents.nullable(),
  worked: cents,
  charged: cents,
  noCharge: z.boolean(),
  heldBack: z.boolean(),
  /** Paid by trust money: told, and not charged. */
  told: z.boolean(),
  /** Of a pre-bill: how many other entries the line stands for, and whether it is a fee added beside the arrangement. */
  carries: z.number().default(0),
  added: z.boolean().default(false),
  net: cents,
})
export const totals = z.object({
  worked: cents,
  workedMinutes: z.number(),
  writtenDown: cents,
  noCharge: cents,
  fees: cents,
  costs: cents,
  discount: cents,
  tax: cents,
  /** By rate, in ten-thousandths; null where a bill of before does not tell it. */
  taxes: z.array(z.object({ rate: z.number().nullable(), amount: cents })),
  total: cents,
})
/** What a credit note comes to, line by line, and whose money comes back by it. */
export const noteShown = z.object({
  lines: z.array(z.object({ id: z.number(), amount: cents })),
  net: cents,
  tax: cents,
  total: cents,
  back: z.array(z.object({ paymentId: z.number(), kind: z.string(), amount: cents, to: z.enum(['trust', 'credit']) })),
})
