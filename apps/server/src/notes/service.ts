import { IsNull, type EntityManager } from 'typeorm'
import sanitizeHtml from 'sanitize-html'
import { requireContact } from '../people'
import { requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, touched, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { UserAccount } from '../platform/shared-entities'
import { Mention, Note, NoticeChoice, Topic } from './entities'
import {
  countNotes,
  mention,
  mentionable,
  messagesBefore,
  noteRows,
  noteScope,
  noteToChange,
  type NoteRow,
  type NoticeKind,
  paperOn,
  seenUpTo,
  topicOpenTo,
} from './queries'

/** What a note may hold; everything else is taken out before it is kept. */
const clean = (html: string) =>
  sanitizeHtml(html, {
    allowedTags: ['p', 'br', 'strong', 'em', 's', 'u', 'ul', 'ol', 'li', 'blockquote', 'h3', 'code', 'a', 'span'],
    allowedAttributes: { a: ['href'], span: ['data-type', 'data-id', 'data-label'] },
    allowedSchemes: ['https', 'http', 'mailto'],
    nestingLimit: 40,
    transformTags: { a: sanitizeHtml.simpleTransform('a', { rel: 'noopener nofollow', target: '_blank' }) },
  })
/** The words of a note as they are read; what stands for a sign in HTML is the sign again. */
const plainOf = (html: string) =>
  sanitizeHtml(html.replace(/<\/(p|li|h3|blockquote)>/g, ' '), { allowedTags: [], allowedAttributes: {} })
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&amp;', '&') // prettier-ignore
    .replace(/\s+/g, ' ')
    .trim()
/** Those mentioned in a note, read by the same parser that cleans it. */
function mentionedIn(html: string): number[] {
  const ids = new Set<number>()
  const note = (tagName: string, attribs: Record<string, string>) => {
    const id = attribs['data-type'] === 'mention' ? Number(attribs['data-id']) : 0
    if (Number.isSafeInteger(id) && id > 0) ids.add(id)
    return { tagName, attribs }
  }
  sanitizeHtml(html, { allowedTags: ['span'], allowedAttributes: {}, nestingLimit: 40, transformTags: { span: note } })
  if (ids.size > 40) throw fieldFault('html', 'Mention at most 40 people in one note')
  return [...ids]
}

const shown = (ctx: Ctx) => (n: NoteRow) => ({
  ...n,
  at: isoOf(n.at),
  changedAt: n.changedAt && isoOf(n.changedAt),
  paper: n.paperId ? { id: n.paperId, name: n.paper ?? '' } : null,
  mine: n.authorId === ctx.actor.id,
})

export async function notesOf(ctx: Ctx, f: { matterId?: number | undefined; contactId?: number | undefined; page: number; size: number }) {
  const m = ctx.db.manager
  if (f.matterId) await requireMatter(m, ctx, f.matterId)
  else if (f.contactId) await requireContact(m, ctx, f.contactId)
  else throw fieldFault('matterId', 'Say of which matter or contact')
  const where = `WHERE ${f.matterId ? `n.matter_id = ${Number(f.matterId)}` : `n.contact_id = ${Number(f.contactId)}`} AND n.topic_id IS NULL AND n.deleted_at IS NULL AND ${noteScope(ctx)}`
  const total = await countNotes(m, where)
  const list = await noteRows(m, ctx, where, f)
  return { rows: list.map(shown(ctx)), total: total!.n }
}

async function writeMentions(m: EntityManager, ctx: Ctx, noteId: number, html: string, matterId: number | null, place: string) {
  const wanted = mentionedIn(html)
  if (!wanted.length) return
  const open = new Set((await mentionable(ctx, { matterId: matterId ?? undefined, q: '' }).then((x) => x)).map((u) => u.id))
  // The list to choose from is short; who is named beyond it is looked up one by one.
  for (const userId of wanted) {
    if (userId === ctx.actor.id) continue
    const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: userId, active: true } })
    if (!who) throw fieldFault('html', 'Someone mentioned does not work here')
    if (!open.has(userId) && !(await mentionable(ctx, { matterId: matterId ?? undefined, q: who.name })).some((u) => u.id === userId))
      throw fieldFault('html', `${who.name} cannot see this, and so cannot be mentioned here`)
    const fresh = await mention(m, noteId, userId)
    if (fresh)
      await sendMail(m, ctx, {
        key: `mention ${noteId} ${userId}`,
        to: userId,
        subject: `${ctx.actor.name} mentioned you on ${place}`,
        body: plainOf(html),
        matterId,
      })
  }
}

interface NoteIn {
  matterId: number | null
  contactId: number | null
  topicId: number | null
  paperId: number | null
  html: string
}

