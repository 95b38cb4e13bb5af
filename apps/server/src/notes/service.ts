import { IsNull, type EntityManager } from 'typeorm'
import sanitizeHtml from 'sanitize-html'
import { noticeKinds } from '@heron/contract'
import { actsOpenTo } from '../platform/acts'
import { requireContact } from '../people'
import { contactScope, matterScope, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, literal, row, rows, run, touched, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { UserAccount } from '../platform/shared-entities'
import { Mention, Note, NoticeChoice, NoticeSeen, Topic } from './entities'

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

/** Whether a note is open to the reader: through its matter's file, or its contact. */
const noteScope = (ctx: Ctx) =>
  `((n.matter_id IS NOT NULL AND ${matterScope(ctx.actor)}) OR (n.contact_id IS NOT NULL AND ${contactScope(ctx.actor)}))`
const from = `FROM note n JOIN user_account u ON u.id = n.author_id LEFT JOIN matter m ON m.id = n.matter_id LEFT JOIN contact c ON c.id = n.contact_id
  LEFT JOIN paper p ON p.id = n.paper_id`

interface NoteRow {
  id: number
  html: string
  authorId: number
  author: string
  initials: string
  at: string
  changedAt: string | null
  paperId: number | null
  paper: string | null
}
const select = (
  ctx: Ctx,
) => `SELECT n.id, n.html, n.author_id AS authorId, u.name AS author, u.initials, n.created_at AS at, n.changed_at AS changedAt,
  IF(p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')}, p.id, NULL) AS paperId, p.name AS paper`
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
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n ${from} ${where}`)
  const list = await rows<NoteRow>(
    m,
    `${select(ctx)} ${from} ${where} ORDER BY n.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
  )
  return { rows: list.map(shown(ctx)), total: total!.n }
}

/** Those who may see the matter, or work here where it is a contact: only they can be mentioned. */
export async function mentionable(ctx: Ctx, f: { matterId?: number | undefined; q: string }) {
  const m = ctx.db.manager
  if (f.matterId) await requireMatter(m, ctx, f.matterId)
  const open = f.matterId
    ? `AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = ${Number(f.matterId)} AND s.user_id = u.id)
       AND EXISTS (SELECT 1 FROM matter m WHERE m.id = ${Number(f.matterId)} AND (u.role IN ('docket clerk', 'bookkeeper') OR (m.staff_file > 0 AND u.role <> 'outside lawyer')
             OR EXISTS (SELECT 1 FROM matter_team t WHERE t.matter_id = m.id AND t.user_id = u.id AND t.at_file > 0)))`
    : ''
  return rows<{ id: number; name: string }>(
    m,
    `SELECT u.id, u.name FROM user_account u WHERE u.active AND u.id <> ? AND u.name LIKE ? ${open} ORDER BY u.name LIMIT 8`,
    [ctx.actor.id, `%${literal(f.q)}%`],
  )
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
    const fresh = await run(m, `INSERT IGNORE INTO mention (note_id, user_id) VALUES (?, ?)`, [noteId, userId])
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
  if (
    !(await row(
      m,
      `SELECT 1 FROM paper p JOIN matter m ON m.id = p.matter_id WHERE p.id = ? AND p.matter_id = ? AND p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')}`,
      [paperId, matterId],
    ))
  )
    throw fieldFault('paperId', 'Choose a paper of this matter')
}

async function ownNote(m: EntityManager, ctx: Ctx, id: number) {
  const n = await row<{ matterId: number | null; contactId: number | null; authorId: number; plain: string; place: string }>(
    m,
    `SELECT n.matter_id AS matterId, n.contact_id AS contactId, n.author_id AS authorId, n.plain, COALESCE(m.short_name, 'a contact') AS place ${from} WHERE n.id = ? AND n.deleted_at IS NULL AND ${noteScope(ctx)} FOR UPDATE`,
    [id],
  )
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
  const t = await row<{ id: number; title: string; matterId: number }>(
    m,
    `SELECT t.id, t.title, t.matter_id AS matterId FROM topic t JOIN matter m ON m.id = t.matter_id WHERE t.id = ? AND ${matterScope(ctx.actor)}`,
    [id],
  )
  if (!t) throw notFound('topic')
  return t
}

export async function topicsOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  await requireMatter(m, ctx, matterId)
  const list = await rows<{ id: number; title: string; messages: number; lastAt: string; lastBy: string }>(
    m,
    `SELECT t.id, t.title, COUNT(n.id) AS messages, t.last_at AS lastAt, COALESCE((SELECT u.name FROM note x JOIN user_account u ON u.id = x.author_id WHERE x.topic_id = t.id AND x.deleted_at IS NULL ORDER BY x.id DESC LIMIT 1), '') AS lastBy
       FROM topic t LEFT JOIN note n ON n.topic_id = t.id AND n.deleted_at IS NULL WHERE t.matter_id = ? GROUP BY t.id ORDER BY t.last_at DESC LIMIT 200`,
    [matterId],
  )
  return list.map((t) => ({ ...t, lastAt: isoOf(t.lastAt) }))
}

