import { z } from 'zod'
import { id, longBody, made, needed, ok, page, pageOf, route, text, upload, whole, withId } from './base'

export const noteOut = z.object({
  id: z.number(),
  html: z.string(),
  authorId: z.number(),
  author: z.string(),
  initials: z.string(),
  at: z.string(),
  changedAt: z.string().nullable(),
  paper: z.object({ id: z.number(), name: z.string() }).nullable(),
  mine: z.boolean(),
})
const html = z
  .string('Write something')
  .max(60_000, { abort: true, error: 'This is too long for one note' })
  .refine((h) => h.replace(/<[^<>]*>/g, '').trim().length > 0, 'Write something')

export const noticeKinds = ['made', 'changed', 'filed', 'paid', 'said'] as const

const topicRow = z.object({ id: z.number(), title: z.string(), messages: z.number(), lastAt: z.string(), lastBy: z.string() })

export const notes = {
  list: route('signed in', 'GET', '/notes', 'Notes on a matter or a contact, newest first')
    .input(z.object({ matterId: id.optional(), contactId: id.optional(), ...page }))
    .output(pageOf(noteOut)),
  make: route('signed in', 'POST', '/notes', 'Write a note on a matter or a contact, or into a topic', longBody)
    .input(
      z.object({
        matterId: id.nullable().default(null),
        contactId: id.nullable().default(null),
        topicId: id.nullable().default(null),
        paperId: id.nullable().default(null),
        html,
      }),
    )
    .output(made),
  change: route('signed in', 'PUT', '/notes/{id}', 'Change a note of one’s own', longBody).input(z.object({ id, html })).output(ok),
  remove: route('signed in', 'DELETE', '/notes/{id}', 'Take a note of one’s own out').input(withId).output(ok),
  topics: route('matters.see', 'GET', '/matters/{id}/topics', 'What the team talks about on a matter')
    .input(withId)
    .output(z.array(topicRow)),
  topic: route('matters.see', 'GET', '/topics/{id}', 'The talk under one topic: the latest messages, or those before one')
    .input(z.object({ id, before: id.optional() }))
    .output(z.object({ id: z.number(), title: z.string(), matterId: z.number(), messages: z.array(noteOut), earlier: z.boolean() })),
  makeTopic: route('matters.see', 'POST', '/matters/{id}/topics', 'Begin a topic', longBody)
    .input(z.object({ id, title: needed('Name the topic', 160), html }))
    .output(made),
  people: route('signed in', 'GET', '/people-to-mention', 'Who can be mentioned on a matter or contact')
    .input(z.object({ matterId: id.optional(), q: text(60).default('') }))
    .output(z.array(z.object({ id: z.number(), name: z.string() }))),
  mentions: route('signed in', 'GET', '/mentions', 'Where the reader was mentioned and has not looked').output(
    z.array(
      z.object({
        noteId: z.number(),
        who: z.string(),
        at: z.string(),
        text: z.string(),
        matterId: z.number().nullable(),
        contactId: z.number().nullable(),
        topicId: z.number().nullable(),
        place: z.string(),
      }),
    ),
  ),
  seen: route('signed in', 'PUT', '/mentions/{id}', 'A mention was seen').input(withId).output(ok),
  notices: route('signed in', 'GET', '/notices', 'What happened on matters one is on or follows, of the kinds chosen').output(
    z.object({
      upTo: z.number(),
      rows: z.array(
        z.object({
          id: z.number(),
          at: z.string(),
          who: z.string(),
          kind: z.string(),
          text: z.string(),
          matterId: z.number(),
          matter: z.string(),
        }),
      ),
    }),
  ),
  noticesSeen: route('signed in', 'PUT', '/notices', 'Notices up to here were seen')
    .input(z.object({ upTo: whole(0, Number.MAX_SAFE_INTEGER) }))
    .output(ok),
  choices: route('signed in', 'GET', '/notice-choices', 'What the reader is told about').output(
    z.array(z.object({ kind: z.enum(noticeKinds), told: z.boolean() })),
  ),
  choose: route('signed in', 'PUT', '/notice-choices', 'Choose what to be told about')
    .input(z.object({ choices: z.array(z.object({ kind: z.enum(noticeKinds), told: z.boolean() })).max(20) }))
    .output(ok),
}

export const views = {
  list: route('signed in', 'GET', '/views', 'Named views of a list, one’s own and shared ones')
    .input(z.object({ list: text(30) }))
    .output(
      z.array(z.object({ id: z.number(), name: z.string(), state: z.string(), shared: z.boolean(), own: z.boolean(), by: z.string() })),
    ),
  save: route('signed in', 'POST', '/views', 'Keep a view under a name')
    .input(
      z.object({
        list: needed('Say which list', 30),
        name: needed('Name the view', 80),
        state: z.string().max(4000),
        shared: z.boolean().default(false),
      }),
    )
    .output(made),
  remove: route('signed in', 'DELETE', '/views/{id}', 'Forget a view').input(withId).output(ok),
}

export const importKinds = ['contacts', 'matters', 'costs', 'opening', 'chart'] as const
const importFault = z.object({ row: z.number(), column: z.string(), text: z.string() })
export const importOut = z.object({
  id: z.number(),
  what: z.enum(importKinds),
  fileName: z.string(),
  encoding: z.string(),
  columns: z.array(z.string()),
  sample: z.array(z.array(z.string())),
  /** For each field, the column it is read from. */
  mapping: z.record(z.string(), z.string()),
  fields: z.array(z.object({ key: z.string(), label: z.string(), needed: z.boolean() })),
  state: z.enum(['read', 'tried', 'loaded', 'failed']),
  total: z.number(),
  good: z.number(),
  faults: z.array(importFault),
  moreFaults: z.number(),
  jobId: z.number().nullable(),
})
export const imports = {
  read: route('people.change', 'POST', '/imports', 'Read a table for import; nothing is loaded yet', upload(60_000_000))
    .input(
      z.object({
        what: z.enum(importKinds),
        file: z.file({ error: 'Choose a CSV file' }).max(60_000_000, 'Files may be up to 60 MB'),
      }),
    )
    .output(importOut),
  get: route('people.change', 'GET', '/imports/{id}', 'An import and how far it is').input(withId).output(importOut),
  tryOut: route('people.change', 'POST', '/imports/{id}/tried', 'Try every row by this match of columns; nothing is loaded')
    .input(z.object({ id, mapping: z.record(z.string().max(60), z.string().max(200)) }))
    .output(z.object({ jobId: z.number() })),
  load: route('people.change', 'POST', '/imports/{id}/loaded', 'Load all rows, or none')
    .input(withId)
    .output(z.object({ jobId: z.number() })),
  faults: route('people.change', 'GET', '/imports/{id}/faults', 'Every row that fails, as CSV to mend')
    .input(withId)
    .output(z.instanceof(Blob)),
}
