import { noticeKinds } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { contactScope, matterScope, requireMatter } from '../platform/access'
import { actsOpenTo } from '../platform/acts'
import { type Ctx, instant, isoOf } from '../platform/context'
import { literal, row, rows, run } from '../platform/database'
import { NoticeChoice, NoticeSeen } from './entities'

/** Whether a note is open to the reader: through its matter's file, or its contact. */
export const noteScope = (ctx: Ctx) =>
  `((n.matter_id IS NOT NULL AND ${matterScope(ctx.actor)}) OR (n.contact_id IS NOT NULL AND ${contactScope(ctx.actor)}))`

export const from = `FROM note n JOIN user_account u ON u.id = n.author_id LEFT JOIN matter m ON m.id = n.matter_id LEFT JOIN contact c ON c.id = n.contact_id
  LEFT JOIN paper p ON p.id = n.paper_id`

/** The columns of a note; its paper is named only to those who may see papers. */
export const select = (
  ctx: Ctx,
) => `SELECT n.id, n.html, n.author_id AS authorId, u.name AS author, u.initials, n.created_at AS at, n.changed_at AS changedAt,
  IF(p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')}, p.id, NULL) AS paperId, p.name AS paper`

/** How many notes a list has. */
export const countNotes = (m: EntityManager, where: string) => row<{ n: number }>(m, `SELECT COUNT(*) AS n ${from} ${where}`)

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

/** Names somebody in a note, once. */
export const mention = (m: EntityManager, noteId: number, userId: number) =>
  run(m, `INSERT IGNORE INTO mention (note_id, user_id) VALUES (?, ?)`, [noteId, userId])

/** Whether a paper lies on a matter and is open to whoever asks. */
export const paperOn = (m: EntityManager, ctx: Ctx, paperId: number, matterId: number) =>
  row(
    m,
    `SELECT 1 FROM paper p JOIN matter m ON m.id = p.matter_id WHERE p.id = ? AND p.matter_id = ? AND p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')}`,
    [paperId, matterId],
  )

/** A note with where it stands, where it is open to whoever asks. */
export const noteToChange = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ matterId: number | null; contactId: number | null; authorId: number; plain: string; place: string }>(
    m,
    `SELECT n.matter_id AS matterId, n.contact_id AS contactId, n.author_id AS authorId, n.plain, COALESCE(m.short_name, 'a contact') AS place ${from} WHERE n.id = ? AND n.deleted_at IS NULL AND ${noteScope(ctx)} FOR UPDATE`,
    [id],
  )

/** A topic, where its matter is open to whoever asks. */
export const topicOpenTo = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ id: number; title: string; matterId: number }>(
    m,
    `SELECT t.id, t.title, t.matter_id AS matterId FROM topic t JOIN matter m ON m.id = t.matter_id WHERE t.id = ? AND ${matterScope(ctx.actor)}`,
    [id],
  )

/** Topics of a matter, the one written in last first. */
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

export type NoticeKind = (typeof noticeKinds)[number]

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

/** Of which kinds of acts a person wants to be told: as chosen, else as usual. */
export async function choices(ctx: Ctx) {
  const own = new Map(
    (await ctx.db.manager.find(NoticeChoice, { select: { kind: true, told: true, userId: true }, where: { userId: ctx.actor.id } })).map(
      (c) => [c.kind, Boolean(c.told)],
    ),
  )
  return noticeKinds.map((kind) => ({ kind, told: own.get(kind) ?? usual[kind] }))
}

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

/** Notices are seen up to here, and never less far than before. */
export const seenUpTo = (m: EntityManager, ctx: Ctx, upTo: number) =>
  run(m, `INSERT INTO notice_seen (user_id, up_to) VALUES (?, ?) ON DUPLICATE KEY UPDATE up_to = GREATEST(up_to, VALUES(up_to))`, [
    ctx.actor.id,
    upTo,
  ])

/** Named views of a list: one's own, and those that others share. */
export async function viewsOf(ctx: Ctx, list: string) {
  const found = await rows<{ id: number; name: string; state: string; shared: number; own: number; by: string }>(
    ctx.db.manager,
    `SELECT v.id, v.name, v.state, v.shared, v.user_id = ? AS own, u.name AS \`by\` FROM saved_view v JOIN user_account u ON u.id = v.user_id WHERE v.list = ? AND (v.user_id = ? OR v.shared) ORDER BY v.user_id <> ?, v.name LIMIT 300`,
    [ctx.actor.id, list, ctx.actor.id, ctx.actor.id],
  )
  return found.map((v) => ({ ...v, shared: Boolean(v.shared), own: Boolean(v.own) }))
}

/** A view by its name; the same name is written over. */
export const keepView = (m: EntityManager, ctx: Ctx, list: string, name: string, state: string, shared: boolean) =>
  m.query(
    `INSERT INTO saved_view (user_id, list, name, state, shared) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE state = VALUES(state), shared = VALUES(shared), id = LAST_INSERT_ID(id)`,
    [ctx.actor.id, list, name, state, shared],
  )

/** A note with its author and its paper. */
export interface NoteRow {
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

/** A page of notes, the last first. */
export const noteRows = (m: EntityManager, ctx: Ctx, where: string, f: { page: number; size: number }) =>
  rows<NoteRow>(
    m,
    `${select(ctx)} ${from} ${where} ORDER BY n.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
  )

/** The latest messages of a topic, or the latest before one of them (0 for none). */
export const messagesBefore = (m: EntityManager, ctx: Ctx, topicId: number, before: number, most: number) =>
  rows<NoteRow>(
    m,
    `${select(ctx)} ${from} WHERE n.topic_id = ? AND (? = 0 OR n.id < ?) AND n.deleted_at IS NULL ORDER BY n.id DESC LIMIT ${Number(most)}`,
    [topicId, before, before],
  )