/** How many messages of a topic are read at once. */
const mostMessages = 200
/** The latest messages of a topic, or the latest before one of them, as they were said. */
export async function topic(ctx: Ctx, id: number, before?: number) {
  const m = ctx.db.manager
  const t = await requireTopic(m, ctx, id)
  const found = await rows<NoteRow>(
    m,
    `${select(ctx)} ${from} WHERE n.topic_id = ? AND (? = 0 OR n.id < ?) AND n.deleted_at IS NULL ORDER BY n.id DESC LIMIT ${mostMessages + 1}`,
    [id, before ?? 0, before ?? 0],
  )
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

/** Where the actor was mentioned and has not looked, as far as it is still open to the actor. */
export async function mentions(ctx: Ctx) {
  const list = await rows<{
    noteId: number
    who: string
    at: string
    text: string
    matterId: number | null
    contactId: number | null
    topicId: number | null
    place: string
  }>(
    ctx.db.manager,
    `SELECT n.id AS noteId, u.name AS who, n.created_at AS at, LEFT(n.plain, 300) AS text, n.matter_id AS matterId, n.contact_id AS contactId, n.topic_id AS topicId,
            COALESCE(CONCAT_WS(', ', m.short_name, t.title), c.name) AS place ${from} JOIN mention x ON x.note_id = n.id LEFT JOIN topic t ON t.id = n.topic_id
      WHERE x.user_id = ? AND x.seen_at IS NULL AND n.deleted_at IS NULL AND ${noteScope(ctx)} ORDER BY n.id DESC LIMIT 50`,
    [ctx.actor.id],
  )
  return list.map((x) => ({ ...x, at: isoOf(x.at) }))
}

export const mentionSeen = (ctx: Ctx, noteId: number) =>
  work(ctx, (m) => touched(m.update(Mention, { noteId, userId: ctx.actor.id, seenAt: IsNull() }, { seenAt: instant(ctx.clock.now()) })))

type NoticeKind = (typeof noticeKinds)[number]
/** Kinds of acts in the log by the kinds that people choose among. */
const kindsOf: Record<NoticeKind, readonly string[]> = {
  made: ['opened', 'task', 'docketed', 'pre-bill', 'recorded', 'checked'],
  changed: ['changed', 'stage', 'team', 'access', 'moved', 'marked', 'closed', 'reopened', 'decided', 'approved', 'reversed'],
  filed: ['filed'],
  paid: ['paid', 'received', 'billed'],
  said: ['said'],
}
/** Until chosen otherwise: what was filed, paid and said, and what changed; not every task and entry. */
const usual: Record<NoticeKind, boolean> = { made: false, changed: true, filed: true, paid: true, said: true }

export async function choices(ctx: Ctx) {
  const own = new Map(
    (await ctx.db.manager.find(NoticeChoice, { select: { kind: true, told: true, userId: true }, where: { userId: ctx.actor.id } })).map(
      (c) => [c.kind, Boolean(c.told)],
    ),
  )
  return noticeKinds.map((kind) => ({ kind, told: own.get(kind) ?? usual[kind] }))
}

export const choose = (ctx: Ctx, list: readonly { kind: NoticeKind; told: boolean }[]) =>
  work(ctx, async (m) => {
    for (const c of list) await m.upsert(NoticeChoice, { userId: ctx.actor.id, kind: c.kind, told: c.told }, ['userId', 'kind'])
  })

/** What others did on matters one is on or follows since one last looked, of the kinds one chose. */
export async function notices(ctx: Ctx) {
  const m = ctx.db.manager
  const kinds = (await choices(ctx)).filter((c) => c.told).flatMap((c) => kindsOf[c.kind])
  const seen = (await m.findOne(NoticeSeen, { select: { upTo: true, userId: true }, where: { userId: ctx.actor.id } }))?.upTo ?? 0
  const since = instant(new Date(ctx.clock.now().getTime() - 7 * 86_400_000))
  const newest = await row<{ id: number | null }>(m, `SELECT MAX(id) AS id FROM audit_log`)
  const list = kinds.length
    ? await rows<{ id: number; at: string; who: string; kind: string; text: string; matterId: number; matter: string }>(
        m,
        `SELECT l.id, l.at, u.name AS who, l.kind, l.text, m.id AS matterId, m.short_name AS matter FROM audit_log l JOIN matter m ON m.id = l.matter_id JOIN user_account u ON u.id = l.user_id
          WHERE l.id > ? AND l.at >= ? AND l.user_id <> ? AND l.kind IN (?) AND ${matterScope(ctx.actor)} AND ${actsOpenTo(ctx)}
            AND (EXISTS (SELECT 1 FROM matter_team t WHERE t.matter_id = m.id AND t.user_id = ?) OR EXISTS (SELECT 1 FROM matter_follow f WHERE f.matter_id = m.id AND f.user_id = ?))
          ORDER BY l.id DESC LIMIT 60`,
        [seen, since, ctx.actor.id, kinds, ctx.actor.id, ctx.actor.id],
      )
    : []
  return { upTo: newest?.id ?? 0, rows: list.map((l) => ({ ...l, at: isoOf(l.at) })) }
}

export const noticesSeen = (ctx: Ctx, upTo: number) =>
  work(ctx, (m) =>
    run(m, `INSERT INTO notice_seen (user_id, up_to) VALUES (?, ?) ON DUPLICATE KEY UPDATE up_to = GREATEST(up_to, VALUES(up_to))`, [
      ctx.actor.id,
      upTo,
    ]),
  )
