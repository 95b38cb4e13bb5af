import { z } from 'zod'
import { id, made, needed, ok, page, pageOf, route, text, withId } from './base'

export const contactKinds = [
  'client',
  'prospective client',
  'opposing party',
  'opposing counsel',
  'co-counsel',
  'judge',
  'court staff',
  'court reporter',
  'interpreter',
  'expert',
  'witness',
  'medical provider',
  'vendor',
  'payee',
  'insurer',
] as const

export const contactIn = z.object({
  kind: z.enum(['person', 'organization']),
  name: needed('Give a name'),
  greeting: text(120).default(''),
  email: z.union([z.literal(''), z.email('This is not an e-mail address')]).default(''),
  phone: text(40).default(''),
  address: text(400).default(''),
  notes: text(4000).default(''),
  kinds: z.array(z.enum(contactKinds)).default([]),
})
export type ContactIn = z.infer<typeof contactIn>

const part = z.object({ matterId: z.number(), number: z.string(), name: z.string(), part: z.string(), open: z.boolean() })
export const contactRow = z.object({
  id: z.number(),
  kind: z.enum(['person', 'organization']),
  name: z.string(),
  email: z.string(),
  phone: z.string(),
  kinds: z.array(z.string()),
  matters: z.number(),
})
export const contactOut = contactRow.extend({
  greeting: z.string(),
  address: z.string(),
  notes: z.string(),
  parts: z.array(part),
})

export const conflictHit = z.object({
  id: z.number(),
  term: z.string(),
  name: z.string(),
  reason: z.string(),
  score: z.number(),
  matters: z.array(z.object({ text: z.string() })),
  decision: z.enum(['no conflict', 'waiver needed', 'waiver on file', 'decline']).nullable(),
  note: z.string(),
})
export const conflictCheck = z.object({
  id: z.number(),
  madeAt: z.string(),
  madeBy: z.string(),
  terms: z.array(z.string()),
  namesOnRecord: z.number(),
  hits: z.array(conflictHit),
})

export const people = {
  list: route('people.see', 'GET', '/contacts', 'People and organizations')
    .input(z.object({ q: text(80).default(''), kind: text(40).default(''), ...page }))
    .output(pageOf(contactRow)),
  get: route('people.see', 'GET', '/contacts/{id}', 'One contact with the matters it touches').input(withId).output(contactOut),
  make: route('people.change', 'POST', '/contacts', 'Make a contact').input(contactIn).output(made),
  change: route('people.change', 'PUT', '/contacts/{id}', 'Change a contact').input(contactIn.extend({ id })).output(ok),
  checkConflicts: route('matters.open', 'POST', '/conflict-checks', 'Check names for conflicts and keep the record')
    .input(
      z.object({
        terms: z.array(needed('Give a name')).min(1, 'Give a name to check').max(40),
        ours: z.array(text(200)).max(40).default([]),
      }),
    )
    .output(conflictCheck),
  getCheck: route('matters.open', 'GET', '/conflict-checks/{id}', 'A kept conflict check').input(withId).output(conflictCheck),
  decideHit: route('matters.open', 'POST', '/conflict-hits/{id}/decision', 'Decide on a hit')
    .input(z.object({ id, decision: conflictHit.shape.decision.unwrap(), note: text(500).default('') }))
    .output(ok),
}
