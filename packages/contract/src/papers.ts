import { z } from 'zod'
import { fileOut, id, longBody, needed, page, pageOf, route, text, upload, withId, asks } from './base'
import { folders } from './names'

export const paperRow = z.object({
  id: z.number(),
  matterId: z.number(),
  matter: z.string(),
  folder: z.string(),
  name: z.string(),
  mediaType: z.string(),
  size: z.number(),
  madeBy: z.string(),
  madeAt: z.string(),
  template: z.string().nullable(),
})
const field = z.object({ name: z.string(), label: z.string(), type: z.enum(['text', 'money', 'day', 'list', 'yes/no']), value: z.string() })

export const papers = {
  list: route('papers.see', 'GET', '/papers', 'Papers, newest first')
    .input(z.object({ matterId: id.optional(), q: text(80).default(''), ...page }))
    .output(pageOf(paperRow)),
  templates: route('papers.see', 'GET', '/templates', 'Templates of the firm').output(
    z.array(z.object({ id: z.number(), name: z.string(), description: z.string(), folder: z.string(), fields: z.array(z.string()) })),
  ),
  prepare: route('papers.change', 'POST', '/matters/{id}/papers/prepare', 'Values a template would use, and what is missing', asks)
    .input(z.object({ id, templateId: id }))
    .output(z.object({ name: z.string(), fields: z.array(field), missing: z.array(z.string()) })),
  make: route('papers.change', 'POST', '/matters/{id}/papers', 'Make a paper as DOCX and PDF', longBody)
    .input(
      z.object({
        id,
        templateId: id,
        name: needed('Name the paper', 120),
        answers: z.record(z.string().max(120), text(4000)).refine((a) => Object.keys(a).length <= 300, 'At most 300 answers'),
      }),
    )
    .output(z.object({ jobId: z.number() })),
  file: route('papers.change', 'POST', '/matters/{id}/papers/file', 'File a paper from this computer', upload(20_000_000))
    .input(z.object({ id, folder: z.enum(folders), file: z.file({ error: 'Choose a file' }).max(20_000_000, 'Files may be up to 20 MB') }))
    .output(z.object({ id: z.number() })),
  download: route('papers.see', 'GET', '/papers/{id}/file', 'A paper as it is kept').input(withId).output(fileOut),
  job: route('signed in', 'GET', '/jobs/{id}', 'How far work in the background is')
    .input(withId)
    .output(z.object({ state: z.enum(['waiting', 'running', 'done', 'failed']), progress: z.number(), error: z.string().nullable() })),
}