async function insertNote(m: EntityManager, ctx: Ctx, input: NoteIn, place: string): Promise<number> {
  const html = clean(input.html)
  const plain = plainOf(html)
  if (!plain) throw fieldFault('html', 'Write something')
  const now = instant(ctx.clock.now())
  const madeId = await insertRow(m, Note, {
    matterId: input.matterId,
    contactId: input.contactId,
    topicId: input.topicId,
    paperId: input.paperId,
    html,
    plain: plain.slice(0, 60_000),
    authorId: ctx.actor.id,
    createdAt: now,
  })
  await writeMentions(m, ctx, madeId, html, input.matterId, place)
  if (input.topicId) await m.update(Topic, { id: input.topicId }, { lastAt: now })
  await audit(m, ctx, {
    kind: 'said',
    text: `${input.topicId ? 'Said' : 'Note'}${place && input.topicId ? ` on ${place}` : ''}: ${plain.slice(0, 160)}`,
    matterId: input.matterId,
    subject: 'note',
    subjectId: madeId,
  })
  return madeId
}

export function makeNote(ctx: Ctx, input: NoteIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (input.topicId) {
      const topic = await requireTopic(m, ctx, input.topicId)
      if (input.paperId) await paperHere(m, ctx, input.paperId, topic.matterId)
      const id = await insertNote(m, ctx, { ...input, matterId: topic.matterId, contactId: null }, topic.title)
      await touchMatter(m, ctx, topic.matterId)
      return { id }
    }
    if (input.matterId) {
      const matter = await requireMatter(m, ctx, input.matterId)
      if (input.paperId) await paperHere(m, ctx, input.paperId, input.matterId)
      const id = await insertNote(m, ctx, { ...input, contactId: null }, matter.shortName)
      await touchMatter(m, ctx, input.matterId)
      return { id }
    }
    if (!input.contactId) throw fieldFault('matterId', 'Say on which matter or contact')
    const c = await requireContact(m, ctx, input.contactId)
    return { id: await insertNote(m, ctx, { ...input, matterId: null, paperId: null }, c.privateTo ? 'a contact' : c.name) }
  })
}

async function paperHere(m: EntityManager, ctx: Ctx, paperId: number, matterId: number) {
  if (!(await paperOn(m, ctx, paperId, matterId))) throw fieldFault('paperId', 'Choose a paper of this matter')
}

async function ownNote(m: EntityManager, ctx: Ctx, id: number) {
  const n = await noteToChange(m, ctx, id)
  if (!n || n.authorId !== ctx.actor.id) throw notFound('note of yours')
  return n
}

export function changeNote(ctx: Ctx, id: number, html: string): Promise<void> {
  return work(ctx, async (m) => {
    const n = await ownNote(m, ctx, id)
    const kept = clean(html)
    await m.update(Note, { id }, { html: kept, plain: plainOf(kept).slice(0, 60_000), changedAt: instant(ctx.clock.now()) })
    await writeMentions(m, ctx, id, kept, n.matterId, n.place)
    await audit(m, ctx, {
      kind: 'said',
      text: 'Note changed',
      matterId: n.matterId,
      subject: 'note',
      subjectId: id,
      detail: { was: { text: n.plain.slice(0, 1000) }, became: { text: plainOf(kept).slice(0, 1000) } },
    })
  })
}

export function removeNote(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const n = await ownNote(m, ctx, id)
    await m.update(Note, { id }, { deletedAt: instant(ctx.clock.now()) })
    await m.delete(Mention, { noteId: id })
    await audit(m, ctx, {
      kind: 'said',
      text: 'Note taken out',
      matterId: n.matterId,
      subject: 'note',
      subjectId: id,
      detail: { was: { text: n.plain.slice(0, 1000) }, became: { text: '' } },
    })
  })
}

async function requireTopic(m: EntityManager, ctx: Ctx, id: number) {
  const t = await topicOpenTo(m, ctx, id)
  if (!t) throw notFound('topic')
  return t
}

/** How many messages of a topic are read at once. */
const mostMessages = 200
/** The latest messages of a topic, or the latest before one of them, as they were said. */
export async function topic(ctx: Ctx, id: number, before?: number) {
  const m = ctx.db.manager
  const t = await requireTopic(m, ctx, id)
  const found = await messagesBefore(m, ctx, id, before ?? 0, mostMessages + 1)
  return { ...t, messages: found.slice(0, mostMessages).reverse().map(shown(ctx)), earlier: found.length > mostMessages }
}

export function makeTopic(ctx: Ctx, matterId: number, title: string, html: string): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId)
    const now = instant(ctx.clock.now())
    const madeId = await insertRow(m, Topic, { matterId, title, createdBy: ctx.actor.id, createdAt: now, lastAt: now })
    await insertNote(m, ctx, { matterId, contactId: null, topicId: madeId, paperId: null, html }, title)
    await touchMatter(m, ctx, matterId)
    return { id: madeId }
  })
}

export const mentionSeen = (ctx: Ctx, noteId: number) =>
  work(ctx, (m) => touched(m.update(Mention, { noteId, userId: ctx.actor.id, seenAt: IsNull() }, { seenAt: instant(ctx.clock.now()) })))

export const choose = (ctx: Ctx, list: readonly { kind: NoticeKind; told: boolean }[]) =>
  work(ctx, async (m) => {
    for (const c of list) await m.upsert(NoticeChoice, { userId: ctx.actor.id, kind: c.kind, told: c.told }, ['userId', 'kind'])
  })

export const noticesSeen = (ctx: Ctx, upTo: number) => work(ctx, (m) => seenUpTo(m, ctx, upTo))
