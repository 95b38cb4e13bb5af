import { z } from 'zod'
import { bytes, day, dayOut, fileOut, id, longBody, made, needed, ok, page, pageOf, route, text, upload, whole, withId } from './base'

/** A folder as its path: names between slashes, at most six of 60 letters. */
export const folderPath = text(300)
  .transform((p) =>
    p
      .split('/')
      .map((s) => s.trim())
      .filter(Boolean)
      .join('/'),
  )
  .refine((p) => p !== '', 'Name the folder')
  .refine((p) => p.split('/').length <= 6, 'Folders go six deep at most')
  .refine((p) => p.split('/').every((s) => s.length <= 60 && s !== '.' && s !== '..'), 'Each folder has a name of up to 60 letters')

export const paperKinds = [
  'letter',
  'e-mail',
  'pleading',
  'motion',
  'order',
  'discovery',
  'evidence',
  'agreement',
  'memo',
  'bill',
  'other',
] as const
const ids = z.array(id).min(1, 'Choose at least one').max(500, 'At most 500 at once')
const tags = z.array(needed('Name the tag', 40)).max(20, 'At most 20 tags')
const whoWhen = z.object({ id: z.number(), name: z.string(), at: z.string(), note: z.string() })

export const paperRow = z.object({
  id: z.number(),
  matterId: z.number(),
  matter: z.string(),
  folder: z.string(),
  name: z.string(),
  kind: z.string(),
  author: z.string(),
  day: dayOut.nullable(),
  tags: z.array(z.string()),
  note: z.string(),
  mediaType: z.string(),
  size: z.number(),
  version: z.number(),
  madeBy: z.string(),
  madeAt: z.string(),
  changedAt: z.string(),
  template: z.string().nullable(),
  /** Who has it checked out, since when and what for. */
  out: whoWhen.nullable(),
  /** Links by which people outside see it now. */
  shared: z.number(),
  /** Whether its words can be found. */
  words: z.enum(['waiting', 'done', 'none', 'failed']),
  review: z.enum(['asked', 'approved', 'sent back']).nullable(),
  deletedAt: z.string().nullable(),
  deletedBy: z.string().nullable(),
  rowVersion: z.number(),
})

const filter = {
  matterId: id.optional(),
  folder: text(300).optional(),
  kind: text(60).optional(),
  by: id.optional(),
  from: day.optional(),
  to: day.optional(),
  tag: text(40).optional(),
}

/** How a paper is shown without leaving the page. */
const view = z.object({
  id: z.number(),
  name: z.string(),
  matterId: z.number(),
  matter: z.string(),
  version: z.number(),
  mediaType: z.string(),
  size: z.number(),
  as: z.enum(['pdf', 'picture', 'text', 'mail', 'none']),
  /** Whether its PDF is there; where it is still being made, the work to wait for. */
  ready: z.boolean(),
  jobId: z.number().nullable(),
  text: z.string().nullable(),
  /** Why it cannot be shown. */
  why: z.string(),
})

const version = z.object({
  number: z.number(),
  why: z.string(),
  madeBy: z.string(),
  madeAt: z.string(),
  size: z.number(),
  mediaType: z.string(),
  current: z.boolean(),
  made: z.boolean(),
})
const person = z.object({ name: z.string(), address: z.string() })

