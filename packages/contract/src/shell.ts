import { z } from 'zod'
import { cents, dayOut, ok, route, text } from './base'
import { rights, roles } from './rights'

const me = z.object({
  id: z.number(),
  name: z.string(),
  initials: z.string(),
  role: z.enum(roles),
  rights: z.array(z.enum(rights)),
  csrf: z.string(),
  mayOverride: z.boolean(),
})
export type Me = z.infer<typeof me>
/** One event of `/api/live`, where a page that stands open hears what others did: of which matters and areas, as far as it may see. */
export interface Told {
  matters: number[]
  areas: string[]
}

export const shell = {
  session: route('public', 'GET', '/session', 'Who is signed in, if anyone').output(
    z.object({
      firm: z.string(),
      today: dayOut,
      /** There is no firm yet: the first thing is to set one up. */
      empty: z.boolean(),
      me: me.nullable(),
      demo: z
        .object({ people: z.array(z.object({ name: z.string(), title: z.string(), email: z.string() })), password: z.string() })
        .nullable(),
    }),
  ),
  signIn: route('public', 'POST', '/session', 'Sign in')
    .input(z.object({ email: text(190).min(1, 'Give your e-mail address'), password: z.string().min(1, 'Give your password').max(200) }))
    .output(me),
  signOut: route('signed in', 'DELETE', '/session', 'Sign out').output(ok),
  signOutEverywhere: route('signed in', 'DELETE', '/sessions', 'Sign out everywhere').output(ok),
  act: route('signed in', 'GET', '/acts/{key}', 'Whether an act of one’s own was done whose answer was lost, by its key')
    .input(z.object({ key: text(80) }))
    .output(z.object({ done: z.boolean(), answer: z.unknown() })),
  waterline: route('signed in', 'GET', '/waterline', 'What the waterline shows').output(
    z.object({
      timer: z
        .object({
          id: z.number(),
          matterId: z.number().nullable(),
          matter: z.string(),
          text: z.string(),
          seconds: z.number(),
          running: z.boolean(),
          overnight: z.boolean(),
        })
        .nullable(),
      todayMinutes: z.number(),
      goalMinutes: z.number(),
      next: z.object({ title: z.string(), matter: z.string(), matterId: z.number(), courtDays: z.number() }).nullable(),
      drafts: z.number(),
      trust: z.object({ at: z.string().nullable(), ok: z.boolean() }).nullable(),
    }),
  ),
  find: route('signed in', 'GET', '/find', 'Matters, people, papers and bills by a few letters')
    .input(z.object({ q: text(80) }))
    .output(
      z.array(z.object({ kind: z.enum(['matter', 'person', 'paper', 'bill']), id: z.number(), title: z.string(), hint: z.string() })),
    ),
  waiting: route('signed in', 'GET', '/waiting', 'What waits on the reader').output(
    z.object({
      preBills: z.object({ count: z.number(), total: cents }).nullable(),
      approved: z.object({ count: z.number(), total: cents }).nullable(),
      sheets: z.number().nullable(),
      /** Covers of the firm on their way into trust, and what another asks one to agree to. */
      covers: z.number(),
      agree: z.number(),
      conflicts: z.number(),
      /** Enquiries of one's own whose next step is due. */
      enquiries: z.number(),
      /** Tasks one gave out that are overdue. */
      given: z.number(),
      /** For whoever sets the firm up: work in the background that failed or waits for long. */
      stuck: z.number(),
      /** E-mail that waits to be filed, and drafts to read. */
      mail: z.number(),
      reviews: z.number(),
      /** What recurs and could not be entered on its day: journals, bills of vendors, costs of matters. */
      stoppedJournals: z.number(),
      stoppedBills: z.number(),
      stoppedCosts: z.number(),
    }),
  ),
}
