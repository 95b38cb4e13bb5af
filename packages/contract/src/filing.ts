import { z } from 'zod'
import { day, dayOut, id, longBody, made, needed, ok, page, pageOf, route, text, upload, withId } from './base'
import { folderPath } from './papers'

const person = z.object({ name: z.string(), address: z.string() })
/** A matter to which a message may belong, and why. */
const proposal = z.object({ matterId: z.number(), matter: z.string(), number: z.string(), score: z.number(), why: z.array(z.string()) })

export const trayRow = z.object({
  id: z.number(),
  source: z.enum(['dropped', 'address']),
  /** Sent by someone of the firm; otherwise it is marked as a stranger's. */
  known: z.boolean(),
  from: z.string(),
  subject: z.string(),
  day: dayOut.nullable(),
  comeAt: z.string(),
  parts: z.number(),
  proposal: proposal.nullable(),
  filedBefore: z.boolean(),
})

export const filing = {
  read: route('papers.change', 'POST', '/filing/read', 'Read an e-mail that is to be filed', upload(60_000_000))
    .input(z.object({ file: z.file({ error: 'Choose an e-mail' }).max(60_000_000, 'An e-mail may have up to 60 MB') }))
    .output(made),
  fromUpload: route('papers.change', 'POST', '/filing/uploads', 'Read an uploaded e-mail that is to be filed')
    .input(z.object({ uploadId: id }))
    .output(made),
  tray: route('papers.change', 'GET', '/filing/tray', 'E-mail that waits to be filed')
    .input(z.object({ ...page }))
    .output(pageOf(trayRow)),
  arrive: route('mail server', 'POST', '/filing/arrive', 'A letter to the address for filing, from the mail server', upload(60_000_000))
    .input(z.object({ to: text(190), from: text(190), file: z.file().max(60_000_000) }))
    .output(ok),
  one: route('papers.change', 'GET', '/filing/{id}', 'An e-mail that is to be filed')
    .input(z.object({ id, matterId: id.optional() }))
    .output(
      z.object({
        id: z.number(),
        state: z.enum(['waiting', 'filed', 'put aside']),
        known: z.boolean(),
        source: z.enum(['dropped', 'address']),
        subject: z.string(),
        from: person.nullable(),
        to: z.array(person),
        cc: z.array(person),
        dateText: z.string(),
        day: dayOut.nullable(),
        excerpt: z.string(),
        unread: z.string(),
        name: z.string(),
        parts: z.array(z.object({ index: z.number(), name: z.string(), proposed: z.string(), why: z.string(), mediaType: z.string(), size: z.number(), inline: z.boolean() })),
        proposals: z.array(proposal),
        before: z.array(z.object({ paperId: z.number(), name: z.string(), matterId: z.number(), matter: z.string() })),
      }),
    ), // prettier-ignore
  file: route('papers.change', 'POST', '/filing/{id}', 'File an e-mail and its attachments as one act', longBody)
    .input(
      z.object({
        id,
        matterId: id,
        name: needed('Name the message', 200),
        folder: folderPath,
        parts: z
          .array(z.object({ index: z.number().int().min(0).max(2000), name: needed('Name the paper', 200), folder: folderPath }))
          .max(1000),
        again: z.boolean().default(false),
        task: z.object({ text: needed('Say what is to do', 300), assigneeId: id, dueOn: day.nullable() }).nullable(),
        tell: z.array(id).max(50),
        tellText: text(2000).default(''),
      }),
    )
    .output(z.object({ paperId: z.number(), partIds: z.array(z.number()) })),
  putAside: route('papers.change', 'POST', '/filing/{id}/aside', 'Put an e-mail aside without filing it').input(withId).output(ok),
}