export const papers = {
  list: route('papers.see', 'GET', '/papers', 'Papers, newest first')
    .input(z.object({ ...filter, q: text(80).default(''), bin: z.enum(['yes']).optional(), ...page }))
    .output(pageOf(paperRow)),
  search: route('papers.see', 'GET', '/papers/search', 'Papers by the words in them')
    .input(z.object({ ...filter, q: needed('Give a word', 200), ...page }))
    .output(
      z.object({
        rows: z.array(paperRow.extend({ snippets: z.array(z.array(z.object({ text: z.string(), hit: z.boolean() }))) })),
        total: z.number(),
        /** More than were looked at have these words; narrow the search. */
        more: z.boolean(),
      }),
    ),
  folders: route('papers.see', 'GET', '/matters/{id}/folders', 'Folders of a matter')
    .input(withId)
    .output(z.object({ folders: z.array(z.object({ path: z.string(), count: z.number(), standard: z.boolean() })), all: z.number(), bin: z.number(), words: z.object({ waiting: z.number(), none: z.number() }) })), // prettier-ignore
  addFolder: route('papers.change', 'POST', '/matters/{id}/folders', 'Make a folder')
    .input(z.object({ id, path: folderPath }))
    .output(ok),
  moveFolder: route('papers.change', 'POST', '/matters/{id}/folders/move', 'Rename or move a folder with all that is in it')
    .input(z.object({ id, from: folderPath, to: folderPath }))
    .output(z.object({ moved: z.number() })),
  removeFolder: route('papers.change', 'POST', '/matters/{id}/folders/remove', 'Take away an empty folder')
    .input(z.object({ id, path: folderPath }))
    .output(ok),
  standardFolders: route('papers.see', 'GET', '/standard-folders', 'Folders that matters start with').output(
    z.array(z.object({ id: z.number(), areaId: z.number().nullable(), area: z.string().nullable(), path: z.string() })),
  ),
  setStandardFolders: route('firm.set-up', 'PUT', '/standard-folders', 'Set the folders that matters start with')
    .input(z.object({ areaId: id.nullable(), paths: z.array(folderPath).max(60, 'At most 60 folders') }))
    .output(ok),
  zip: route('papers.see', 'GET', '/papers/zip', 'Several papers as one ZIP')
    .input(
      z.object({
        ids: text(5000).refine((t) => /^\d{1,10}(?:,\d{1,10}){0,499}$/.test(t), 'Name the papers by their numbers, at most 500'),
      }),
    )
    .output(fileOut),
  one: route('papers.see', 'GET', '/papers/{id}', 'One paper')
    .input(withId)
    .output(
      paperRow.extend({
        versions: z.array(version),
        uses: z.array(z.string()),
        ofMail: z.object({ id: z.number(), name: z.string() }).nullable(),
        parts: z.array(z.object({ id: z.number(), name: z.string() })),
        links: z.array(z.object({ id: z.number(), forWhom: z.string(), endsOn: dayOut })),
        reviews: z.array(z.object({ id: z.number(), version: z.number(), from: z.string(), to: z.string(), toId: z.number(), dueOn: dayOut.nullable(), message: z.string(), state: z.string(), remarks: z.string(), askedAt: z.string(), answeredAt: z.string().nullable() })), // prettier-ignore
        mayChange: z.boolean(),
        keeps: z.boolean(),
      }),
    ),
  change: route('papers.change', 'PUT', '/papers/{id}', 'Change what is said of a paper')
    .input(z.object({ id, name: needed('Name the paper', 200), kind: text(60), author: text(120), day: day.nullable(), tags, note: text(2000), rowVersion: whole(1, 4_000_000_000) }))
    .output(ok), // prettier-ignore
  move: route('papers.change', 'POST', '/papers/move', 'Move papers of a matter into a folder')
    .input(z.object({ ids, folder: folderPath }))
    .output(z.object({ moved: z.number() })),
  remove: route('papers.change', 'POST', '/papers/remove', 'Put papers into the bin of their matter')
    .input(z.object({ ids }))
    .output(z.object({ removed: z.number() })),
  restore: route('papers.change', 'POST', '/papers/restore', 'Take papers out of the bin')
    .input(z.object({ ids }))
    .output(z.object({ restored: z.number() })),
  checkOut: route('papers.change', 'POST', '/papers/{id}/check-out', 'Take a paper to work on; nobody else can save over it')
    .input(z.object({ id, note: text(200).default('') }))
    .output(ok),
  release: route('papers.change', 'POST', '/papers/{id}/release', 'Give a paper back without a new version').input(withId).output(ok),
  makeCurrent: route('papers.change', 'POST', '/papers/{id}/current', 'Make an earlier version the current one')
    .input(z.object({ id, number: whole(1, 100_000), why: text(300).default('') }))
    .output(z.object({ number: z.number() })),
  compare: route('papers.see', 'GET', '/papers/{id}/compare', 'What changed between two versions, by their words')
    .input(z.object({ id, from: z.coerce.number().int().min(1).max(100_000), to: z.coerce.number().int().min(1).max(100_000) }))
    .output(z.object({ pieces: z.array(z.object({ text: z.string(), how: z.enum(['same', 'added', 'gone']) })), cut: z.boolean() })),
  file: route('papers.change', 'POST', '/matters/{id}/papers/file', 'File a paper from this computer', upload(20_000_000))
    .input(z.object({ id, folder: folderPath, file: z.file({ error: 'Choose a file' }).max(20_000_000, 'Files may be up to 20 MB') }))
    .output(made),
  download: route('papers.see', 'GET', '/papers/{id}/file', 'A paper as it is kept')
    .input(z.object({ id, version: z.coerce.number().int().min(1).max(100_000).optional() }))
    .output(fileOut),
  view: route('papers.see', 'GET', '/papers/{id}/view', 'How a paper is shown in the page')
    .input(z.object({ id, version: z.coerce.number().int().min(1).max(100_000).optional() }))
    .output(view),
  startPdf: route('papers.see', 'POST', '/papers/{id}/pdf', 'Begin to make the PDF by which a paper is shown')
    .input(z.object({ id, version: z.coerce.number().int().min(1).max(100_000).optional() }))
    .output(z.object({ jobId: z.number() })),
  pdf: route('papers.see', 'GET', '/papers/{id}/pdf', 'A paper as PDF')
    .input(z.object({ id, version: z.coerce.number().int().min(1).max(100_000).optional() }))
    .output(fileOut),
  mail: route('papers.see', 'GET', '/papers/{id}/mail', 'An e-mail on file, as it was')
    .input(withId)
    .output(
      z.object({
        subject: z.string(),
        from: person.nullable(),
        to: z.array(person),
        cc: z.array(person),
        dateText: z.string(),
        text: z.string(),
        /** Made safe: nothing of it runs, and nothing is loaded from outside. */
        html: z.string(),
        headers: z.array(z.object({ name: z.string(), value: z.string() })),
        parts: z.array(z.object({ index: z.number(), name: z.string(), mediaType: z.string(), size: z.number(), inline: z.boolean() })),
        unread: z.string(),
        blocked: z.number(),
      }),
    ),
  mailPart: route('papers.see', 'GET', '/papers/{id}/mail/{index}', 'A part of an e-mail')
    .input(z.object({ id, index: z.coerce.number().int().min(0).max(2000) }))
    .output(fileOut),
  job: route('signed in', 'GET', '/jobs/{id}', 'How far work in the background is')
    .input(withId)
    .output(z.object({ state: z.enum(['waiting', 'running', 'done', 'failed']), progress: z.number(), error: z.string().nullable() })),

  startUpload: route('papers.change', 'POST', '/uploads', 'Announce a file that comes in pieces')
    .input(z.object({ name: needed('Name the file', 200), size: whole(0, 2_000_000_000, 'Files may be up to 2 GB') }))
    .output(z.object({ id: z.number(), received: z.number() })),
  upload: route('papers.change', 'GET', '/uploads/{id}', 'How much of a file has come')
    .input(withId)
    .output(z.object({ received: z.number(), whole: z.boolean() })),
  piece: route('papers.change', 'PUT', '/uploads/{id}', 'A piece of a file', bytes(8_388_608))
    .route({ inputStructure: 'detailed' })
    .input(z.object({ params: withId, query: z.object({ at: z.coerce.number().int().min(0).max(2_000_000_000) }), body: z.file() }))
    .output(z.object({ received: z.number(), whole: z.boolean() })),
  keepUploads: route('papers.change', 'POST', '/matters/{id}/papers/uploads', 'File what was uploaded', longBody)
    .input(
      z.object({
        id,
        files: z
          .array(z.object({ uploadId: id, name: needed('Name the paper', 200), folder: folderPath, kind: text(60).default(''), versionOf: id.nullable().default(null), why: text(300).default('') }))
          .min(1, 'Choose a file')
          .max(1000, 'At most 1,000 files at once'), // prettier-ignore
        /** File what is on file already in this matter, too. */
        doubles: z.boolean().default(false),
      }),
    )
    .output(
      z.object({ ids: z.array(z.number()), doubles: z.array(z.object({ uploadId: z.number(), paperId: z.number(), name: z.string() })) }),
    ),

  review: route('papers.change', 'POST', '/papers/{id}/review', 'Ask a colleague to read a draft')
    .input(z.object({ id, toId: id, dueOn: day.nullable(), message: text(1000) }))
    .output(made),
  answerReview: route('papers.see', 'POST', '/reviews/{id}', 'Approve a draft, or send it back with remarks')
    .input(z.object({ id, approved: z.boolean(), remarks: text(4000) }))
    .output(ok),
  reviews: route('papers.see', 'GET', '/reviews', 'Drafts that wait for me').output(
    z.array(z.object({ id: z.number(), paperId: z.number(), paper: z.string(), matterId: z.number(), matter: z.string(), from: z.string(), dueOn: dayOut.nullable(), message: z.string(), askedAt: z.string() })),
  ), // prettier-ignore

  links: route('papers.see', 'GET', '/matters/{id}/links', 'Links for people outside')
    .input(withId)
    .output(
      z.array(
        z.object({ id: z.number(), forWhom: z.string(), email: z.string(), folder: z.string().nullable(), papers: z.array(z.object({ id: z.number(), name: z.string() })), endsOn: dayOut, needsCode: z.boolean(), mayUpload: z.boolean(), madeBy: z.string(), madeAt: z.string(), state: z.enum(['open', 'ended', 'withdrawn']), visits: z.array(z.object({ what: z.string(), paper: z.string().nullable(), at: z.string(), address: z.string() })) }),
      ),
    ), // prettier-ignore
  makeLink: route('papers.change', 'POST', '/matters/{id}/links', 'Show papers to someone outside')
    .input(
      z.object({
        id,
        forWhom: needed('Say whom it is for', 120),
        email: z.union([z.literal(''), z.email('Give an e-mail address like name@example.com').max(190)]),
        message: text(1000),
        paperIds: z.array(id).max(500),
        folder: folderPath.nullable(),
        endsOn: day,
        needsCode: z.boolean(),
        mayUpload: z.boolean(),
        send: z.boolean(),
      }),
    )
    .output(z.object({ id: z.number(), token: z.string() })),
  withdrawLink: route('papers.change', 'POST', '/links/{id}/withdraw', 'End a link at once').input(withId).output(ok),
}

const token = text(80).refine((t) => /^[\w-]{20,80}$/.test(t), 'This address is not complete')
/** What someone outside sees by a link; nothing else of the firm. */
export const outside = {
  open: route('public', 'POST', '/outside/{token}', 'What a link shows')
    .input(z.object({ token, pass: text(80).default('') }))
    .output(
      z.object({
        firm: z.string(),
        forWhom: z.string(),
        message: z.string(),
        endsOn: dayOut,
        needsCode: z.boolean(),
        codeTo: z.string(),
        mayUpload: z.boolean(),
        /** The first thousand by name; `total` is how many there are. */
        papers: z.array(z.object({ id: z.number(), name: z.string(), size: z.number(), day: dayOut })),
        total: z.number(),
      }),
    ),
  sendCode: route('public', 'POST', '/outside/{token}/send-code', 'Send the code to the address of the link')
    .input(z.object({ token }))
    .output(ok),
  code: route('public', 'POST', '/outside/{token}/code', 'Give the code')
    .input(z.object({ token, code: text(12) }))
    .output(z.object({ pass: z.string() })),
  paper: route('public', 'GET', '/outside/{token}/papers/{id}', 'A paper of a link')
    .input(z.object({ token, id, pass: text(80).default('') }))
    .output(fileOut),
  send: route('public', 'POST', '/outside/{token}/files', 'A file from outside', upload(20_000_000))
    .input(
      z.object({ token, pass: text(80).default(''), file: z.file({ error: 'Choose a file' }).max(20_000_000, 'Files may be up to 20 MB') }),
    )
    .output(ok),
}
